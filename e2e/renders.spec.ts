import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { listen } from "./bench-page";
import { test } from "./restored-test";
import { serious } from "./serious";

/** The least and the largest code of a picture's colours. */
const ends = (page: Page, name: string) =>
  page.locator(`canvas[data-picture="${name}"]`).evaluate((node: HTMLCanvasElement) => {
    const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
    let [low, high] = [255, 0];
    for (let i = 0; i < data.length; i++) {
      if ((i & 3) === 3) continue;
      low = Math.min(low, data[i]!);
      high = Math.max(high, data[i]!);
    }
    return { width: node.width, low, high };
  });

/** How many renders there are, whether or not they are listed by now. */
const renderCount = async (page: Page) => ((await (await page.request.get("/api/renders")).json()) as unknown[]).length;

async function queue(page: Page, shot: string, last: number): Promise<void> {
  const form = page.getByRole("region", { name: "New render" });
  await form.getByLabel("Shot").selectOption({ label: shot });
  await form.getByLabel("Format").selectOption("PNG 8 bits");
  await form.getByLabel("From frame").fill("1");
  await form.getByLabel("To frame").fill(String(last));
  await form.getByRole("button", { name: "Queue the render" }).click();
}

test("a render is looked at where it is: stepped, played, held against the Bench, the footage and another render", async ({
  page,
}) => {
  const said = listen(page);
  await page.goto("/renders");
  const rows = page.locator("[data-render]");
  const before = await renderCount(page);
  await queue(page, "TL-020 Ticket window", 3);
  await expect(rows).toHaveCount(before + 1);
  await queue(page, "TL-020 Ticket window", 2);
  await expect(rows).toHaveCount(before + 2);
  const [second, first] = await rows.evaluateAll((all) =>
    all.slice(0, 2).map((row) => Number((row as HTMLElement).dataset.render)),
  );
  for (const id of [first, second])
    await expect(page.locator(`[data-render="${id}"]`)).toContainText("Done", { timeout: 60_000 });
  await expect(page.getByRole("region", { name: "Who makes frames" })).toContainText("the application");

  await page.getByRole("button", { name: `Look at render ${first}`, exact: true }).click();
  const viewer = page.getByRole("region", { name: `Render ${first}`, exact: true });
  const frames = page.getByRole("region", { name: "Frames of the render" });
  await expect(frames).toContainText("frame 1, 3 of 3 are there");
  await expect.poll(async () => (await ends(page, "rendered")).width).toBe(640);
  // Each frame has a small picture of its own in the strip.
  const pictures = frames.locator("img");
  await expect(pictures).toHaveCount(3);
  await expect
    .poll(() => pictures.evaluateAll((all) => all.map((one) => (one as HTMLImageElement).naturalHeight)))
    .toEqual([80, 80, 80]);
  await frames.getByRole("button", { name: "One frame on" }).click();
  await expect(frames).toContainText("frame 2,");

  // Code for code what the Bench makes of it: nothing stands out of mid-grey, however strongly.
  const against = viewer.getByLabel("Compare with");
  await against.selectOption("the Bench as it is now");
  await viewer.getByRole("button", { name: "Difference" }).click();
  const difference = () => ends(page, "rendered");
  await expect.poll(difference, { timeout: 60_000 }).toEqual({ width: 640, low: 128, high: 128 });
  await against.selectOption("the footage");
  await expect.poll(async () => (await difference()).high, { timeout: 60_000 }).toBeGreaterThan(160);
  await against.selectOption({ label: `render ${second}, the look as it is now` });
  await expect.poll(difference, { timeout: 60_000 }).toEqual({ width: 640, low: 128, high: 128 });
  await viewer.getByRole("button", { name: "Wipe" }).click();
  await expect(page.getByRole("slider", { name: "Edge of the wipe" })).toBeVisible();

  expect(await serious(page)).toEqual([]);

  // It plays every frame that is there, and begins anew.
  await against.selectOption("Compare with nothing");
  await frames.getByRole("button", { name: "Play" }).click();
  for (const number of [3, 1, 2]) await expect(frames).toContainText(`frame ${number},`);
  await frames.getByRole("button", { name: "Pause" }).click();
  await viewer.getByRole("button", { name: "Back to the renders" }).click();

  for (const id of [second, first]) {
    await page.getByRole("button", { name: `Remove render ${id}`, exact: true }).click();
    await page.getByRole("button", { name: "Remove it" }).click();
    await expect(page.locator(`[data-render="${id}"]`)).toHaveCount(0);
  }
  expect(said).toEqual([]);
});

