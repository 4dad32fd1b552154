import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Locator, type Page } from "@playwright/test";
import sharp from "sharp";
import { writeDpx } from "../src/formats/dpx/dpx";
import { writeExr } from "../src/formats/exr/write";
import { test } from "./restored-test";
import { lightOf, listen, picture, pixels, settled, takeIn } from "./bench-page";

const found = (page: Page) => page.getByRole("region", { name: "What was found" });
const card = (page: Page, name: string) =>
  page
    .getByRole("list", { name: "Shots" })
    .getByRole("listitem")
    .filter({ has: page.getByRole("link", { name: `Open ${name} on the Bench` }) });
const pngOf = (data: Buffer, width: number, height: number, path: string) =>
  sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(path);

async function madeUpSequence(name = "kiosk"): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), "halo-drop-"));
  for (let frame = 1; frame <= 3; frame++)
    await pngOf(
      Buffer.from(Array.from({ length: 96 * 54 * 3 }, (_, i) => (i * 7 + frame * 31 + Math.floor(i / 288) * 5) % 256)),
      96,
      54,
      join(folder, `${name}.000${frame}.png`),
    );
  return folder;
}

test("a folder with three sequences, a gap, a damaged frame and a text file is taken in as stated", async ({
  page,
}) => {
  const said = listen(page);
  const root = mkdtempSync(join(tmpdir(), "halo-roll-"));
  mkdirSync(join(root, "b"));
  const light = (frame: number) =>
    Float32Array.from({ length: 64 * 36 * 4 }, (_, i) => ((i & 3) === 3 ? 1 : ((i >> 2) % 64) / 40 + frame / 10));
  for (const frame of [1, 2, 3, 5, 6])
    writeFileSync(
      join(root, `plate.000${frame}.dpx`),
      writeDpx({ width: 64, height: 36, data: light(frame) }, { depth: "10", framesPerSecond: 25 }),
    );
  for (const frame of [1, 2, 3]) {
    writeFileSync(
      join(root, "b", `hall.000${frame}.exr`),
      await writeExr(
        { width: 64, height: 36, data: light(frame), z: new Float32Array(64 * 36).fill(4) },
        { depth: "half" },
      ),
    );
    await pngOf(
      Buffer.from(Array.from({ length: 48 * 27 * 3 }, (_, i) => (i * 5 + frame * 40) % 256)),
      48,
      27,
      join(root, "b", `stall.000${frame}.png`),
    );
  }
  const whole = readFileSync(join(root, "b", "stall.0001.png"));
  writeFileSync(join(root, "b", "stall.0004.png"), whole.subarray(0, 300));
  writeFileSync(join(root, "remarks.txt"), "not a picture");
  const files = readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath ?? entry.path, entry.name));

  await page.goto("/footage");
  await page.getByLabel("Files to take in").setInputFiles(files);
  const row = (pattern: string) => found(page).getByRole("row").filter({ hasText: pattern });
  await expect(row("plate.%04d.dpx")).toContainText("5 frames, 1 to 6");
  await expect(row("plate.%04d.dpx")).toContainText("missing: 4");
  await expect(row("plate.%04d.dpx")).toContainText("64 × 36, DPX, 10 bits");
  await expect(row("plate.%04d.dpx")).toContainText("25 fps");
  await expect(row("hall.%04d.exr")).toContainText("B G R Z");
  await expect(row("hall.%04d.exr")).toContainText("names AP1 primaries");
  await expect(row("stall.%04d.png")).toContainText("3 frames, 1 to 3");
  const refused = found(page).getByRole("alert");
  await expect(refused).toContainText("stall.0004.png: cannot be read");
  await expect(refused).toContainText("remarks.txt: is of a kind that is not read");
  await page.getByLabel("Missing frames of plate.%04d.dpx").selectOption("black");
  await page.getByRole("button", { name: "Take in 3 shots" }).click();
  await expect(card(page, "plate")).toContainText("6 frames, 1 to 6");
  await expect(card(page, "hall")).toContainText("3 frames, 1 to 3");
  await expect(card(page, "stall")).toContainText("PNG, 8 bits");
  // The missing frame is black.
  const shots = (await (await page.request.get("/api/shots")).json()) as { id: string; name: string }[];
  const plate = shots.find(({ name }) => name === "plate")!;
  const frame = async (number: number) => (await lightOf(page, plate.id, number)).filter((_, i) => (i & 3) !== 3);
  expect(Math.max(...(await frame(4)))).toBeLessThan(0.001);
  expect(Math.max(...(await frame(5)))).toBeGreaterThan(0.1);
  expect(said.filter((text) => !/422/.test(text))).toEqual([]);
});

