import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { openBench } from "../bench-page";
import { add, codes, goTo, key, type, undoAll } from "./steps";

/** How far the picture's light is spread: the mean difference of neighbours, code values. Less is softer. */
const detail = (of: number[], [x0, x1]: [number, number]) => {
  let [sum, count] = [0, 0];
  for (let y = 60; y < 300; y++)
    for (let x = Math.round(x0 * 640); x < x1 * 640 - 1; x++, count++) {
      const i = (y * 640 + x) * 4;
      sum += Math.abs(of[i + 1]! - of[i + 5]!);
    }
  return sum / count;
};

test("J19 the focus is pulled by keyframes and the stop opened with it; then a file of lens data takes their place", async ({
  page,
}) => {
  await openBench(page, "TL-030");
  await add(page, "Defocus");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("heading", { name: "Camera and lens" })).toBeVisible();
  await goTo(page, 0);
  await type(page, "Stop", 2);
  await key(page, "Stop");
  await type(page, "Focus", 2);
  await key(page, "Focus");
  await expect(page.getByRole("button", { name: "Focus: keyframe here" })).toBeVisible();
  const last = Number(await page.getByRole("slider", { name: "Frame", exact: true }).getAttribute("max"));
  await goTo(page, last);
  await type(page, "Stop", 1.4);
  await type(page, "Focus", 20);
  await expect(page.getByRole("button", { name: "Focus: keyframe here" })).toBeVisible();
  const shown: number[] = [];
  for (const place of [0, Math.round(last / 2), last]) {
    await goTo(page, place);
    shown.push(detail(await codes(page), [0.3, 0.7]));
  }
  expect(new Set(shown.map((value) => value.toFixed(3))).size).toBe(3);
  // Between the keyframes the field tells the value there.
  await goTo(page, Math.round(last / 2));
  const between = Number(await page.getByRole("textbox", { name: "Focus, m" }).inputValue());
  expect(between).toBeGreaterThan(2);
  expect(between).toBeLessThan(20);

  // A file of lens data instead: one focus throughout, and rows that lie outside are told.
  await page.getByLabel("A file of lens data").setInputFiles({
    name: "lens.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("frame,focus (m),T-stop\n1,4,2\n2,4.5,2\n3,5,2\n9000,6,2\n"),
  });
  await expect(page.getByText("1 row lies outside the shot’s frames")).toBeVisible();
  await goTo(page, 1);
  await expect(page.getByRole("textbox", { name: "Focus, m" })).toHaveValue("4.5");
  // A file that is none is refused by name, and changes nothing.
  await page.getByLabel("A file of lens data").setInputFiles({
    name: "notes.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("weather\nsnow\n"),
  });
  await expect(page.getByRole("group", { name: "Lens data" }).getByRole("alert")).toContainText(
    "notes.csv: has no column “frame” or “time code”",
  );
  await expect(page.getByRole("textbox", { name: "Focus, m" })).toHaveValue("4.5");
  await undoAll(page);
});