test("renders are paused, made before others, and gone on with", async ({ page }) => {
  await page.goto("/renders");
  const rows = page.locator("[data-render]");
  const before = await renderCount(page);
  for (const [i, last] of [24, 24, 2].entries()) {
    await queue(page, "TL-010 Upper station", last);
    await expect(rows).toHaveCount(before + i + 1);
  }
  const ids = await rows.evaluateAll((all) =>
    all.slice(0, 3).map((row) => Number((row as HTMLElement).dataset.render)),
  );
  const [third, second, first] = ids.map((id) => page.locator(`[data-render="${id}"]`));
  await first!.getByRole("button", { name: "Pause" }).click();
  await expect(first!).toContainText("Paused");
  await third!.getByRole("button", { name: "Make it first" }).click();
  await expect(third!).toContainText("Done", { timeout: 60_000 });
  await expect(second!).not.toContainText("24 of 24 frames");
  await expect(first!).toContainText("Paused");
  await first!.getByRole("button", { name: "Go on" }).click();
  await expect(first!).not.toContainText("Paused");
  for (const row of [first!, second!]) {
    await row.getByRole("button", { name: "Cancel" }).click();
    await expect(row).toContainText("Cancelled");
  }
  for (const id of ids) {
    // The frame in hand is finished first.
    await expect(async () => {
      await page.getByRole("button", { name: `Remove render ${id}`, exact: true }).click();
      await page.getByRole("button", { name: "Remove it" }).click();
      await expect(page.locator(`[data-render="${id}"]`)).toHaveCount(0, { timeout: 2000 });
    }).toPass({ timeout: 30_000 });
  }
});

test("a slate is burnt in, and a table, maps and the sheet stand beside the frames", async ({ page }) => {
  await page.goto("/renders");
  const rows = page.locator("[data-render]");
  const before = await renderCount(page);
  const form = page.getByRole("region", { name: "New render" });
  await form.getByLabel("Shot").selectOption({ label: "TL-020 Ticket window" });
  await form.getByLabel("Format").selectOption("PNG 8 bits");
  await form.getByLabel("A slate burnt in").check();
  const words = form.getByLabel("Words of the slate");
  await words.fill("{shot} {lens}");
  await expect(form.getByRole("alert")).toContainText("{lens} is none of");
  await expect(form.getByRole("button", { name: "Queue the render" })).toBeDisabled();
  await words.fill("{shot} {frame} {timecode}");
  for (const beside of ["a table (.cube)", "distortion maps (EXR)", "the glass sheet (HTML)"])
    await form.getByLabel(beside).check();
  await queue(page, "TL-020 Ticket window", 2);
  await expect(rows).toHaveCount(before + 1);
  const row = rows.first();
  await expect(row).toContainText("Done", { timeout: 90_000 });
  const folder = join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
  expect(
    readdirSync(folder)
      .filter((name) => !name.startsWith("."))
      .sort(),
  ).toEqual([
    "TL-020.0001.png",
    "TL-020.0002.png",
    "TL-020.cube",
    "TL-020.distortion-off.exr",
    "TL-020.distortion.exr",
    "TL-020.html",
    "TL-020.png.recipe.json",
  ]);
  expect(readFileSync(join(folder, "TL-020.html"), "utf8")).toContain("Orrin Vale 50");
  // White letters on a dark band, which the frame above it knows nothing of.
  const { data, info } = await sharp(join(folder, "TL-020.0001.png"))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const foot = data.subarray(info.width * (info.height - 20));
  const lit = Array.from(foot).filter((code) => code > 110).length;
  expect(lit).toBeGreaterThan(100);
  expect(Array.from(foot.subarray(-info.width)).every((code) => code < 100)).toBe(true);
  const [one, two] = ["TL-020.0001.png", "TL-020.0002.png"].map((name) => readFileSync(join(folder, name)));
  expect(one!.equals(two!)).toBe(false);
});
