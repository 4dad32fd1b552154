import { mkdtempSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { test } from "./restored-test";
import { picture, settled, takeIn } from "./bench-page";

const SIZE = { width: 96, height: 54 };

/** Frames that all differ, and move: each knows its number. */
async function sequence(name: string, count: number): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "halo-trimmed-"));
  for (let frame = 1; frame <= count; frame++) {
    const data = Buffer.from(
      Array.from({ length: SIZE.width * SIZE.height * 3 }, (_, i) => (i * (3 + frame) + frame * 37) % 251),
    );
    await sharp(data, { raw: { ...SIZE, channels: 3 } })
      .png()
      .toFile(join(folder, `${name}.${String(frame).padStart(4, "0")}.png`));
  }
  return readdirSync(folder).map((file) => join(folder, file));
}

const shots = async (page: Page) =>
  (await (await page.request.get("/api/shots")).json()) as { id: string; name: string }[];
const shotOf = async (page: Page, name: string) => (await shots(page)).find((shot) => shot.name === name)!.id;

async function trim(page: Page, name: string, first: number, last: number): Promise<void> {
  await page.goto("/footage");
  await page.getByRole("button", { name: `Select ${name}` }).click();
  for (const [label, value] of [
    ["In", first],
    ["Out", last],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(String(value));
    await page.getByLabel(label, { exact: true }).press("Enter");
  }
  await expect(page.getByRole("list", { name: "Shots" }).getByRole("listitem").filter({ hasText: name })).toContainText(
    `${last - first + 1} frames, ${first} to ${last}`,
  );
}

test("a trimmed shot with channel lag, a trimmed plate and keyframes is the same in the browser and in the render", async ({
  page,
}) => {
  // Names of this run's own: a run that broke off leaves its shots behind.
  const [own, laid] = ["trimmed", "laid"].map((name) => `${name}-${Date.now() % 1e6}`) as [string, string];
  await takeIn(page, await sequence(own, 9));
  await takeIn(page, await sequence(laid, 8));
  await trim(page, own, 3, 7);
  await trim(page, laid, 4, 6);
  const [id, plate] = [await shotOf(page, own), await shotOf(page, laid)];
  const { look, revision } = (await (await page.request.get(`/api/shots/${id}/look`)).json()) as {
    look: object;
    revision: number;
  };
  const elements = [
    { id: "lag", kind: "channelLag", params: { red: 0, green: 2, blue: 4 } },
    { id: "plate", kind: "plate", params: { footage: plate, ends: "loop", offset: 1 }, mix: 0.5 },
    {
      id: "trim",
      kind: "trim",
      strength: 0,
      when: {
        strength: {
          keys: [
            { frame: 3, value: 0 },
            { frame: 7, value: 1 },
          ],
        },
      },
      params: { exposure: 1 },
    },
  ];
  const kept = await page.request.put(`/api/shots/${id}/look`, {
    data: { look: { ...look, elements }, revision },
    headers: { origin: new URL(page.url()).origin, "sec-fetch-site": "same-origin" },
  });
  expect(await kept.text()).toMatch(/revision/);
  await page.goto("/renders");
  await page.getByRole("combobox", { name: "Shot" }).selectOption(id);
  await page.getByLabel("Format").selectOption("PNG 8 bits");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row").filter({ hasText: own });
  await expect(row).toContainText("Done", { timeout: 60_000 });
  await expect(row).toContainText("5 of 5 frames");
  const out = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  for (const frame of [3, 4, 7]) {
    await page.goto(`/bench/${id}?frame=${frame}`);
    await settled(page);
    const shown = await picture(page).evaluate((node: HTMLCanvasElement) => [
      ...node.getContext("2d")!.getImageData(0, 0, node.width, node.height).data,
    ]);
    const rendered = await sharp(join(out, `${own}.000${frame}.png`))
      .ensureAlpha()
      .raw()
      .toBuffer();
    expect(Buffer.from(shown).equals(rendered), `frame ${frame}`).toBe(true);
  }
});
