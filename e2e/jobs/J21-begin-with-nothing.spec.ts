import { type ChildProcess, spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import sharp from "sharp";
import { freePort, startServer } from "../../scripts/serve.mjs";
import { writeExr } from "../../src/formats/exr/write";
import { listen, piece, settled } from "../bench-page";
import { choose, codes, goTo, wearReady } from "./steps";

let server: ChildProcess;
let address: string;
let data: string;

/** A server as `npm start` begins one: a data folder of the user's own, in which there is nothing. */
test.beforeAll(async () => {
  const port = await freePort();
  address = `http://127.0.0.1:${port}`;
  data = mkdtempSync(join(tmpdir(), "halo-beginning-"));
  server = startServer(data, port, { stdio: ["ignore", "pipe", "inherit"], env: { HALO_DEMO: "no" } });
  await new Promise<void>((done) =>
    server.stdout!.on("data", (part: Buffer) => part.includes("is served at") && done()),
  );
});
test.afterAll(() => void server.kill("SIGTERM"));

const [WIDTH, HEIGHT, FRAMES] = [96, 54, 3];
const HAS_FFMPEG = !spawnSync("ffmpeg", ["-version"]).error;

/** Frames of one's own: smooth pictures, for a movie's halved chroma holds nothing else. */
async function frames(): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "halo-own-"));
  const paths: string[] = [];
  for (let i = 0; i < FRAMES; i++) {
    const codesOf = Buffer.from(
      Array.from(
        { length: WIDTH * HEIGHT * 3 },
        (_, at) => 40 + ((at / 3) % WIDTH) + Math.floor(at / 3 / WIDTH) + 8 * i,
      ),
    );
    const number = String(i + 1).padStart(4, "0");
    const own = join(folder, `own.${number}.png`);
    await sharp(codesOf, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(own);
    const light = Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, at) =>
      (at & 3) === 3 ? 1 : 0.1 + 0.002 * ((at >> 2) % WIDTH) + 0.05 * i,
    );
    const plate = join(folder, `plate.${number}.exr`);
    writeFileSync(plate, await writeExr({ width: WIDTH, height: HEIGHT, data: light }, { depth: "half" }));
    paths.push(own, plate);
  }
  return paths;
}

test("J21 from an empty data folder to a movie of one's own frames, in a production of one's own", async ({ page }) => {
  const said = listen(page);
  await page.goto(`${address}/`);
  await expect(page.getByRole("heading", { name: "Begin with footage" })).toBeVisible();

  // A production is named.
  await page.getByRole("button", { name: "No production" }).click();
  const panel = page.getByRole("dialog", { name: "Productions" });
  await panel.getByLabel("Name of a new production").fill("Old tram");
  await panel.getByRole("button", { name: "Begin" }).click();
  await expect(panel.getByRole("button", { name: "Old tram 0 shots, 0 renders" })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await page.keyboard.press("Escape");

  // Numbered PNG, and a sequence of EXR that does not say its sensor.
  await page.getByLabel("Files to take in").setInputFiles(await frames());
  await page.getByRole("button", { name: "Take in 2 shots" }).click();
  await expect(page.getByText("2 shots taken in")).toBeVisible();
  await expect(page.getByRole("heading", { name: "Begin with footage" })).toBeHidden();

  // Encoding and sensor are said.
  await page.getByRole("button", { name: "Select plate", exact: true }).click();
  const selected = page.getByRole("complementary", { name: "Selected shots" });
  await selected.getByLabel("Encoding", { exact: true }).selectOption("linear-rec709");
  await selected.getByLabel("Sensor width").fill("36");
  await selected.getByLabel("Sensor width").press("Enter");
  await expect
    .poll(async () => {
      const shots = (await (await page.request.get(`${address}/api/shots`)).json()) as Record<string, unknown>[];
      const plate = shots.find(({ name }) => name === "plate")!;
      return [plate.encoding, plate.sensorWidth, (plate.production as { name: string }).name];
    })
    .toEqual(["linear-rec709", 36, "Old tram"]);

  // A ready look, pulled back; and a vignette over it.
  await page.getByRole("link", { name: "Open own on the Bench" }).click();
  await settled(page);
  await expect(page.getByRole("button", { name: "Old tram" })).toBeVisible();
  await wearReady(page, "Valley fog", 0.35);
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("button", { name: "Vignette", exact: true }).click();
  await expect(piece(page, "Vignette")).toBeVisible();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  await goTo(page, 1);
  const shown = await codes(page);

  // A movie is handed out, whose frames are the Bench's.
  await page.getByRole("link", { name: "Renders", exact: true }).click();
  await choose(page, "Shot", "own");
  await page.getByLabel("Format").selectOption(HAS_FFMPEG ? "ProRes 4444, MOV" : "Y4M 10 bits, 4:4:4");
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page.getByRole("row", { name: /own/ });
  await expect(row).toContainText("Done", { timeout: 60_000 });
  if (!HAS_FFMPEG) return;
  const movie = join(data, (await row.getByText(/^renders\//).textContent())!, "own.mov");
  const second = ["-vf", "select=eq(n\\,1),scale=in_color_matrix=bt709", "-frames:v", "1", "-f", "rawvideo"];
  const made = spawnSync("ffmpeg", ["-v", "error", "-i", movie, ...second, "-pix_fmt", "rgb24", "-"]).stdout;
  expect(made.length).toBe(WIDTH * HEIGHT * 3);
  const differences = Array.from(made, (code, i) => Math.abs(code - shown[Math.floor(i / 3) * 4 + (i % 3)]!));
  expect(differences.reduce((sum, one) => sum + one) / differences.length).toBeLessThan(1);
  expect(Math.max(...differences)).toBeLessThan(4);
  expect(said).toEqual([]);
});

test("the demo may be opened beside it, and an address of nothing leads back", async ({ page }) => {
  await page.goto(`${address}/nothing/here`);
  await expect(page.getByRole("heading", { name: "There is no such page" })).toBeVisible();
  await page.getByRole("link", { name: "To Footage" }).click();
  await expect(page.getByRole("heading", { name: "Footage", exact: true })).toBeVisible();
  expect((await page.request.post(`${address}/api/demo`, { headers: { origin: address } })).ok()).toBe(true);
  await page.reload();
  await page.getByTitle("Productions").click();
  await page.getByRole("button", { name: /^Tarn Line/ }).click();
  await expect(page.getByText("TL-010 Upper station")).toBeVisible();
});
