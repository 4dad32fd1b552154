// npm run handbook: the pictures of docs/handbook.md, one a page, from a demo already served (ADDRESS, default port
// 3000).
import { chromium } from "@playwright/test";
import sharp from "sharp";
import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const address = process.env.ADDRESS ?? "http://127.0.0.1:3000";
const only = process.argv.slice(2);
const WIDTH = 960;
const QUALITY = 78;
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu"],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const settle = async () => {
  await page.getByRole("region", { name: "Picture" }).and(page.locator("[aria-busy=false]")).waitFor();
  await page.waitForTimeout(1200);
  await page.getByRole("region", { name: "Picture" }).and(page.locator("[aria-busy=false]")).waitFor();
};
const open = async (shot, frame, element) => {
  await page.goto(`${address}/bench/${shot}?frame=${frame}${element ? `&element=${element}` : ""}`);
  await settle();
};
const add = async (name) => {
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("dialog", { name: "Glass drawer" }).getByRole("button", { name, exact: true }).click();
};
const type = async (label, value) => {
  const field = page.getByRole("textbox", { name: new RegExp(`^${label}, `) });
  await field.fill(String(value));
  await field.press("Enter");
};
const choose = (label, option) =>
  page.getByRole("combobox", { name: label, exact: true }).selectOption({ label: option });
const keys = async (...all) => {
  for (const key of all) await page.keyboard.press(key);
};
/** What was done is taken back, so that the demo is as it was. */
const undo = async () => {
  if (!page.url().includes("/bench/")) return;
  for (const button = page.getByRole("button", { name: "Undo", exact: true }); await button.isEnabled();)
    await button.click();
  await page.waitForTimeout(1500);
};

