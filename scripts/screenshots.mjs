// npm run screenshots: one picture of each view for the documents, from a demo already served (ADDRESS, default port
// 3000; HALO_DATA, its data).
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import sharp from "sharp";

/** A page with two curves of contrast over the image height, as a maker prints them. */
const PAGE = { width: 1500, height: 1050, left: 180, right: 1380, top: 90, bottom: 930, reach: 15 };
const placeOf = (height, percent) => [
  PAGE.left + ((PAGE.right - PAGE.left) * height) / PAGE.reach,
  PAGE.bottom - ((PAGE.bottom - PAGE.top) * percent) / 100,
];
const CURVES = [
  [10, (height) => 93 - 9 * (height / 15) ** 3],
  [30, (height) => 71 - 33 * (height / 15) ** 2.4],
];
function printedPage() {
  const line = (a, b) => `<line x1="${a[0]}" y1="${a[1]}" x2="${b[0]}" y2="${b[1]}" stroke="#bbb" stroke-width="1.5"/>`;
  const grid = [
    ...[0, 3, 6, 9, 12, 15].map((height) => line(placeOf(height, 0), placeOf(height, 100))),
    ...[0, 20, 40, 60, 80, 100].map((percent) => line(placeOf(0, percent), placeOf(PAGE.reach, percent))),
  ];
  const text = (x, y, words) =>
    `<text x="${x}" y="${y}" font-size="26" text-anchor="middle" fill="#333">${words}</text>`;
  const words = [
    ...[0, 3, 6, 9, 12, 15].map((height) => text(placeOf(height, 0)[0], PAGE.bottom + 40, height)),
    ...[0, 20, 40, 60, 80, 100].map((percent) => text(PAGE.left - 46, placeOf(0, percent)[1] + 9, percent)),
    text(780, 1020, "Image height (mm)"),
  ];
  const curves = CURVES.map(([, of], i) => {
    const places = Array.from({ length: 91 }, (_, k) => placeOf(k / 6, of(k / 6)).join(","));
    return `<polyline points="${places.join(" ")}" fill="none" stroke="${["#1b3f8b", "#8b1b1b"][i]}" stroke-width="4"/>`;
  });
  const all = [...grid, ...words, ...curves].join("");
  const { width, height } = PAGE;
  const paper = `<rect width="100%" height="100%" fill="#f4f1ea"/>`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${paper}${all}</svg>`;
  return sharp(Buffer.from(svg)).png().toBuffer();
}

const address = process.env.ADDRESS ?? "http://127.0.0.1:3000";
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu"],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const settle = async () => {
  await page.locator("canvas[data-picture=picture][data-divide='1']").waitFor();
  await page.waitForTimeout(500);
  await page.getByRole("region", { name: "Picture" }).and(page.locator("[aria-busy=false]")).waitFor();
  await page.waitForTimeout(1000);
};
const pictures = () =>
  page.waitForFunction(() => [...document.images].every(({ complete, naturalWidth }) => complete && naturalWidth > 0));
const keep = (name) => page.screenshot({ path: `docs/screenshots/${name}.png` });

await page.goto(`${address}/bench/TL-010?frame=12&element=glow`);
await settle();
await keep("bench-fit");
await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
await page.getByRole("button", { name: "Fog", exact: true }).click();
await page.getByLabel("Add an area").selectOption("Shape");
await page.getByRole("button", { name: "Area as a tint" }).click();
await settle();
await keep("bench-area");
await page.keyboard.press("Delete");
// The glow's size goes up as the car comes in, its gain wavers, and its tail has a colour of its own.
await page.goto(`${address}/bench/TL-010?frame=4&element=glow`);
await settle();
await page.getByRole("button", { name: /^Size: / }).click();
await page.getByRole("slider", { name: "Frame", exact: true }).fill("15");
await page.getByRole("textbox", { name: "Size, % of height" }).fill("11");
await page.keyboard.press("Enter");
await page.getByRole("button", { name: /^Gain: / }).click({ button: "right" });
await page.getByRole("menuitem", { name: "Noise on top" }).click();
await page.getByRole("region", { name: "Time drawer" }).getByRole("button", { name: /Size/ }).first().click();
await settle();
await keep("bench-time");
await page.getByRole("button", { name: "Close the time drawer" }).click();
await page.getByRole("button", { name: "Tail tint: open the disc" }).click();
await page.getByRole("slider", { name: "Tail tint, amount" }).scrollIntoViewIfNeeded();
await settle();
await keep("bench-colour");
await page.keyboard.press("Escape");
await page.keyboard.press("y");
await page.getByRole("button", { name: /Scope night/ }).click();
await page.waitForTimeout(3500);
await page.getByRole("region", { name: "The look Scope night" }).hover();
await settle();
await keep("bench-looks");
await page.keyboard.press("y");
await page.getByRole("button", { name: "Versions (1)" }).click();
await page.getByRole("button", { name: /things? differs?$/ }).click();
await settle();
await keep("bench-versions");
await page.keyboard.press("v");
for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
await page.waitForTimeout(2000);
await page.goto(`${address}/bench/TL-030?frame=6&element=diffusion`);
await settle();
await page.getByRole("button", { name: "1:1" }).click();
await page.getByRole("group", { name: "Compare" }).getByRole("button", { name: "Wipe" }).click();
await page.waitForTimeout(2500);
await keep("bench-compare");
await page.goto(`${address}/bench/TL-020?frame=12`);
await settle();
await page.getByLabel("Compare with").selectOption({ label: "The footage" });
await page.keyboard.press("c");
await page.keyboard.press("e");
await page.waitForTimeout(3000);
await keep("bench-corners");
await page.keyboard.press("e");
await page.keyboard.press("c");
await page.keyboard.press("s");
await page.waitForTimeout(1500);
await keep("bench-scopes");
await page.keyboard.press("s");
// The clockwork figure, followed through the shot.
await page.goto(`${address}/bench/TL-020?frame=12`);
await settle();
await page.getByRole("button", { name: "Follow something" }).click();
const shown = await page.locator("canvas[data-picture=picture]").boundingBox();
await page.mouse.move(shown.x + shown.width * 0.4, shown.y + shown.height * 0.66);
await page.mouse.down();
await page.mouse.move(shown.x + shown.width * 0.52, shown.y + shown.height * 0.95, { steps: 4 });
await page.mouse.up();
await page.getByRole("button", { name: "Both ways" }).click();
await page.getByRole("textbox", { name: "Name of Track 1" }).waitFor({ timeout: 120_000 });
await page.getByRole("button", { name: "Time", exact: true }).click();
await settle();
await keep("bench-track");
for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
await page.waitForTimeout(2000);
await page.goto(`${address}/footage`);
await page.getByRole("button", { name: "Select TL-050 Lamp room" }).click();
await pictures();
await page.waitForTimeout(1500);
await keep("footage");
await page.getByRole("button", { name: "Select none" }).click();
await page.getByRole("button", { name: "Encodings", exact: true }).click();
await page.getByRole("button", { name: "Lamp room log", exact: true }).click();
await page.getByLabel("Code of pair 1").fill("386");
await page.waitForTimeout(1500);
await keep("footage-encoding");
await page.getByRole("region", { name: "Encodings of your own" }).getByRole("button", { name: "Close" }).click();
// A roll of the demo's own frames, with a gap, a damaged frame and a note among them.
const frames = join(process.env.HALO_DATA ?? ".data", "footage/tarn-line");
const roll = mkdtempSync(join(tmpdir(), "halo-roll-"));
for (const number of [1, 2, 3, 5, 6])
  copyFileSync(join(frames, `TL-050.000${number}.dpx`), join(roll, `lamp-room-b.000${number}.dpx`));
for (const number of [1, 2])
  copyFileSync(join(frames, `TL-040.000${number}.exr`), join(roll, `mouth-b.000${number}.exr`));
writeFileSync(join(roll, "mouth-b.0003.exr"), readFileSync(join(frames, "TL-040.0003.exr")).subarray(0, 90_000));
writeFileSync(join(roll, "report.txt"), "Slate 12");
await page.getByLabel("Files to take in").setInputFiles(readdirSync(roll).map((name) => join(roll, name)));
await page.getByRole("button", { name: /^Take in/ }).waitFor();
await pictures();
await keep("footage-intake");
await page.getByRole("button", { name: "Leave it" }).click();
await page.goto(`${address}/handbook/swirl`);
await page.waitForTimeout(1500);
await keep("handbook");
// Charts of a demo lens, computed when they are asked for, measured, kept, and laid over by the lens itself.
const COMPUTED_WITHIN = 300_000;
await page.goto(`${address}/chart-room`);
await page.getByText("Bench day, the demo’s charts").click();
const offer = page.getByRole("button", { name: /^Orrin Vale 50: / });
await offer.waitFor();
await page.waitForTimeout(500);
if (/compute/.test(await offer.getAttribute("aria-label"))) await offer.click();
await page.getByRole("button", { name: "Orrin Vale 50: measure its frames" }).click({ timeout: COMPUTED_WITHIN });
const list = page.getByRole("list", { name: "Measurements" });
await list.getByRole("listitem").nth(6).waitFor();
await page.waitForFunction(
  () => !/(waits|measuring|reading)/.test(document.querySelector("[aria-label=Measurements]").textContent),
  undefined,
  { timeout: COMPUTED_WITHIN },
);
await page.waitForTimeout(1500);
await keep("chart-room");
await page.getByRole("button", { name: "Keep as a profile" }).click();
await page.getByRole("link", { name: "Open it in the Cabinet" }).click();
await page.getByLabel("Lay Orrin Vale 50 over").check();
await page.waitForTimeout(1500);
await keep("cabinet");
await page.getByRole("button", { name: /^Remove / }).click();
await page.getByRole("button", { name: "Remove it" }).click();
await page.goto(`${address}/chart-room/printed`);
await page.getByLabel("A picture of the page").setInputFiles({
  name: "printed-page.png",
  mimeType: "image/png",
  buffer: await printedPage(),
});
await page.getByLabel("x at its second mark").fill("15");
await page.getByLabel("x at its second mark").press("Enter");
const onPage = async ([x, y]) => {
  const box = await page.getByRole("img", { name: "The page", exact: true }).boundingBox();
  return [box.x + (x * box.width) / PAGE.width, box.y + (y * box.height) / PAGE.height];
};
for (const [name, height, percent] of [
  ["Mark of the x axis at 0", 0, 0],
  ["Mark of the x axis at 15", 15, 0],
  ["Mark of the y axis at 100", 0, 100],
  ["Mark of the y axis at 0", 0, 0],
]) {
  const box = await page.getByRole("button", { name, exact: true }).locator("circle").boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(...(await onPage(placeOf(height, percent))), { steps: 6 });
  await page.mouse.up();
}
for (const [frequency, curve] of CURVES) {
  await page.getByRole("button", { name: "Add a curve" }).click();
  await page.getByRole("combobox", { name: "Direction" }).selectOption("sagittal");
  await page.getByLabel("Frequency").fill(String(frequency));
  await page.getByLabel("Frequency").press("Enter");
  await page.mouse.click(...(await onPage(placeOf(9, curve(9)))));
}
await page.getByLabel("Name").fill("From paper");
await page.waitForTimeout(1500);
await keep("printed-page");
const wall = {
  across: "lens=hask-scope-40,merrow-85,orrin-vale-25,orrin-vale-50,plainglass-50",
  down: "filter=milkglass:1/8,milkglass:1/2,milkglass:2,hearth:1",
};
await page.goto(`${address}/test-wall?${new URLSearchParams({ shot: "TL-010", frame: "9", ...wall })}`);
await page.getByText("20 tiles", { exact: true }).waitFor({ timeout: 60_000 });
await page.getByRole("region", { name: "Milkglass 2, Orrin Vale 25" }).hover();
await page.waitForTimeout(500);
await keep("test-wall");
await page.goto(`${address}/renders`);
await page.waitForLoadState("networkidle");
const row = page.getByRole("row").filter({ hasText: "TL-010" });
if (!(await row.count())) {
  await page.getByLabel("To frame").fill("6");
  await page.getByRole("button", { name: "Queue the render" }).click();
}
await row.getByText("Done").first().waitFor();
await page.waitForTimeout(1000);
await keep("renders");
await browser.close();
