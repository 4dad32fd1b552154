// npm run screenshots: one picture of each view for the documents, from a demo already served (ADDRESS, default port 3000).
import { chromium } from "@playwright/test";

const address = process.env.ADDRESS ?? "http://127.0.0.1:3000";
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const settle = async () => {
  await page.locator("canvas[data-picture=picture][data-divide='1']").waitFor();
  await page.waitForTimeout(1500);
};
const keep = (name) => page.screenshot({ path: `docs/screenshots/${name}.png` });

await page.goto(`${address}/bench/TL-010?frame=12&element=glow`);
await settle();
await keep("bench-fit");
await page.goto(`${address}/bench/TL-030?frame=6&element=diffusion`);
await settle();
await page.getByRole("button", { name: "1:1" }).click();
await page.getByRole("group", { name: "Compare" }).getByRole("button", { name: "the path" }).nth(1).click();
await page.waitForTimeout(2500);
await keep("bench-compare");
for (const view of ["footage", "cabinet", "renders"]) {
  await page.goto(`${address}/${view}`);
  await page.waitForLoadState("networkidle");
  await page.waitForTimeout(1500);
  await keep(view);
}
await browser.close();
