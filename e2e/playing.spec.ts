import { expect, type Page } from "@playwright/test";
import { test } from "./restored-test";
import { openBench, picture, pixels, settled } from "./bench-page";

/** The frames that are shown for some seconds, with what is in the picture. */
const watch = (page: Page, seconds: number) =>
  page.evaluate(async (ms) => {
    const canvas = document.querySelector<HTMLCanvasElement>("canvas[data-picture=picture]")!;
    const strip = document.querySelector<HTMLInputElement>("input[aria-label=Frame]")!;
    const seen: { frame: string; sum: number; at: number }[] = [];
    const end = performance.now() + ms;
    let last = -1;
    while (performance.now() < end) {
      await new Promise(requestAnimationFrame);
      const { data } = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height);
      let sum = 0;
      for (let i = 0; i < data.length; i += 397) sum += data[i]! * ((i % 1009) + 1);
      if (sum !== last) seen.push({ frame: strip.getAttribute("aria-valuetext")!, sum, at: performance.now() });
      last = sum;
    }
    return seen;
  }, seconds * 1000);

test("playing always shows pictures, every frame of them, and says its rate; what is ready plays again at the shot's", async ({
  page,
}) => {
  await openBench(page, "TL-050");
  await page.getByRole("button", { name: "Play" }).click();
  // The first pass makes the pictures: each is shown when it is there.
  await expect.poll(async () => (await watch(page, 1)).length, { timeout: 30_000 }).toBeGreaterThan(0);
  const rate = page.getByRole("status", { name: "Rate of playing" });
  await expect(rate).toContainText(/of 24 fps/);
  // Twelve frames: after a pass all of them are ready.
  await expect
    .poll(async () => Number.parseFloat((await rate.textContent())!), { timeout: 60_000 })
    .toBeGreaterThan(20);
  const seen = await watch(page, 2);
  expect(new Set(seen.map(({ sum }) => sum)).size).toBe(12);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await settled(page);
  await expect(rate).toHaveText("");
});

test("a change of the look while it plays is seen, and where it stops the picture is the frame's own", async ({
  page,
}) => {
  await openBench(page, "TL-050");
  await page.getByRole("button", { name: "Play" }).click();
  await expect.poll(async () => (await watch(page, 1)).length, { timeout: 30_000 }).toBeGreaterThan(2);
  const before = new Set((await watch(page, 3)).map(({ sum }) => sum));
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name: "Fog", exact: true }).click();
  await expect
    .poll(async () => (await watch(page, 1)).some(({ sum }) => !before.has(sum)), { timeout: 20_000 })
    .toBe(true);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await settled(page);
  const stopped = await pixels(picture(page));
  const frame = await page.getByRole("slider", { name: "Frame" }).getAttribute("aria-valuetext");
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await page.goto(`/bench/TL-050?frame=${frame!.replace(/\D/g, "")}`);
  await settled(page);
  expect((await pixels(picture(page))).hash).toBe(stopped.hash);
  await page.getByRole("button", { name: /^Versions/ }).click();
  await page.getByRole("button", { name: "Return to it" }).last().click();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
});

/**
 * Counts what React draws anew, by the region of the page it lies in: production builds tell a hook of every commit.
 */
const countDrawing = (page: Page) =>
  page.addInitScript(() => {
    interface Fiber {
      tag: number;
      flags: number;
      stateNode: unknown;
      child: Fiber | null;
      sibling: Fiber | null;
      return: Fiber | null;
      alternate: Fiber | null;
    }
    const counts: Record<string, number> = {};
    const [FUNCTION, MEMO, PERFORMED_WORK] = [0, 15, 1];
    const regionOf = (fiber: Fiber): string => {
      let own: Fiber | null = fiber;
      while (own && !(own.stateNode instanceof Element)) own = own.child;
      for (let at: Fiber | null = own ?? fiber; at; at = at.return)
        if (at.stateNode instanceof Element) {
          const region = at.stateNode.closest("section, aside, header, [role=toolbar]");
          const name = region?.getAttribute("aria-label") ?? region?.tagName.toLowerCase();
          if (name) return name;
        }
      return "page";
    };
    const walk = (fiber: Fiber | null): void => {
      for (let at = fiber; at; at = at.sibling) {
        const isOld = at.alternate !== null && at.child === at.alternate.child;
        const isFunction = at.tag === FUNCTION || at.tag === MEMO;
        if (isFunction && at.alternate && at.flags & PERFORMED_WORK) {
          const name = regionOf(at);
          counts[name] = (counts[name] ?? 0) + 1;
        }
        // What React left as it was has the children it had.
        if (!isOld) walk(at.child);
      }
    };
    Object.assign(window, {
      drawn: counts,
      __REACT_DEVTOOLS_GLOBAL_HOOK__: {
        supportsFiber: true,
        inject: () => 1,
        onCommitFiberUnmount: () => {},
        onPostCommitFiberRoot: () => {},
        onCommitFiberRoot: (_: number, root: { current: Fiber }) => walk(root.current.child),
      },
    });
  });

test("playing draws the picture and the frame's number, and nothing else of the Bench", async ({ page }) => {
  await countDrawing(page);
  await openBench(page, "TL-030");
  const drawn = () => page.evaluate(() => ({ ...(window as unknown as { drawn: Record<string, number> }).drawn }));
  expect((await drawn())["Picture"]).toBeGreaterThan(0);
  await page.keyboard.press("Space");
  await expect(page.getByLabel("Rate of playing")).toContainText("fps");
  await page.waitForTimeout(1500);
  const before = await drawn();
  /** What was drawn since then, by region. */
  const more = async () =>
    Object.fromEntries(
      Object.entries(await drawn())
        .map(([name, count]) => [name, count - (before[name] ?? 0)] as const)
        .filter(([, count]) => count > 0),
    );
  // Counted in frames, not in seconds: how many are made in a second is the machine's.
  await expect.poll(async () => (await more())["Frames"] ?? 0, { timeout: 60_000 }).toBeGreaterThan(20);
  const regions = await more();
  console.log(`drawn while playing: ${JSON.stringify(regions)}`);
  expect(regions["Picture"]).toBeGreaterThan(20);
  expect(Object.keys(regions).filter((name) => !["Frames", "Picture", "page"].includes(name))).toEqual([]);
});
