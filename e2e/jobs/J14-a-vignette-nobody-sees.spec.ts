import { expect } from "@playwright/test";
import { test } from "../restored-test";
import { dragBy, openBench, settled } from "../bench-page";
import { add, hash, type, undoAll } from "./steps";

type Page = import("@playwright/test").Page;
const ends = async (page: Page) => {
  await settled(page);
  const told = (await page.getByRole("status", { name: "At the ends of the scale" }).textContent())!;
  const share = (which: string) => Number(new RegExp(`at the ${which} ([\\d.]+) %`).exec(told)![1]);
  return { top: share("top"), bottom: share("bottom") };
};

test("J14 a vignette that nobody sees: blacks and whites by the waveform, lines beyond the frame, a caution that comes and goes", async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openBench(page, "TL-040");
  // Blacks to 0 and whites to 100 by the waveform.
  await page.keyboard.press("s");
  await add(page, "Trim");
  for (const channel of ["red", "green", "blue"])
    await page.getByRole("spinbutton", { name: `Offset, ${channel}` }).fill("-0.01");
  await type(page, "Exposure", 3);
  await expect.poll(async () => (await ends(page)).top).toBeGreaterThan(0);
  await expect.poll(async () => (await ends(page)).bottom).toBeGreaterThan(0);
  await page.keyboard.press("s");

  // The outside of a shape darkened; with the picture made small its lines are dragged beyond the frame.
  await add(page, "Vignette");
  for (let i = 0; i < 3; i++) await page.keyboard.press("-");
  await page.keyboard.press("-");
  const outer = page.getByRole("button", { name: /^Vignette: outer line/ }).first();
  const inner = page.getByRole("button", { name: /^Vignette: inner line/ }).first();
  const number = async (label: string) =>
    Number(await page.getByRole("textbox", { name: new RegExp(`^${label}, `) }).inputValue());
  const [innerBefore, outerBefore] = [await number("Inner line"), await number("Outer line")];
  await dragBy(page, outer, 0, -40);
  await expect.poll(async () => Math.abs((await number("Outer line")) - outerBefore)).toBeGreaterThan(5);
  await dragBy(page, inner, 0, -14);
  await expect.poll(async () => Math.abs((await number("Inner line")) - innerBefore)).toBeGreaterThan(2);

  // Exaggerated: the edge is seen, and said to be; judged, and pulled back: nothing is said of it any more.
  await type(page, "Inner line", 60);
  await type(page, "Outer line", 90);
  await type(page, "Exposure outside", -3);
  const said = page.getByText(/edge is visible, [\d.]+ times the threshold/).first();
  await expect(said).toBeVisible();
  await page.getByRole("button", { name: /^\d+ cautions?$/ }).click();
  await expect(page.getByRole("list", { name: "Cautions" })).toContainText("Vignette: Its edge is visible");
  await type(page, "Outer line", 320);
  await type(page, "Exposure outside", -0.8);
  await expect(page.getByText(/edge is visible/)).toHaveCount(0);
  const quiet = await hash(page);

  // The element is left, and come back to: the lines are there.
  await page.keyboard.press("Escape");
  await expect(outer).toHaveCount(0);
  const heading = page.getByRole("heading", { level: 2, name: "Vignette", exact: true });
  for (let i = 0; i < 20 && !(await heading.isVisible()); i++) await page.keyboard.press("]");
  await expect(outer).toBeVisible();
  expect(await number("Outer line")).toBe(320);
  expect(await hash(page)).toBe(quiet);

  // Kept for reuse, and put on another shot beside what it has.
  await page.keyboard.press("y");
  await page.getByRole("button", { name: "Keep the present look …" }).click();
  const form = page.getByRole("form", { name: "Keep the present look" });
  await form.getByLabel("Name of the look").fill("Unseen vignette");
  await form.getByRole("checkbox").check();
  await form.getByRole("button", { name: "Keep it" }).click();
  await expect(
    page.getByRole("region", { name: "Own" }).getByRole("button", { name: /Unseen vignette/ }),
  ).toBeVisible();
  await undoAll(page);
  await openBench(page, "TL-030");
  const other = await hash(page);
  await page.keyboard.press("y");
  await page.getByRole("button", { name: /Unseen vignette/ }).click();
  const offered = page.getByRole("region", { name: "The look Unseen vignette" });
  await offered.getByLabel("In place of what is there, or beside it").selectOption("beside");
  await offered.getByRole("button", { name: "Put on this shot" }).click();
  await page.mouse.move(700, 380);
  await expect.poll(() => hash(page)).not.toBe(other);
  await page.getByRole("button", { name: "Remove the look Unseen vignette" }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("button", { name: "Close looks" }).click();
  await undoAll(page);
});
