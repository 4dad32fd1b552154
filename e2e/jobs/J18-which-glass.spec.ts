import { readFileSync } from "node:fs";
import { expect, type Page } from "@playwright/test";
import { unzipSync } from "fflate";
import sharp from "sharp";
import { test } from "../restored-test";
import { listen, picture, piece } from "../bench-page";
import { codes, same, undoAll } from "./steps";

const WIDTH = 640;
const ROW = WIDTH * 4;

/** Waits until all tiles are there. */
const whole = (page: Page, count: number) =>
  expect(page.getByRole("toolbar", { name: "Wall" }).getByRole("status")).toHaveText(`${count} tiles`, {
    timeout: 60_000,
  });

const tile = (page: Page, name: string) => page.getByRole("region", { name, exact: true });

/** A tile's code values at full size, RGBA: the rows in sight. */
const tileCodes = async (page: Page, name: string): Promise<number[]> => {
  const packed = await tile(page, name)
    .getByRole("img")
    .evaluate((node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
      let text = "";
      for (let i = 0; i < data.length; i += 8192) text += String.fromCharCode(...data.subarray(i, i + 8192));
      return btoa(text);
    });
  return [...Buffer.from(packed, "base64")];
};

/** Whether some rows are those of a picture, wherever in it they stand. */
const isPartOf = (rows: readonly number[], of: readonly number[]): boolean =>
  rows.length > 0 &&
  Array.from({ length: of.length / ROW }, (_, top) => top).some(
    (top) => (top + rows.length / ROW) * ROW <= of.length && same(rows, of.slice(top * ROW, top * ROW + rows.length)),
  );

const values = (page: Page, side: "Across" | "Down", what: string) =>
  page.getByRole("list", { name: `${side}: ${what}` }).getByRole("checkbox");

/** Ticks all of a list, or all but some. */
async function tick(page: Page, side: "Across" | "Down", what: string, wanted: RegExp): Promise<void> {
  const boxes = page.getByRole("list", { name: `${side}: ${what}` }).getByRole("listitem");
  for (const isOn of [true, false])
    for (const item of await boxes.all())
      if (wanted.test(await item.innerText()) === isOn) await item.getByRole("checkbox").setChecked(isOn);
}

test("J18 one frame through every lens, one lens through all grades, two compared, one sent to the Bench, a page", async ({
  page,
}) => {
  const said = listen(page);
  await page.goto("/test-wall");
  await page.getByLabel("Shot").selectOption({ label: "TL-030 Pine path" });
  await page.getByLabel("Down: what changes").selectOption({ label: "Nothing" });
  await tick(page, "Across", "lenses", /./);
  const lenses = await values(page, "Across", "lenses").count();
  await whole(page, lenses);
  expect(lenses).toBeGreaterThan(8);

  // Every tile at full size is what the Bench makes with that lens chosen there.
  await page.getByRole("button", { name: "1:1" }).click();
  await whole(page, lenses);
  const tried = ["Hask Scope 40", "Merrow 85", "Orrin Vale 25", "Plainglass 50"];
  const tiles = new Map<string, number[]>();
  for (const name of tried) tiles.set(name, await tileCodes(page, name));
  const frame = new URL(page.url()).searchParams.get("frame");
  const wall = page.url();
  await page.goto(`/bench/TL-030?frame=${frame}`);
  await expect(picture(page)).toBeVisible();
  for (const name of tried) {
    await page.getByRole("combobox", { name: "Lens", exact: true }).selectOption({ label: name });
    await expect.poll(async () => isPartOf(tiles.get(name)!, await codes(page)), { timeout: 20_000 }).toBe(true);
  }
  await undoAll(page);

  // The address holds the wall. One lens now, through all grades of a filter.
  await page.goto(wall);
  await whole(page, lenses);
  await tick(page, "Across", "lenses", /^Orrin Vale 85$/);
  await page.getByLabel("Down: what changes").selectOption({ label: "Filters" });
  await tick(page, "Down", "filters", /^Milkglass/);
  const grades = await values(page, "Down", "filters").evaluateAll(
    (boxes) => boxes.filter((box) => (box as HTMLInputElement).checked).length,
  );
  await whole(page, grades);

  // Two are pinned and held against one another.
  const [weak, strong] = ["Milkglass 1/8, Orrin Vale 85", "Milkglass 2, Orrin Vale 85"];
  for (const name of [weak, strong]) {
    await tile(page, name).hover();
    await page.getByRole("button", { name: `Pin ${name}` }).click();
  }
  const pair = page.getByRole("region", { name: "Pinned tiles" });
  await expect(pair.getByRole("slider", { name: "Edge of the wipe" })).toBeVisible();
  for (const way of ["Side by side", "Difference"]) await pair.getByRole("button", { name: way }).click();
  await expect(pair.getByText("Difference, 8 times, on mid-grey")).toBeVisible();
  await pair.getByRole("button", { name: "Back to the tiles" }).click();

  // The page: labelled, as PNG and as PDF.
  await whole(page, grades);
  const saved = async (kind: "PNG" | "PDF" | "Frames") => {
    const download = page.waitForEvent("download");
    await page.getByRole("button", { name: kind, exact: true }).click();
    return readFileSync(await (await download).path());
  };
  const png = await sharp(await saved("PNG")).metadata();
  expect(png.height).toBeGreaterThan(grades * 80);
  expect((await saved("PDF")).toString("latin1", 0, 8)).toBe("%PDF-1.4");

  // Every tile as a frame of its own.
  const frames = Object.entries(unzipSync(await saved("Frames")));
  expect(frames).toHaveLength(grades);
  const [, ofStrong] = frames.find(([name]) => name.includes("Milkglass 2 ") && name.endsWith("Orrin Vale 85.png"))!;
  const { data, info } = await sharp(Buffer.from(ofStrong)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([WIDTH, 360]);

  // One is sent to the Bench, as a step that can be taken back.
  await page.getByRole("button", { name: "1:1" }).click();
  await whole(page, grades);
  const chosen = await tileCodes(page, strong);
  expect(isPartOf(chosen, [...data])).toBe(true);
  await tile(page, strong).hover();
  await page.getByRole("button", { name: `To the Bench: ${strong}` }).click();
  await expect(page).toHaveURL(/\/bench\/TL-030/);
  await expect.poll(async () => isPartOf(chosen, await codes(page)), { timeout: 20_000 }).toBe(true);
  await expect(page.getByRole("combobox", { name: "Lens", exact: true })).toHaveValue("orrin-vale-85");
  await piece(page, "Diffusion").click();
  await expect(page.getByRole("combobox", { name: "Grade" })).toHaveValue("2");
  await undoAll(page);
  expect(said).toEqual([]);
});
