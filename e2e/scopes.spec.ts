import { readFileSync } from "node:fs";
import { expect, type Page } from "@playwright/test";
import { test } from "./restored-test";
import { listen, openBench, piece, picture, settled } from "./bench-page";

const column = (page: Page) => page.getByRole("complementary", { name: "Scopes" });
/** What a scope draws: how much light is in its upper, its middle and its lower third. */
const thirds = (page: Page, name: string) =>
  column(page)
    .getByRole("img", { name, exact: true })
    .evaluate((node: HTMLCanvasElement) => {
      const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
      const sums = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) {
        const row = Math.floor(i / 4 / node.width);
        sums[Math.min(2, Math.floor((3 * row) / node.height))]! += data[i]! + data[i + 1]! + data[i + 2]!;
      }
      return sums as [number, number, number];
    });
const ends = async (page: Page) => {
  const text = (await page.getByRole("status", { name: "At the ends of the scale" }).textContent())!;
  const [top, bottom] = [...text.matchAll(/([\d.]+) %/g)].map((found) => Number(found[1]));
  return { top: top!, bottom: bottom! };
};
async function type(page: Page, label: string, value: number): Promise<void> {
  const field = page.getByRole("textbox", { name: new RegExp(`^${label}, `) });
  await field.fill(String(value));
  await field.press("Enter");
}

test("waveform, parade, vectorscope and histogram follow the picture: exposure moves them up, no saturation draws them together", async ({
  page,
}) => {
  const said = listen(page);
  await openBench(page, "TL-020");
  await page.keyboard.press("s");
  await expect(column(page)).toBeVisible();
  await column(page).getByRole("button", { name: "Parade" }).click();
  await expect.poll(async () => (await thirds(page, "Waveform"))[1]).toBeGreaterThan(0);
  const before = {
    waveform: await thirds(page, "Waveform"),
    parade: await thirds(page, "Parade"),
    ends: await ends(page),
  };
  await piece(page, "Trim").click();
  await type(page, "Exposure", 3);
  await settled(page);
  await expect.poll(async () => (await ends(page)).top).toBeGreaterThan(before.ends.top + 2);
  expect((await thirds(page, "Waveform"))[0]).toBeGreaterThan(before.waveform[0]);
  expect((await thirds(page, "Parade"))[0]).toBeGreaterThan(before.parade[0]);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);

  /** Mean distance of what the vectorscope draws from its middle, cells. */
  const spread = () =>
    column(page)
      .getByRole("img", { name: "Vectorscope", exact: true })
      .evaluate((node: HTMLCanvasElement) => {
        const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
        let [sum, weight] = [0, 0];
        for (let i = 0; i < data.length; i += 4) {
          const light = data[i]! + data[i + 1]! + data[i + 2]!;
          const [x, y] = [(i / 4) % node.width, Math.floor(i / 4 / node.width)];
          sum += light * Math.hypot(x - node.width / 2, y - node.height / 2);
          weight += light;
        }
        return sum / weight;
      });
  const coloured = await spread();
  expect(coloured).toBeGreaterThan(8);
  await type(page, "Saturation", 0);
  await expect.poll(spread).toBeLessThan(coloured / 3);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);

  // In stops the light is counted, which has no colour differences; in nits the same signal is told otherwise.
  await column(page).getByLabel("Scale of the scopes").selectOption("stops");
  await expect(column(page).getByText("Light has no colour differences: choose % of signal.")).toBeVisible();
  await expect.poll(async () => (await thirds(page, "Waveform"))[1]).toBeGreaterThan(0);
  await column(page).getByLabel("Scale of the scopes").selectOption("nits");
  await expect(column(page).getByText("50", { exact: true }).first()).toBeVisible();
  expect(said).toEqual([]);
});

test("a part that is drawn on the picture is counted alone, and the compared is laid over faintly", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await page.keyboard.press("s");
  await expect.poll(async () => (await thirds(page, "Waveform"))[1]).toBeGreaterThan(0);
  // The lamp, which is white.
  await page.getByRole("button", { name: "Count a part that is drawn on the picture" }).click();
  const box = (await picture(page).boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.56, box.y + box.height * 0.34);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.61, box.y + box.height * 0.43, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await ends(page)).top).toBeGreaterThan(50);
  await page.getByRole("button", { name: "Count the whole frame" }).click();
  await expect.poll(async () => (await ends(page)).top).toBeLessThan(20);
  const own = await thirds(page, "Waveform");
  await column(page).getByLabel("with the compared").check();
  await expect
    .poll(async () => (await thirds(page, "Waveform")).reduce((a, b) => a + b))
    .toBeGreaterThan(own.reduce((a, b) => a + b) * 1.05);
});

test("the ramp's curve bends where a tone is set, and the tonal part is written as a table that says what it leaves out", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await page.keyboard.press("s");
  await column(page).getByRole("button", { name: "Ramp" }).click();
  const curve = column(page).getByRole("img", { name: "Signal (%) against light (stops from mid-grey)" });
  const signalAt = async (stops: number) => {
    const points = (await curve.locator("polyline").nth(1).getAttribute("points"))!.split(" ");
    return 100 - Number(points[Math.round((stops + 10) * 12)]!.split(",")[1]);
  };
  await expect(curve.locator("polyline")).toHaveCount(3);
  const before = { shadow: await signalAt(-6), middle: await signalAt(0), bright: await signalAt(4) };
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name: "Tone", exact: true }).click();
  // What is dragged on the plot stays on its curve, whatever is changed: the shoulder's threshold stands where it
  // stood.
  const shoulder = page.getByRole("button", { name: "Shoulder from", exact: true });
  const stood = (await shoulder.boundingBox())!;
  await type(page, "Crush blacks", -0.6);
  await expect.poll(async () => Math.abs((await shoulder.boundingBox())!.x - stood.x)).toBeLessThan(8);
  const hold = page.getByRole("textbox", { name: /^Hold highlights, / });
  const held = Number(await hold.inputValue());
  await page.getByRole("button", { name: "Hold highlights", exact: true }).press("Shift+ArrowDown");
  expect(Number(await hold.inputValue())).toBeGreaterThan(held);
  await type(page, "Hold highlights", 0.5);
  await expect.poll(() => signalAt(4)).toBeLessThan(before.bright - 3);
  expect(await signalAt(-6)).toBeGreaterThan(before.shadow + 0.5);
  expect(Math.abs((await signalAt(0)) - before.middle)).toBeLessThan(3);

  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Export as a table" }).click();
  const form = page.getByRole("dialog", { name: "Export as a table" });
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    form.getByRole("button", { name: "Make the table" }).click(),
  ]);
  const text = readFileSync(await download.path(), "utf8");
  expect(text).toContain("LUT_3D_SIZE 33");
  expect(
    text
      .trim()
      .split("\n")
      .filter((line) => /^[\d.-]/.test(line)),
  ).toHaveLength(33 ** 3);
  const left = form.getByRole("list", { name: "Left out of the table" });
  for (const name of ["Diffusion", "Distortion", "Grain"]) await expect(left).toContainText(name);
  await expect(left).not.toContainText("Tone");
  await expect(form.getByRole("status", { name: "How near the table comes" })).toContainText(
    /Over this frame: mean 0\.\d/,
  );
  // Light has no end: a .cube table does not take it, and says so.
  await form.getByRole("combobox", { name: "Takes in" }).selectOption("linear-ap1");
  await form.getByRole("button", { name: "Make the table" }).click();
  await expect(form.getByRole("alert")).toContainText("choose a log encoding");
  await page.keyboard.press("Escape");
  for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
});
