// npm run screenshots: one picture of each view for the documents, from a demo already served (ADDRESS, default port 3000; HALO_DATA, its data).
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
await page.getByRole("button", { name: "Area over the picture" }).click();
await settle();
await keep("bench-area");
await page.keyboard.press("Delete");
await page.getByRole("button", { name: /^Scope night/ }).click();
await settle();
await keep("bench-looks");
for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
await page.waitForTimeout(2000);
await page.goto(`${address}/bench/TL-030?frame=6&element=diffusion`);
await settle();
await page.getByRole("button", { name: "1:1" }).click();
await page.getByRole("group", { name: "Compare" }).getByRole("button", { name: "the path" }).nth(1).click();
await page.waitForTimeout(2500);
await keep("bench-compare");
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
