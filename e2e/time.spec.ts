import { expect } from "@playwright/test";
import { test } from "./restored-test";
import { dragBy, openBench, piece } from "./bench-page";
import { goTo, key, type, undoAll } from "./jobs/steps";

test("keyframes are set from their row, moved, stretched, copied and taken away in the time drawer, a gesture a step", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  await goTo(page, 2);
  await key(page, "Size");
  await goTo(page, 10);
  await type(page, "Size", "24/2");
  await page.getByRole("button", { name: "Time", exact: true }).click();
  const drawer = page.getByRole("region", { name: "Time drawer" });
  const marks = drawer.getByRole("group", { name: "Keyframes" }).getByRole("button", { name: /keyframe at/ });
  await expect(marks).toHaveCount(2);
  await expect(marks.nth(1)).toHaveAccessibleName("Glow Size, keyframe at 11");

  // Dragged along, and one step back.
  const apart = (await marks.nth(1).boundingBox())!.x - (await marks.nth(0).boundingBox())!.x;
  await dragBy(page, marks.nth(1), apart / 2, 0);
  await expect(marks.nth(1)).toHaveAccessibleName("Glow Size, keyframe at 15");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(marks.nth(1)).toHaveAccessibleName("Glow Size, keyframe at 11");

  // Picked by a box, nudged by keys, stretched by the last one's end.
  const lanes = (await drawer.getByRole("group", { name: "Keyframes" }).boundingBox())!;
  await page.mouse.move(lanes.x + 2, lanes.y + 1);
  await page.mouse.down();
  await page.mouse.move(lanes.x + lanes.width - 2, lanes.y + 23, { steps: 4 });
  await page.mouse.up();
  await expect(drawer.getByText("2 selected")).toBeVisible();
  await marks.nth(0).focus();
  await page.keyboard.press("ArrowRight");
  await expect(marks.nth(0)).toHaveAccessibleName("Glow Size, keyframe at 4");
  await expect(marks.nth(1)).toHaveAccessibleName("Glow Size, keyframe at 12");
  await dragBy(page, drawer.getByRole("button", { name: "Stretch from the last" }), apart, 0);
  await expect(marks.nth(1)).toHaveAccessibleName("Glow Size, keyframe at 20");

  // How they go on, copied to another frame, removed.
  await drawer.getByLabel("Interpolation of the selected keyframes").selectOption({ label: "Held until the next" });
  await drawer.getByRole("button", { name: "Copy the selected keyframes" }).click();
  await goTo(page, 6);
  const size = page.getByRole("textbox", { name: "Size, % of height" });
  const held = await size.inputValue();
  await drawer.getByRole("button", { name: "Keyframe after" }).click();
  await expect(size).toHaveValue("12.0");
  expect(Number(held)).toBeLessThan(12);
  await drawer.getByRole("button", { name: "Remove the selected keyframes" }).click();
  await expect(marks).toHaveCount(0);
  await goTo(page, 1);
  await drawer.getByRole("button", { name: "Paste keyframes at this frame" }).click();
  await expect(marks).toHaveCount(2);
  await expect(marks.nth(0)).toHaveAccessibleName("Glow Size, keyframe at 2");
  await undoAll(page);
});

test("noise lies on top, a ramp and a table stand instead, and become keyframes on demand", async ({ page }) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  const menu = async (name: string) => {
    await page.getByRole("button", { name: /^Gain: / }).click({ button: "right" });
    await page.getByRole("menuitem", { name }).click();
  };
  await menu("A ramp instead");
  const drawer = page.getByRole("region", { name: "Time drawer" });
  await drawer.getByRole("spinbutton", { name: "To (%)" }).fill("80");
  await drawer.getByRole("spinbutton", { name: "Last frame" }).fill("20");
  await drawer.getByRole("spinbutton", { name: "First frame" }).fill("1");
  const gain = page.getByRole("textbox", { name: "Gain, %" });
  await expect(gain).toBeDisabled();
  await goTo(page, 23);
  await expect(gain).toHaveValue("80");
  await menu("Noise on top");
  await drawer.getByRole("spinbutton", { name: "Amplitude (%)" }).fill("20");
  const values = new Set<string>();
  for (const place of [20, 21, 22]) {
    await goTo(page, place);
    values.add(await gain.inputValue());
  }
  expect(values.size).toBe(3);
  await menu("A table instead");
  await drawer.getByLabel("Values, one a line").fill("10\n20\n30\nlots");
  await expect(drawer.getByRole("alert")).toBeVisible();
  await drawer.getByLabel("Values, one a line").fill("frame,gain\n1,10\n2,20\n3,30");
  await menu("Turn into keyframes");
  await expect(drawer.getByRole("group", { name: "Keyframes" }).getByRole("button").first()).toBeVisible();
  await menu("Nothing moves it");
  await expect(page.getByRole("button", { name: "Gain: not timed" })).toBeVisible();
  await undoAll(page);
});
