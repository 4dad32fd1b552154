import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { contrastOf } from "../../src/core/profile/lens";
import type { LensProfile } from "../../src/core/profile/profiles";
import { demoProfiles } from "../../src/demo/glass/profiles";
import { openBench, settled } from "../bench-page";
import { exported, goToView, removeShown } from "../chart-room";
import { test } from "../restored-test";
import { choose, hash } from "./steps";

const LENS = demoProfiles().find(({ id }) => id === "orrin-vale-35") as LensProfile;
const [FOCAL, STOP, REACH] = [35, 1.4, 15];

/** The page: its size, where its axes lie on it, and how far it was turned when it was photographed. */
const [WIDTH, HEIGHT] = [1500, 1050];
const BOX = { left: 180, right: 1380, top: 90, bottom: 930 };
const TURN = (1.5 * Math.PI) / 180;

const turned = (x: number, y: number): [number, number] => {
  const [dx, dy] = [x - WIDTH / 2, y - HEIGHT / 2];
  return [
    WIDTH / 2 + dx * Math.cos(TURN) - dy * Math.sin(TURN),
    HEIGHT / 2 + dx * Math.sin(TURN) + dy * Math.cos(TURN),
  ];
};
const onPage = (height: number, percent: number) =>
  turned(BOX.left + ((BOX.right - BOX.left) * height) / REACH, BOX.bottom - ((BOX.bottom - BOX.top) * percent) / 100);

const contrast = (direction: "sagittal" | "meridional", f: number) => {
  const of = contrastOf(LENS, FOCAL, STOP, direction)!;
  return (height: number) => 100 * of(f, height);
};
const CURVES = [
  { label: "10 lp/mm, sagittal", of: contrast("sagittal", 10), ink: "#103a8c", dash: "" },
  { label: "10 lp/mm, meridional", of: contrast("meridional", 10), ink: "#103a8c", dash: "14 9" },
  { label: "40 lp/mm, sagittal", of: contrast("sagittal", 40), ink: "#8c1010", dash: "" },
];

