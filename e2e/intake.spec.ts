import { mkdirSync, mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import sharp from "sharp";
import { encodingByName } from "../src/core/colour/encodings";
import { readExr } from "../src/formats/exr/read";
import { listen, takeIn } from "./bench-page";

const found = (page: Page) => page.getByRole("region", { name: "What was found" });
const SIZE = { width: 64, height: 36 };

/** A still's pixels: one grey that says which it is, but for the last, so that no two are the same content. */
function greyOf(i: number): Buffer {
  const pixels = Buffer.alloc(SIZE.width * SIZE.height * 3, 40 + 20 * i);
  pixels.writeDoubleBE(Date.now() + Math.random(), pixels.length - 8);
  return pixels;
}

/** Stills of one grey each. */
async function stills(folder: string, names: string[]): Promise<string[]> {
  mkdirSync(folder, { recursive: true });
  const paths = names.map((name) => join(folder, name));
  await Promise.all(
    paths.map((path, i) =>
      sharp(greyOf(i), { raw: { ...SIZE, channels: 3 } })
        .png()
        .toFile(path),
    ),
  );
  return paths;
}

/** Drops files and folders of this machine on the page, as a hand does. */
async function dropOn(page: Page, files: string[]): Promise<void> {
  const session = await page.context().newCDPSession(page);
  const data = { items: [], files, dragOperationsMask: 1 };
  for (const type of ["dragEnter", "dragOver", "drop"] as const)
    await session.send("Input.dispatchDragEvent", { type, x: 500, y: 400, data });
}

test("a folder is dropped on the page, and what is in it, and in folders of it, is found by its path", async ({
  page,
}) => {
  const root = join(mkdtempSync(join(tmpdir(), "halo-folder-")), "roll");
  await stills(root, ["deck.0001.png", "deck.0002.png"]);
  await stills(join(root, "second"), ["door.png"]);
  await page.goto("/footage");
  await expect(page.getByRole("list", { name: "Shots" })).toBeVisible();
  await dropOn(page, [root]);
  await expect(found(page).getByRole("row").filter({ hasText: "deck.%04d.png" })).toContainText("2 frames, 1 to 2");
  await expect(found(page).getByRole("row").filter({ hasText: "door.png" })).toContainText("roll/second/");
  await page.getByRole("button", { name: "Take in 2 shots" }).click();
  await expect(page.getByText(/taken in$/).first()).toBeVisible();
});

test("what was sent before a broken connection and before a reload is not sent again", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "halo-again-"));
  const files = await stills(folder, ["left.png", "right.png"]);
  /** How much was left to send of each file, bytes, in order. */
  const sent: [string, number][] = [];
  let broken = 0;
  await page.route("**/api/intake/*/files/**", (route) => {
    const { pathname, searchParams } = new URL(route.request().url());
    const name = pathname.split("/").at(-1)!;
    if (name === "right.png" && broken++ === 0) return route.abort("connectionreset");
    sent.push([name, Number(searchParams.get("size")) - Number(searchParams.get("at"))]);
    return route.continue();
  });
  const choose = async () => {
    await page.getByLabel("Files to take in").setInputFiles(files);
    await expect(found(page).getByRole("row").filter({ hasText: "right.png" })).toBeVisible();
  };
  await page.goto("/footage");
  await choose();
  // The one that broke off was tried again, the other was not.
  expect(sent.map(([name]) => name).sort()).toEqual(["left.png", "right.png"]);
  expect(Math.min(...sent.map(([, bytes]) => bytes))).toBeGreaterThan(0);
  await page.reload();
  await choose();
  expect(sent.slice(2).map(([, bytes]) => bytes)).toEqual([0, 0]);
  await page.getByRole("button", { name: "Take in 2 shots" }).click();
  await expect(page.getByText(/taken in$/).first()).toBeVisible();
});

test("footage read by one encoding is handed on by another: light by its closed form, and code for code", async ({
  page,
}) => {
  const said = listen(page);
  const folder = mkdtempSync(join(tmpdir(), "halo-codes-"));
  const name = `flat-${Date.now().toString(36)}x`;
  await takeIn(page, await stills(folder, [`${name}.png`]));
  await page.getByRole("button", { name: `Select ${name}` }).click();
  const saved = page.waitForResponse((answer) => answer.request().method() === "PATCH" && answer.ok());
  await page
    .getByRole("complementary", { name: "Selected shots" })
    .getByLabel("Encoding", { exact: true })
    .selectOption("acescct");
  await saved;
  const render = async (format: string, encoding: string): Promise<string> => {
    await page.goto("/renders");
    await page.getByLabel("Shot").selectOption({ label: name });
    await page.getByLabel("Format").selectOption(format);
    await page.getByLabel("Encoded as").selectOption(encoding);
    await page.getByRole("button", { name: "Queue the render" }).click();
    const [kind] = format.split(",");
    const row = page.getByRole("row").filter({ hasText: name }).filter({ hasText: kind }).first();
    await expect(row).toContainText("Done", { timeout: 60_000 });
    const out = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
    return join(
      out,
      readdirSync(out).find((file) => /\.(exr|png)$/.test(file))!,
    );
  };
  const light = await render("EXR half, ZIP", "linear-ap1");
  const { data } = (await readExr("flat.exr", readFileSync(light))).pixels;
  const expected = encodingByName("acescct").transfer.toLight(40 / 255);
  expect(Math.abs(Number(data[0]) / expected - 1)).toBeLessThan(1e-3);
  const codes = await render("PNG 8 bits", "acescct");
  const [made, was] = await Promise.all(
    [codes, join(folder, `${name}.png`)].map((path) => sharp(path).removeAlpha().raw().toBuffer()),
  );
  expect(made!.equals(was!)).toBe(true);
  expect(said).toEqual([]);
});