test("a PNG sequence is worked on and rendered, and comes back code for code", async ({ page }) => {
  const said = listen(page);
  const folder = await madeUpSequence();
  await takeIn(
    page,
    readdirSync(folder).map((name) => join(folder, name)),
  );
  await page.getByRole("link", { name: "Open kiosk on the Bench" }).click();
  await settled(page);
  const source = await sharp(join(folder, "kiosk.0002.png")).ensureAlpha().raw().toBuffer();
  const shown = await picture(page).evaluate((node: HTMLCanvasElement) => [
    ...node.getContext("2d")!.getImageData(0, 0, node.width, node.height).data,
  ]);
  expect(shown).toEqual([...source]);

  await page.getByRole("link", { name: "Renders" }).click();
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "PNG 8 bits" }).first();
  await expect(row).toContainText("Done", { timeout: 90_000 });
  await expect(row).toContainText("3 of 3 frames");
  const out = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  for (const name of readdirSync(out).filter((entry) => entry.endsWith(".png"))) {
    const [made, was] = await Promise.all(
      [join(out, name), join(folder, name.replace(/^.*?\./, "kiosk."))].map((path) =>
        sharp(path).removeAlpha().raw().toBuffer(),
      ),
    );
    expect(made!.equals(was!)).toBe(true);
  }
  expect(said).toEqual([]);
});

test("a movie made of a render is taken in again, and its frames are the render's", async ({ page }) => {
  const said = listen(page);
  // Smooth pictures: a movie's halved chroma cannot hold anything else.
  const folder = mkdtempSync(join(tmpdir(), "halo-movie-"));
  const level = (x: number, y: number, c: number, frame: number) =>
    Math.round(70 + 60 * Math.sin(x / 23 + c * 1.3 + frame * 0.4) * Math.cos(y / 19 + c) + 25 * c);
  for (let frame = 1; frame <= 8; frame++)
    await pngOf(
      Buffer.from(
        Array.from({ length: 160 * 90 * 3 }, (_, i) =>
          level(Math.floor(i / 3) % 160, Math.floor(i / 480), i % 3, frame),
        ),
      ),
      160,
      90,
      join(folder, `reel.000${frame}.png`),
    );
  await takeIn(
    page,
    readdirSync(folder).map((name) => join(folder, name)),
  );
  await page.getByRole("button", { name: "Select reel" }).click();
  await page.getByLabel("Frame rate").fill("25");
  await page.getByLabel("Frame rate").press("Enter");
  await page.goto("/renders");
  await page.getByLabel("Shot").selectOption({ label: "reel" });
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "8 of 8 frames" }).first();
  await expect(row).toContainText("Done", { timeout: 90_000 });
  await row.getByLabel(/^Make a movie/).selectOption("WebM, VP9");
  const link = row.getByRole("link", { name: /\.webm$/ });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
  const movie = join(folder, "back.webm");
  await download.saveAs(movie);

  // As where the server has no ffmpeg: this browser decodes it.
  await page.route("/api/formats", async (route) => {
    const answer = (await (await route.fetch()).json()) as object;
    await route.fulfill({ json: { ...answer, movies: false } });
  });
  await page.goto("/footage");
  await page.getByLabel("Files to take in").setInputFiles([movie]);
  await expect(found(page)).toContainText("back.webm: 160 × 90, 8 frames at 25 a second, vp9");
  await expect(found(page).getByRole("row").filter({ hasText: "back.%04d.y4m.gz" })).toContainText("8 frames, 1 to 8");
  await expect(found(page).getByRole("row").filter({ hasText: "back.%04d.y4m.gz" })).toContainText("sRGB");
  await page.getByRole("button", { name: "Take in one shot" }).click();
  await expect(card(page, "back")).toContainText("8 frames");
  const shots = (await (await page.request.get("/api/shots")).json()) as { id: string; name: string }[];
  const of = (name: string) => shots.find((shot) => shot.name === name)!.id;
  const srgb = (value: number) =>
    255 * (value <= 0.0031308 ? 12.92 * value : 1.055 * Math.max(0, value) ** (1 / 2.4) - 0.055);
  for (const frame of [1, 4, 8]) {
    const [was, is] = [await lightOf(page, of("reel"), frame), await lightOf(page, of("back"), frame)];
    const errors = Array.from(was, (value, i) => ((i & 3) === 3 ? 0 : Math.abs(srgb(value) - srgb(is[i]!))));
    expect(errors.reduce((a, b) => a + b) / errors.length).toBeLessThan(1.5);
    expect(Math.max(...errors)).toBeLessThan(14);
  }
  expect(said).toEqual([]);
});

