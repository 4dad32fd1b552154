import { expect, type Page } from "@playwright/test";
import { ELEMENTS } from "../src/core/elements/registry";
import { test } from "./restored-test";
import { openBench, piece, settled } from "./bench-page";

const boxes = (page: Page) =>
  page
    .getByRole("list", { name: "Elements in the order light meets them" })
    .getByRole("button")
    .evaluateAll((all) => all.map((node) => node.getBoundingClientRect().toJSON() as { left: number; right: number }));

async function add(page: Page, name: string): Promise<void> {
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name, exact: true }).click();
}

const undoAll = async (page: Page) => {
  for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
};

/** A path of so many pieces, of every kind in turn, all switched off: what is looked at is how they are drawn. */
async function withPieces(page: Page, count: number): Promise<() => Promise<void>> {
  const address = "/api/shots/TL-050/look";
  const save = async (look: object) => {
    const { revision } = (await (await page.request.get(address)).json()) as { revision: number };
    const origin = new URL(page.url()).origin;
    const headers = { origin, "sec-fetch-site": "same-origin" };
    expect((await page.request.put(address, { data: { look, revision }, headers })).ok()).toBe(true);
  };
  const { look } = (await (await page.request.get(address)).json()) as { look: { elements: object[] } };
  const kinds = ELEMENTS.map(({ kind }) => kind);
  const elements = Array.from({ length: count }, (_, i) => {
    const kind = kinds[i % kinds.length]!;
    return { id: `${kind}-${i}`, kind, on: false, params: {} };
  });
  await save({ ...look, elements });
  return () => save(look);
}

for (const [width, height] of [
  [1280, 800],
  [1920, 1080],
] as const)
  test(`one piece, nine, twenty and sixty at ${width}x${height}: no two pieces or names overlap, and all can be reached`, async ({
    page,
  }) => {
    await page.setViewportSize({ width, height });
    await page.goto("/cabinet");
    for (const count of [1, 9, 20, 60]) {
      const back = await withPieces(page, count);
      try {
        await openBench(page, "TL-050");
        const list = page.getByRole("list", { name: "Elements in the order light meets them" });
        const pieces = list.getByRole("button");
        await expect.poll(() => pieces.count()).toBeGreaterThanOrEqual(1);
        const drawn = await boxes(page);
        for (let i = 1; i < drawn.length; i++)
          expect(drawn[i]!.left, `${count} pieces: ${i}`).toBeGreaterThanOrEqual(drawn[i - 1]!.right - 0.5);
        const words = await list.evaluate((node) => {
          const found: { left: number; right: number; top: number; text: string }[] = [];
          const walker = document.createTreeWalker(node, NodeFilter.SHOW_TEXT);
          while (walker.nextNode()) {
            const parent = walker.currentNode.parentElement!;
            const style = getComputedStyle(parent);
            const range = document.createRange();
            range.selectNodeContents(walker.currentNode);
            const { left, right, top, width } = range.getBoundingClientRect();
            const end = style.overflowX === "hidden" ? parent.getBoundingClientRect().right : right;
            if (width > 0 && style.opacity !== "0")
              found.push({ left, right: Math.min(right, end), top: Math.round(top / 4), text: range.toString() });
          }
          return found.sort((a, b) => a.top - b.top || a.left - b.left);
        });
        expect(words.length).toBeGreaterThan(0);
        for (const [i, { left, top, text }] of words.entries()) {
          const before = words[i - 1];
          if (before?.top === top)
            expect(left, `${count} pieces: ${before.text} and ${text}`).toBeGreaterThanOrEqual(before.right - 0.5);
        }
        const end = (await list.boundingBox())!;
        await pieces.last().scrollIntoViewIfNeeded();
        const last = (await pieces.last().boundingBox())!;
        expect(last.x + last.width).toBeLessThanOrEqual(end.x + end.width + 1);
        await expect(page.getByRole("button", { name: "Glass drawer: add an element" })).toBeInViewport();
      } finally {
        await back();
      }
    }
  });

test("a group of parameters has one heading", async ({ page }) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  const headings = await page.getByRole("heading", { level: 4 }).allTextContents();
  expect(headings).toContain("Shape");
  expect(new Set(headings).size).toBe(headings.length);
});

test("a picked colour is not lost to the light that is read under the cursor", async ({ page }) => {
  await openBench(page, "TL-020");
  await add(page, "Trim");
  const place = (await page.getByRole("region", { name: "Picture" }).boundingBox())!;
  await page.getByLabel("Add an area").selectOption("Key on light");
  await page.getByRole("button", { name: "Pick a colour" }).click();
  await page.mouse.click(place.x + place.width / 2, place.y + place.height / 2);
  for (let i = 0; i < 30; i++) await page.mouse.move(place.x + 100 + i * 9, place.y + 120 + i * 3);
  await expect(page.getByRole("img", { name: "The picked colour" })).toBeVisible();
  await undoAll(page);
});

test("the sensor set in Footage is the Bench's at once, and no edit of the look writes an older one back", async ({
  page,
  context,
}) => {
  await openBench(page, "TL-050");
  await piece(page, "Grain").click();
  const footage = await context.newPage();
  await footage.goto("/footage");
  await footage.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
  const sensor = async (width: string) => {
    await footage.getByLabel("Sensor width").fill(width);
    await footage.getByLabel("Sensor width").press("Enter");
    await expect
      .poll(
        async () =>
          ((await (await page.request.get("/api/shots/TL-050")).json()) as { sensorWidth: number }).sensorWidth,
      )
      .toBe(Number(width));
  };
  await sensor("36");
  await page.getByRole("slider", { name: "Strength", exact: true }).press("ArrowRight");
  await settled(page);
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  const { sensorWidth } = (await (await page.request.get("/api/shots/TL-050")).json()) as { sensorWidth: number };
  const { look } = (await (await page.request.get("/api/shots/TL-050/look")).json()) as {
    look: { camera: { sensor: { width: number } } };
  };
  expect([sensorWidth, look.camera.sensor.width]).toEqual([36, 36]);
  await undoAll(page);
  await sensor("24.9");
});
