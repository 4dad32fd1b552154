import { chromium } from "@playwright/test";
const [, , url, out, ...acts] = process.argv;
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on("console", (m) => ["error", "warning"].includes(m.type()) && console.log("C", m.text()));
await p.goto(url);
await p.waitForTimeout(2500);
for (const a of acts) {
  await p.getByRole("button", { name: a }).first().click();
  await p.waitForTimeout(800);
}
await p.screenshot({ path: out });
await b.close();
