import { expect } from "@playwright/test";
import { test } from "./restored-test";
import { listen, openBench, piece, settled } from "./bench-page";
import { serious } from "./serious";

for (const [name, path] of [
  ["Footage", "/footage"],
  ["Cabinet", "/cabinet"],
  ["Cabinet, a filter", "/cabinet?profile=milkglass"],
  ["Chart room", "/chart-room"],
  ["Chart room, a printed page", "/chart-room/printed"],
  ["Test wall", "/test-wall?shot=TL-030&across=strength%3D0,1&down=stop%3D2,4"],
  ["Renders", "/renders"],
  ["Handbook", "/handbook/swirl"],
] as const) {
  test(`${name}: no serious findings, nothing in the console, no scrolling of the page`, async ({ page }) => {
    const said = listen(page);
    await page.goto(path);
    await page.waitForLoadState("networkidle");
    expect(await serious(page)).toEqual([]);
    expect(said).toEqual([]);
    expect(
      await page.evaluate(
        () =>
          document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth,
      ),
    ).toBe(true);
  });
}

test("Renders, with a delivery of several open: no serious findings, no scrolling of the page", async ({ page }) => {
  await page.goto("/renders");
  await page.getByRole("button", { name: "A delivery of several" }).click();
  await expect(page.getByRole("list", { name: "Shots of the delivery" }).getByRole("listitem").first()).toBeVisible();
  expect(await serious(page)).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
});

test("Footage, with a shot selected and the encoding maker open: no serious findings, no scrolling of the page", async ({
  page,
}) => {
  await page.goto("/footage");
  await page.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
  await page.getByRole("button", { name: "Encodings", exact: true }).click();
  await page.waitForLoadState("networkidle");
  expect(await serious(page)).toEqual([]);
  await page.getByRole("button", { name: "List" }).click();
  expect(await serious(page)).toEqual([]);
  expect(
    await page.evaluate(
      () => document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth,
    ),
  ).toBe(true);
});

test("Bench, with an element selected: no serious findings, no scrolling of the page", async ({ page }) => {
  await openBench(page);
  await piece(page, "Glow").click();
  await settled(page);
  expect(await serious(page)).toEqual([]);
  expect(
    await page.evaluate(
      () => document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth,
    ),
  ).toBe(true);
});

test("Bench, with scopes, a wipe and a table's form open: no serious findings, no scrolling of the page", async ({
  page,
}) => {
  await openBench(page);
  await page.keyboard.press("s");
  await page.getByRole("button", { name: "Ramp" }).click();
  await page.getByRole("button", { name: "Parade" }).click();
  await page.getByRole("group", { name: "Compare" }).getByRole("button", { name: "Wipe" }).click();
  await settled(page);
  await expect(page.getByRole("img", { name: "Waveform", exact: true })).toBeVisible();
  expect(await serious(page)).toEqual([]);
  await page.getByRole("button", { name: "Export as a table" }).click();
  expect(await serious(page)).toEqual([]);
  expect(
    await page.evaluate(
      () => document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth,
    ),
  ).toBe(true);
});

test("Bench, with looks, versions, stills, corners, cautions and help open: no serious findings, no scrolling of the page", async ({
  page,
}) => {
  await openBench(page);
  const fits = () =>
    page.evaluate(
      () => document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth,
    );
  await page.getByRole("button", { name: "Looks", exact: true }).click();
  await page.getByRole("button", { name: /Scope night/ }).click();
  await page.getByRole("button", { name: "On several shots …" }).click();
  await page.getByRole("button", { name: "Keep the present look …" }).click();
  expect(await serious(page)).toEqual([]);
  await page.getByRole("button", { name: /^Versions/ }).click();
  expect(await serious(page)).toEqual([]);
  await page.getByRole("button", { name: /^Stills/ }).click();
  expect(await serious(page)).toEqual([]);
  await page.keyboard.press("Escape");
  await piece(page, "Distortion").click();
  await page.getByRole("button", { name: "What Distortion is" }).click();
  await page.getByRole("button", { name: /^\d+ cautions?$/ }).click();
  await page.keyboard.press("c");
  await settled(page);
  expect(await serious(page)).toEqual([]);
  expect(await fits()).toBe(true);
});
