// A short run in Debian's Firefox: the picture, a slider, playing, a saved look, and nothing against the page's own
// policy. Gives how many checks passed and failed; where Firefox is not there, none of either.
import puppeteer from "puppeteer-core";
import { FIREFOX } from "../scripts/firefox.mjs";

const PICTURE = "canvas[data-picture=picture]";
const WAITS_MS = 60_000;

/** A frame's number as the frame strip tells it, and the picture as a sum of its bytes. */
const shown = (page) =>
  page.$eval(PICTURE, (canvas) => {
    const { data } = canvas.getContext("2d").getImageData(0, 0, canvas.width, canvas.height);
    let sum = 0;
    for (let i = 0; i < data.length; i++) sum = (sum * 31 + data[i]) >>> 0;
    return { sum, isDark: data.every((value, i) => (i & 3) === 3 || value === 0) };
  });

/**
 * Waits until something holds in the page. It is asked again and again from here: the library's own ways of waiting
 * make code from text in the page, which its policy forbids.
 */
async function until(page, what, holds) {
  const end = Date.now() + WAITS_MS;
  while (!(await page.evaluate(holds))) {
    if (Date.now() > end) throw new Error(`${what}: not within ${WAITS_MS / 1000} s`);
    await new Promise((done) => setTimeout(done, 100));
  }
}

const settled = (page) =>
  until(page, "the newest picture", () => document.querySelector('[aria-label="Picture"][aria-busy="false"]') !== null);

/** Everything the page does against its policy or says as an error is told here. */
async function listen(page) {
  const said = [];
  page.on("pageerror", ({ message }) => said.push(message));
  page.on("console", (message) => message.type() === "error" && said.push(message.text()));
  await page.evaluateOnNewDocument(() => {
    globalThis.against = [];
    addEventListener("securitypolicyviolation", (event) =>
      globalThis.against.push(`${event.violatedDirective} ${event.blockedURI} ${event.sourceFile}`),
    );
  });
  return said;
}

const CHECKS = {
  async "the picture is there"({ page }) {
    const { isDark } = await shown(page);
    if (isDark) throw new Error("it is black");
  },

  async "a slider moves it, and the look is saved"({ page, address }) {
    const before = await shown(page);
    await page.evaluate(() =>
      document.querySelector('[aria-label="Elements in the order light meets them"] button').click(),
    );
    const field = 'input[type=range][aria-label="Strength"]';
    await until(page, "the element's panel", () =>
      Boolean(document.querySelector('input[type=range][aria-label="Strength"]')),
    );
    await page.focus(field);
    for (let i = 0; i < 8; i++) await page.keyboard.press("ArrowRight");
    await new Promise((done) => setTimeout(done, 1000));
    await until(
      page,
      "saving",
      () => document.querySelector('[aria-label="State of saving"]')?.textContent === "Everything is saved",
    );
    await settled(page);
    const after = await shown(page);
    if (after.sum === before.sum) throw new Error("the picture is the same");
    const strength = await page.$eval(field, (node) => Number(node.value));
    const { look } = await (await fetch(`${address}/api/shots/TL-010/look`)).json();
    if (look.elements[0].strength !== strength)
      throw new Error(`${strength} was set, ${look.elements[0].strength} is saved`);
    await page.keyboard.down("Control");
    for (let i = 0; i < 8; i++) await page.keyboard.press("z");
    await page.keyboard.up("Control");
    await settled(page);
    if ((await shown(page)).sum !== before.sum) throw new Error("undone, the picture is another one than before");
  },

  async "it plays"({ page }) {
    await page.keyboard.press("Escape");
    const first = await shown(page);
    await page.keyboard.press(" ");
    const seen = new Set();
    const end = Date.now() + 20_000;
    while (seen.size < 4 && Date.now() < end) {
      seen.add((await shown(page)).sum);
      await new Promise((done) => setTimeout(done, 100));
    }
    await page.keyboard.press(" ");
    seen.delete(first.sum);
    if (seen.size < 3) throw new Error(`${seen.size} further pictures in 20 s`);
  },

  async "nothing goes against the page's policy, and nothing is said as an error"({ page, said }) {
    const against = await page.evaluate(() => globalThis.against);
    const all = [...new Set([...against, ...said])];
    if (all.length) throw new Error(`${against.length + said.length} times: ${all.slice(0, 3).join("; ")}`);
  },
};

export async function runFirefox(address) {
  const browser = await puppeteer.launch({ browser: "firefox", executablePath: FIREFOX, headless: true });
  const counts = { passed: 0, failed: 0 };
  try {
    const page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const said = await listen(page);
    await page.goto(`${address}/bench/TL-010`);
    await settled(page);
    for (const [name, check] of Object.entries(CHECKS)) {
      const start = Date.now();
      try {
        await check({ page, address, said });
        counts.passed++;
        console.log(`  ✓  Firefox: ${name} (${((Date.now() - start) / 1000).toFixed(1)}s)`);
      } catch (error) {
        counts.failed++;
        console.log(`  ✘  Firefox: ${name}: ${error.message}`);
      }
    }
  } finally {
    await browser.close();
  }
  return counts;
}