/** Mean of the display codes of an image element. */
const brightness = (image: Locator) =>
  image.evaluate(async (node: HTMLImageElement) => {
    // Its address may change under it while it loads.
    while (!node.complete || !node.naturalWidth) await new Promise((resolve) => setTimeout(resolve, 50));
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [node.naturalWidth, node.naturalHeight];
    const context = canvas.getContext("2d")!;
    context.drawImage(node, 0, 0);
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
    let sum = 0;
    for (let i = 0; i < data.length; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
    return sum / (data.length * 0.75);
  });

test("a wrong encoding is noticed by its look and changed on three shots at once", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "halo-wrong-"));
  // Three stills in log, which nothing in the files says; display-referred is wrong, and looks flat.
  for (const name of ["one", "two", "three"])
    for (const frame of [1, 2])
      writeFileSync(
        join(folder, `${name}.000${frame}.dpx`),
        writeDpx(
          {
            width: 64,
            height: 36,
            data: Float32Array.from({ length: 64 * 36 * 4 }, (_, i) =>
              (i & 3) === 3 ? 1 : 0.1 + 0.45 * (((i >> 2) % 64) / 63),
            ),
          },
          { depth: "10", tags: { dpx: { transfer: 6, colorimetric: 6 } } },
        ),
      );
  await takeIn(
    page,
    readdirSync(folder).map((name) => join(folder, name)),
  );
  for (const name of ["one", "two", "three"])
    await page.getByRole("checkbox", { name: `Add ${name} to the selection` }).check();
  const panel = page.getByRole("complementary", { name: "Selected shots" });
  await expect(panel.getByRole("heading", { name: "3 shots" })).toBeVisible();
  await expect(panel.getByLabel("Encoding", { exact: true })).toHaveValue("rec709");
  const check = panel.getByRole("region", { name: "How it looks" });
  await expect(check.getByText(/18 % grey at 48\.9 %/)).toBeVisible();
  const before = await brightness(check.getByRole("img", { name: /as rec709$/ }));
  await panel.getByLabel("Encoding", { exact: true }).selectOption("acescct");
  await expect(check.getByText(/18 % grey at 41\.4 %/)).toBeVisible();
  await expect(check.getByRole("img", { name: "Waveform of the picture" })).toBeVisible();
  await expect
    .poll(async () => Math.abs((await brightness(check.getByRole("img", { name: /as acescct$/ }))) - before))
    .toBeGreaterThan(8);
  for (const name of ["one", "two", "three"]) await expect(card(page, name)).toContainText("ACEScct");
  await page.reload();
  for (const name of ["one", "two", "three"]) await expect(card(page, name)).toContainText("ACEScct");
});

test("the lamp room's log encoding is made by hand, and the shot looks as it was meant to", async ({ page }) => {
  await page.goto("/footage");
  await page.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
  const panel = page.getByRole("complementary", { name: "Selected shots" });
  const image = panel.getByRole("region", { name: "How it looks" }).getByRole("img").first();
  await expect(image).toHaveAttribute("alt", "Lamp room as lamp-room-log");
  const meant = await brightness(image);
  await panel.getByLabel("Encoding", { exact: true }).selectOption("srgb");
  await expect(image).toHaveAttribute("alt", "Lamp room as srgb");
  await expect.poll(async () => (await brightness(image)) - meant).toBeGreaterThan(10); // delivered flat: grey where it should be dark

  await panel.getByRole("button", { name: "Make one …" }).click();
  const maker = page.getByRole("region", { name: "Encodings of your own" });
  await maker.getByLabel("Name", { exact: true }).fill("Typed from the sheet");
  for (const [label, value] of [
    ["Base", "10"],
    ["Log-side slope", "0.232"],
    ["Log-side offset", "0.548"],
    ["Linear-side slope", "0.96"],
    ["Linear-side offset", "0.011"],
    ["Break (light)", "0.004"],
  ] as const)
    await maker.getByLabel(label).fill(value);
  await maker.getByLabel("Primaries").selectOption("P3, D65");
  await maker.getByLabel("Code of pair 1").fill("386");
  await expect(maker.getByText("386.0 (−0.0)").or(maker.getByText("386.0 (+0.0)"))).toBeVisible();
  await maker.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("“Typed from the sheet” is kept")).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    maker.getByRole("button", { name: "Export Typed from the sheet" }).click(),
  ]);
  expect(JSON.parse(readFileSync(await download.path(), "utf8"))).toMatchObject({
    format: "pale-halo-encoding",
    kind: "log",
    log: { logSideSlope: 0.232 },
  });

  await panel.getByLabel("Encoding", { exact: true }).selectOption({ label: "Typed from the sheet" });
  await expect(image).toHaveAttribute("alt", "Lamp room as typed-from-the-sheet");
  await expect.poll(async () => Math.abs((await brightness(image)) - meant)).toBeLessThan(0.5);
  await panel.getByLabel("Encoding", { exact: true }).selectOption({ label: "Lamp room log" });
  await expect(image).toHaveAttribute("alt", "Lamp room as lamp-room-log");
});