const PAGES = {
  async J01() {
    await open("TL-020", 12);
    await page.getByLabel("Compare with").selectOption({ label: "The footage" });
    await keys("c", "e");
    await settle();
  },
  async J02() {
    await open("TL-010", 6);
    await add("Shafts");
    await type("Threshold", 5);
    await settle();
  },
  async J03() {
    await open("TL-010", 9, "glow");
    await keys("m");
    await settle();
  },
  async J04() {
    await open("TL-040", 12);
    await add("Streak");
    await type("Angle", 20);
    await settle();
  },
  async J05() {
    await open("TL-050", 8);
    await add("Trim");
    await keys("s");
    await settle();
  },
  async J06() {
    await open("TL-040", 16);
    await add("Vignette");
    await add("Grain");
    await type("Strength", 2);
    await keys("2");
    await settle();
  },
  async J07() {
    await open("TL-020", 12);
    await add("Channel lag");
    await type("Green lags", 1);
    await type("Blue lags", 3);
    await keys("2");
    await settle();
  },
  async J08() {
    await open("TL-030", 9);
    await add("Diffusion");
    await choose("Grade", "1");
    await keys("s");
    await settle();
  },
  async J09() {
    await open("TL-020", 12);
    await add("Edge softness");
    await type("Blur in the corner", 60);
    await type("Starts at", 0);
    await page.getByLabel("Add an area").selectOption({ label: "Shape" });
    await page.getByRole("checkbox", { name: "Inverted" }).check();
    await type("Across", -4);
    await type("Down", 30);
    await type("Width", 22);
    await type("Height", 36);
    await page.getByLabel("Inspect").selectOption({ label: "Area over the picture" });
    await settle();
  },
  async J10() {
    await open("TL-050", 8);
    await add("Tone");
    await type("Toe from", -3);
    await type("Crush blacks", -0.5);
    await type("Shoulder from", 2);
    await type("Hold highlights", 0.6);
    await keys("s");
    const ramp = page.getByRole("complementary", { name: "Scopes" }).getByRole("button", { name: "Ramp", exact: true });
    if ((await ramp.getAttribute("aria-pressed")) === "false") await ramp.click();
    await settle();
  },
  async J11() {
    await open("TL-050", 8);
    await add("Halation");
    await type("Strength", 3);
    await keys("2");
    await settle();
  },
  async J12() {
    await open("TL-020", 12);
    await add("Flicker");
    await add("Curves");
    await page.getByLabel("All channels: begin from").selectOption({ label: "Blacks up, whites down" });
    await settle();
  },
  async J13() {
    await open("TL-030", 9);
    await add("Swirl");
    await page.getByLabel("Lighten only").check();
    await type("Swirl in the corner", 8);
    await page.getByLabel("Compare with").selectOption({ label: "Without this element" });
    await keys("c", "Shift+E");
    await page.getByRole("group", { name: "Corners" }).getByRole("button", { name: "4:1" }).click();
    await settle();
  },
  async J14() {
    await open("TL-040", 12);
    await add("Vignette");
    await type("Exposure outside", -3);
    await type("Inner line", 60);
    await type("Outer line", 110);
    await keys("-", "-", "-");
    await settle();
  },
  async J15() {
    await open("TL-010", 9, "streak");
    await page.getByRole("spinbutton", { name: "Tint, red" }).fill("0.2");
    await page.getByRole("spinbutton", { name: "Tint of the tail, green" }).fill("0.2");
    await choose("Lay over", "Lighten");
    await settle();
  },
  async J16() {
    await page.goto(`${address}/cabinet?profile=orrin-vale-50`);
    await page.waitForTimeout(2500);
  },
  async J17() {
    await page.goto(`${address}/chart-room`);
    await page.getByText("Bench day, the demo’s charts").click();
    const compute = page.getByRole("button", { name: "Hearth: compute its frames" });
    await page.getByRole("button", { name: /^Hearth: / }).waitFor();
    if (await compute.isVisible()) await compute.click();
    await page.getByRole("button", { name: "Hearth: measure its frames" }).click({ timeout: 300_000 });
    const list = page.getByRole("list", { name: "Measurements" });
    await list.getByRole("listitem").nth(1).waitFor({ timeout: 60_000 });
    await list
      .getByText(/^(waits|measuring|reading)/)
      .first()
      .waitFor({ state: "detached", timeout: 300_000 });
    await page.waitForTimeout(2000);
  },
  async "taking-lens"() {
    await open("TL-030", 9);
    await keys("Escape");
    await choose("Taking lens", "Orrin Vale 25");
    await settle();
  },
  async J18() {
    const sides = {
      across: "lens=hask-scope-40,merrow-85,orrin-vale-50,plainglass-50",
      down: "filter=hearth:1/4,hearth:1",
    };
    await page.goto(`${address}/test-wall?${new URLSearchParams({ shot: "TL-030", frame: "9", ...sides })}`);
    await page.getByText("8 tiles", { exact: true }).waitFor({ timeout: 60_000 });
    await page.getByRole("region", { name: "Hearth 1, Merrow 85" }).hover();
    await page.waitForTimeout(500);
  },
  async J19() {
    await open("TL-030", 6);
    await page.getByRole("button", { name: /^Focus: / }).click();
    await page.getByRole("slider", { name: "Frame", exact: true }).fill("15");
    await type("Focus", 12);
    await keys("t");
    await settle();
  },
  async J21() {
    await page.goto(`${address}/footage`);
    await page.getByTitle("Productions").click();
    await page.getByLabel("Name of a new production").fill("Old tram");
    await page.getByRole("button", { name: "Begin" }).click();
    await page.getByRole("button", { name: /^Old tram/, pressed: true }).waitFor();
    await page.waitForTimeout(500);
  },
  async J23() {
    const folder = mkdtempSync(join(tmpdir(), "halo-handbook-"));
    const movie = join(folder, "A004_C007.mov");
    const pictures = join(process.env.HALO_DATA, "footage/tarn-line/TL-020.%04d.exr");
    const marks = [
      "-timecode",
      "10:04:12:05",
      "-metadata:s:v",
      "reel_name=A004",
      "-c:v",
      "prores_ks",
      "-profile:v",
      "3",
    ];
    execFileSync("ffmpeg", ["-v", "error", "-apply_trc", "bt709", "-r", "24", "-i", pictures, ...marks, movie]);
    await page.goto(`${address}/footage`);
    await page.getByLabel("Files to take in").setInputFiles([movie]);
    await page.getByRole("button", { name: "Take in one shot" }).waitFor();
  },
  async J20() {
    await page.goto(`${address}/renders`);
    await page.getByRole("button", { name: "A delivery of several" }).click();
    const rows = page.getByRole("list", { name: "Shots of the delivery" }).getByRole("listitem");
    for (const shot of ["TL-010", "TL-020"]) await rows.filter({ hasText: shot }).getByLabel("1. As opened").check();
    await page.getByLabel("PNG 16 bits").check();
    await page.waitForTimeout(500);
  },
};

for (const [name, make] of Object.entries(PAGES)) {
  if (only.length && !only.includes(name)) continue;
  await make();
  const png = await page.screenshot();
  const jpeg = await sharp(png).resize({ width: WIDTH }).jpeg({ quality: QUALITY, mozjpeg: true }).toBuffer();
  writeFileSync(`public/handbook/${name}.jpg`, jpeg);
  await undo();
  const leave = page.getByRole("button", { name: "Leave it" });
  if (await leave.isVisible()) await leave.click();
  // What was open is closed: the next page begins with the Bench as it is at first.
  await page.evaluate(() => localStorage.clear());
  await page.context().clearCookies();
}
await browser.close();
