import { spawnSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { AP1 } from "../../src/core/colour/primaries";
import { normalised } from "../../src/core/image/image";
import { readExr } from "../../src/formats/exr/read";
import { writeExr } from "../../src/formats/exr/write";
import { listen, settled, takeIn } from "../bench-page";
import { goToView } from "../chart-room";
import { test } from "../restored-test";
import { add, choose } from "./steps";

const HAS_FFMPEG = !spawnSync("ffmpeg", ["-version"]).error;
const [WIDTH, HEIGHT, BEYOND, FRAMES] = [192, 108, 16, 4];

/** What an independent tool says of a movie: its pictures' stream, and every tag in it. */
function probed(path: string) {
  const asked = ["-v", "error", "-show_streams", "-show_format", "-of", "json", path];
  const found = JSON.parse(spawnSync("ffprobe", asked, { encoding: "utf8" }).stdout) as {
    streams: ({ codec_type: string; tags?: Record<string, string> } & Record<string, unknown>)[];
    format: { tags?: Record<string, string> };
  };
  const of = (kind: string) => found.streams.find(({ codec_type }) => codec_type === kind)!;
  const tags = Object.assign({}, ...[...found.streams, found.format].map((one) => one.tags ?? {})) as object;
  return { video: of("video"), audio: of("audio"), tags };
}

/** A ProRes movie with sound, as ffmpeg makes it: squeezed, with time code and reel. */
function movie(folder: string, name: string): string {
  const path = join(folder, `${name}.mov`);
  const pictures = `testsrc2=size=${WIDTH}x${HEIGHT}:rate=24000/1001,trim=end_frame=${FRAMES}`;
  const marks = ["-timecode", "09:59:59:22", "-metadata:s:v", "reel_name=A004", "-aspect", "32:9"];
  const { stderr } = spawnSync("ffmpeg", [
    ...["-v", "error", "-f", "lavfi", "-i", pictures, "-f", "lavfi", "-i", "sine=duration=0.1668", ...marks],
    ...["-vf", "setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709"],
    ...["-c:v", "prores_ks", "-profile:v", "3", "-c:a", "pcm_s24le", path],
  ]);
  expect(stderr.toString()).toBe("");
  return path;
}

/** A picture with light beyond its frame, and a matte that is what its green is. */
async function sequence(folder: string, name: string): Promise<string[]> {
  const [width, height] = [WIDTH + 2 * BEYOND, HEIGHT + 2 * BEYOND];
  const green = Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return Math.round(256 * (0.5 + 0.3 * Math.sin(x / 9) * Math.cos(y / 7))) / 256;
  });
  const data = Float32Array.from({ length: 4 * green.length }, (_, i) => ((i & 3) === 3 ? 1 : green[i >> 2]!));
  const right = WIDTH - 1;
  const windows = {
    data: { left: -BEYOND, top: -BEYOND, right: right + BEYOND, bottom: HEIGHT - 1 + BEYOND },
    display: { left: 0, top: 0, right, bottom: HEIGHT - 1 },
  };
  const paths: string[] = [];
  for (let frame = 1; frame <= FRAMES; frame++) {
    const bytes = await writeExr(
      { width, height, data, hasAlpha: false, layers: [{ name: "matte.A", type: "half", data: green }] },
      {
        ...{ depth: "half", primaries: AP1, windows, pixelAspect: 2, framesPerSecond: 24000 / 1001 },
        ...{ timeCode: `10:00:00:0${frame}`, reel: "B002" },
      },
    );
    paths.push(join(folder, `${name}.000${frame}.exr`));
    writeFileSync(paths.at(-1)!, bytes);
  }
  return paths;
}

