// npm run screenshots: one picture of each view for the documents, from a demo already served (ADDRESS, default port
// 3000; HALO_DATA, its data).
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";

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
await page.goto(`${address}/cabinet`);
await page.waitForLoadState("networkidle");
await page.waitForTimeout(1500);
await keep("cabinet");
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