/** A page with the lens's curves, as it was printed and photographed. */
function pagePicture(): Promise<Buffer> {
  const path = (of: (height: number) => number) =>
    Array.from({ length: 181 }, (_, i) => {
      const height = (REACH * i) / 180;
      return `${i ? "L" : "M"}${onPage(height, of(height))
        .map((value) => value.toFixed(2))
        .join(" ")}`;
    }).join("");
  const line = (a: [number, number], b: [number, number]) =>
    `<line x1="${a[0]}" y1="${a[1]}" x2="${b[0]}" y2="${b[1]}" stroke="#c9c9c9" stroke-width="1.5"/>`;
  const grid = [
    ...Array.from({ length: 6 }, (_, i) => line(onPage(3 * i, 0), onPage(3 * i, 100))),
    ...Array.from({ length: 6 }, (_, i) => line(onPage(0, 20 * i), onPage(REACH, 20 * i))),
  ];
  const curves = CURVES.map(
    ({ of, ink, dash }) =>
      `<path d="${path(of)}" fill="none" stroke="${ink}" stroke-width="4" stroke-dasharray="${dash}"/>`,
  );
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect width="100%" height="100%" fill="#f4f1ea"/>${[...grid, ...curves].join("")}</svg>`;
  return sharp(Buffer.from(svg)).jpeg({ quality: 88 }).toBuffer();
}

/** A place of the page on the screen. */
async function onScreen(page: Page, [x, y]: [number, number]): Promise<[number, number]> {
  const box = (await page.getByRole("img", { name: "The page", exact: true }).boundingBox())!;
  return [box.x + (x * box.width) / WIDTH, box.y + (y * box.height) / HEIGHT];
}

async function dragMark(page: Page, name: string, to: [number, number]): Promise<void> {
  const mark = page.getByRole("button", { name, exact: true });
  const box = (await mark.locator("circle").boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, to)), { steps: 8 });
  await page.mouse.up();
}

async function setNumber(page: Page, label: string, value: number): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(String(value));
  await page.getByLabel(label, { exact: true }).press("Enter");
}

test("J22 a lens comes from a printed page: axes marked, curves followed, one corrected, what was not printed computed", async ({
  page,
}) => {
  test.setTimeout(120_000);
  await page.goto("/chart-room");
  await page.getByRole("link", { name: "A lens from a printed page" }).click();
  await page.getByLabel("A picture of the page").setInputFiles({
    name: "orrin-vale-35.jpg",
    mimeType: "image/jpeg",
    buffer: await pagePicture(),
  });
  await setNumber(page, "x at its second mark", REACH);
  await dragMark(page, "Mark of the x axis at 0", onPage(0, 0));
  await dragMark(page, `Mark of the x axis at ${REACH}`, onPage(REACH, 0));
  await dragMark(page, "Mark of the y axis at 100", onPage(0, 100));
  await dragMark(page, "Mark of the y axis at 0", onPage(0, 0));

  const list = page.getByRole("list", { name: "Curves" });
  const add = async (of: (height: number) => number, at: number, fields: () => Promise<unknown>) => {
    await page.getByRole("button", { name: "Add a curve" }).click();
    await fields();
    await page.mouse.click(...(await onScreen(page, onPage(at, of(at)))));
    await expect(list.getByText(/^followed, /)).not.toHaveCount(0);
  };
  await add(CURVES[0]!.of, 13, async () => {
    await setNumber(page, "Focal length", FOCAL);
    await setNumber(page, "Stop", STOP);
  });
  await add(CURVES[1]!.of, 13, async () => choose(page, "Direction", "Meridional"));
  await add(CURVES[2]!.of, 9, async () => {
    await choose(page, "Direction", "Sagittal");
    await setNumber(page, "Frequency", 40);
  });
  await expect(list.getByText(/^followed, /)).toHaveCount(3);

  // A place of a line is dragged off and back: from then on it stands by its points.
  await list
    .getByRole("button", { name: /^10 lp\/mm, meridional/ })
    .first()
    .click();
  const [x, y] = await onScreen(page, onPage(REACH, CURVES[1]!.of(REACH)));
  const end = page.locator("svg[aria-label='What was found on the page'] > circle").last();
  const grip = (await end.boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(x, y - 30, { steps: 4 });
  await page.mouse.move(x, y, { steps: 4 });
  await page.mouse.up();
  await expect(list.getByText(/^by points, /)).toHaveCount(1);

  await page.getByLabel("Name").fill("From paper 35");
  await page.getByRole("button", { name: "Keep as a profile" }).click();
  await page.getByRole("link", { name: "Open it in the Cabinet" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "From paper 35" })).toBeVisible();
  await expect(page.getByText(/two Gaussians/).first()).toBeVisible();

  // Every curve within 1 % of the lens the page was drawn from.
  const kept = (await exported(page)) as LensProfile;
  for (const height of [0.5, 3, 6, 9, 12, 14]) {
    for (const [direction, f] of [
      ["sagittal", 10],
      ["meridional", 10],
      ["sagittal", 40],
    ] as const) {
      const read = contrastOf(kept, FOCAL, STOP, direction)!(f, height);
      expect(
        Math.abs(read - contrastOf(LENS, FOCAL, STOP, direction)!(f, height)),
        `${direction} ${f} at ${height}`,
      ).toBeLessThan(0.01);
    }
  }

  await openBench(page, "TL-020");
  await page.keyboard.press("Escape");
  const before = await hash(page);
  await choose(page, "Lens", "From paper 35");
  await settled(page);
  expect(await hash(page)).not.toBe(before);
  for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await goToView(page, "Cabinet");
  await page.getByRole("button", { name: /^From paper 35/ }).click();
  await removeShown(page, "From paper 35");
});