/** Queues a render of a shot and gives the folder of its files when it is done. */
async function rendered(page: Page, shot: string, format: string, more: () => Promise<unknown>): Promise<string> {
  await goToView(page, "Renders");
  await page.getByRole("combobox", { name: "Shot" }).selectOption({ label: shot });
  await page.getByLabel("Format").selectOption(format);
  await more();
  await page.getByRole("button", { name: "Queue the render" }).click();
  const row = page
    .getByRole("row")
    .filter({ hasText: shot })
    .filter({ hasText: format.split(",")[0] })
    .first();
  await expect(row).toContainText("Done", { timeout: 90_000 });
  return join(process.env.HALO_TEST_DATA!, (await row.getByText(/^renders\//).textContent())!);
}

test("J23 a ProRes movie and an EXR sequence, one look on both, are handed back with all that came with them", async ({
  page,
}) => {
  test.skip(!HAS_FFMPEG, "ffmpeg is not here");
  const said = listen(page);
  const folder = mkdtempSync(join(tmpdir(), "halo-facility-"));
  const own = Date.now().toString(36);
  const [reel, plate] = [`reel-${own}x`, `plate-${own}x`];
  await takeIn(page, [movie(folder, reel), ...(await sequence(folder, plate))]);
  await expect(page.getByRole("list", { name: "Shots" }).getByText("MOV, ProRes HQ").first()).toBeVisible();

  // One look: another lens's distortion and a veil, made on the movie and put on the sequence.
  await page.getByRole("link", { name: `Open ${reel} on the Bench` }).click();
  await settled(page);
  await expect(page.getByText(/09:59:59:2[23]|10:00:00:0[01]/)).toBeVisible();
  await choose(page, "Lens", "Orrin Vale 25");
  await add(page, "Distortion");
  await page.keyboard.press("y");
  await page.getByRole("button", { name: "Keep the present look …" }).click();
  const form = page.getByRole("form", { name: "Keep the present look" });
  await form.getByLabel("Name of the look").fill(`Facility ${own}`);
  await form.getByRole("button", { name: "Keep it" }).click();
  await page
    .getByRole("region", { name: "Own" })
    .getByRole("button", { name: new RegExp(`Facility ${own}`) })
    .click();
  const offered = page.getByRole("region", { name: `The look Facility ${own}` });
  await offered.getByRole("button", { name: "On several shots …" }).click();
  await offered.getByRole("checkbox", { name: plate }).check();
  await offered.getByRole("button", { name: "Put on one shot" }).click();
  await expect(offered.getByRole("status", { name: "What changed" }).locator("summary")).toHaveCount(1);
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");

  const movies = await rendered(page, reel, "ProRes 422 HQ, MOV", async () => {});
  expect(readdirSync(movies).filter((name) => name.endsWith(".mov"))).toEqual([`${reel}.mov`]);
  const { video, audio, tags } = probed(join(movies, `${reel}.mov`));
  expect(video).toMatchObject({
    ...{ codec_name: "prores", profile: "HQ", nb_frames: String(FRAMES), r_frame_rate: "24000/1001" },
    ...{ sample_aspect_ratio: "2:1", width: WIDTH, height: HEIGHT },
  });
  expect(audio).toMatchObject({ codec_name: "pcm_s24le" });
  expect(tags).toMatchObject({ timecode: "09:59:59:22", reel_name: "A004" });

  const frames = await rendered(page, plate, "EXR half, ZIP", async () => {
    await page.getByLabel("Other layers").selectOption("moved as the picture is");
    await page.getByLabel("Beyond the frame").selectOption("kept (overscan)");
  });
  const name = `${plate}.0003.exr`;
  const image = await readExr(name, readFileSync(join(frames, name)), { layers: true, overscan: "all" });
  expect(image.info).toMatchObject({ timeCode: "10:00:00:03", reel: "B002", pixelAspect: 2 });
  expect(image.info.dataWindow).toEqual({
    left: -BEYOND,
    top: -BEYOND,
    right: WIDTH - 1 + BEYOND,
    bottom: HEIGHT - 1 + BEYOND,
  });
  expect(image.info.displayWindow).toMatchObject({ left: 0, top: 0, right: WIDTH - 1, bottom: HEIGHT - 1 });
  const matte = image.layers!.find((layer) => layer.name === "matte.A")!.data as Float32Array;
  const light = normalised(image.pixels);
  const source = await readExr("source.exr", readFileSync(join(folder, name)), { layers: true, overscan: "all" });
  const still = source.layers!.find((layer) => layer.name === "matte.A")!.data as Float32Array;
  const largest = (of: (i: number) => number) => matte.reduce((most, _, i) => Math.max(most, of(i)), 0);
  // It moved, and as the picture did.
  expect(largest((i) => Math.abs(matte[i]! - still[i]!))).toBeGreaterThan(0.03);
  expect(largest((i) => Math.abs(matte[i]! - light[4 * i + 1]!))).toBeLessThan(2e-3);
  expect(said).toEqual([]);
});