test("what is set below a shot's picture stands still while what is above it comes", async ({ page }) => {
  // The encoding's ramp comes late: a hand that is on its way to the squeeze must find it where it was.
  await page.route("**/api/encodings/*/ramp", async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  await page.goto("/footage");
  await page.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
  const squeeze = page.getByLabel("Squeeze", { exact: true });
  const before = await squeeze.boundingBox();
  await expect(page.getByRole("img", { name: "Light against code value" }).locator("svg").first()).toBeVisible();
  expect(await squeeze.boundingBox()).toEqual(before);
});

test("shots are searched, listed and sorted, and a hover goes through the frames", async ({ page }) => {
  await page.goto("/footage");
  await page.getByRole("searchbox", { name: "Search shots" }).fill("openexr tl-0");
  await expect(page.getByRole("list", { name: "Shots" }).getByRole("listitem")).toHaveCount(4);
  const first = page.getByRole("button", { name: "Select TL-010 Upper station" });
  const source = first.getByRole("img");
  const before = await source.getAttribute("src");
  const box = (await first.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.95, box.y + box.height / 2);
  await expect(source).not.toHaveAttribute("src", before!);
  await page.getByRole("searchbox", { name: "Search shots" }).fill("tl-0");
  await page.getByRole("button", { name: "List" }).click();
  const names = () => page.getByRole("table", { name: "Shots" }).getByRole("link").allTextContents();
  await page.getByRole("button", { name: /^Frames/ }).click();
  const sorted = await names();
  await page.getByRole("button", { name: /^Frames/ }).click();
  expect(await names()).not.toEqual(sorted);
  expect((await names())[0]).toMatch(/TL-05[01]/);
});

test("the browser and the command line make the same pixels of the same look", async ({ page }) => {
  await page.goto("/bench/TL-010?frame=5");
  await settled(page);
  const { look } = (await (await page.request.get("/api/shots/TL-010/look")).json()) as { look: unknown };
  const folder = mkdtempSync(join(tmpdir(), "halo-same-"));
  writeFileSync(join(folder, "look.json"), JSON.stringify(look));
  const input = join(process.env.HALO_TEST_DATA!, "footage/tarn-line/TL-010.%04d.exr");
  execFileSync(
    "bin/halo",
    [
      "render",
      "--look",
      join(folder, "look.json"),
      "--in",
      input,
      "--out",
      join(folder, "out.%04d.png"),
      "--depth",
      "8",
      "--frames",
      "5-5",
      "--threads",
      "2",
    ],
    { stdio: "pipe" },
  );
  const made = await sharp(join(folder, "out.0005.png")).ensureAlpha().raw().toBuffer();
  const digest = [...new Uint8Array(await crypto.subtle.digest("SHA-256", new Uint8Array(made)))]
    .map((byte) => byte.toString(16).padStart(2, "0"))
    .join("");
  expect((await pixels(picture(page))).hash).toBe(digest);
});

test("a render is cancelled, and writes from elsewhere are refused", async ({ page, request }) => {
  await page.goto("/renders");
  await page.getByLabel("Shot").selectOption("TL-030");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: "TL-030" }).first();
  await row.getByRole("button", { name: "Cancel" }).click();
  await expect(row).toContainText("Cancelled");
  const foreign = await request.post("/api/renders/1/cancel", { headers: { origin: "http://elsewhere.example" } });
  expect(foreign.status()).toBe(403);
});
