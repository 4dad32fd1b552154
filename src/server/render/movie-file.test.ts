import { spawnSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { containerOf } from "../../formats/movies";
import { cabinetOf } from "../../core/profile/profiles";
import { lookOf } from "../../testing/laboratory";
import { type NodeEngine, startEngine } from "../engine/engine";
import type { Ranges } from "../../core/frame/ranges";
import { hasFfmpeg } from "../footage/movies/ffmpeg";
import { closeMovies } from "../footage/movies/movie";
import { parsePattern } from "../footage/sequence";
import { loadFrame, openSource } from "../footage/source";
import { oneFileSink } from "./movie-file";
import { renderFrames } from "./render";
import { soundLost, soundOf } from "./sound";

const folder = mkdtempSync(join(tmpdir(), "halo-movie-file-"));
const FRAMES = 12;
let engine: NodeEngine;
let source: ReturnType<typeof openSource>;

const ffmpeg = (...given: string[]) => {
  const { stderr } = spawnSync("ffmpeg", ["-v", "error", ...given], { encoding: "utf8" });
  expect(stderr).toBe("");
};

beforeAll(() => {
  if (!hasFfmpeg()) return;
  engine = startEngine(1);
  const path = join(folder, "in.mov");
  const pictures = `gradients=size=320x180:rate=24000/1001:n=2:seed=3,trim=end_frame=${FRAMES}`;
  const sound = "sine=frequency=440:sample_rate=48000:duration=0.5005";
  ffmpeg(
    ...["-f", "lavfi", "-i", pictures, "-f", "lavfi", "-i", sound, "-timecode", "10:00:00:00"],
    ...["-metadata:s:v", "reel_name=B007", "-aspect", "32:9", "-c:v", "prores_ks", "-profile:v", "3"],
    ...["-vf", "setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709", "-c:a", "pcm_s24le", path],
  );
  source = openSource(path);
});
afterAll(() => {
  engine?.close();
  closeMovies();
});

/** Frames 3 to 10 of the movie, its codes as they are, as a movie or frames of another name. */
async function handedOn(name: string, change: { compression?: string; depth?: "8" | "10" } = {}) {
  const frames = [[3, 10]] as const;
  const output = parsePattern(join(folder, name));
  const sink = output.digits ? undefined : oneFileSink(join(folder, name), soundOf(source, frames));
  const failed: string[] = [];
  const { isWhole } = await renderFrames(
    engine.engine,
    {
      ...{ look: lookOf([]), cabinet: cabinetOf([]), source, frames, shot: source.frames, output, sink },
      ...{ inEncoding: encodingByName("rec709"), outEncoding: encodingByName("rec709"), scale: 1, resume: false },
      ...{ depth: "10", ...change },
    },
    { done: () => {}, failed: (_, reason) => void failed.push(reason) },
  );
  expect(failed).toEqual([]);
  expect(isWhole).toBe(true);
  return join(folder, name);
}

interface Probed {
  streams: Record<string, unknown>[];
  format: { tags: Record<string, string> };
}
const probed = (path: string): Probed =>
  JSON.parse(
    spawnSync("ffprobe", ["-v", "error", "-show_streams", "-show_format", "-of", "json", path], { encoding: "utf8" })
      .stdout,
  ) as Probed;
const streamOf = ({ streams }: Probed, kind: string) => streams.find(({ codec_type }) => codec_type === kind)!;
const everyTag = (found: Probed) =>
  Object.fromEntries(
    [found.format, ...found.streams].flatMap(({ tags }) =>
      Object.entries((tags ?? {}) as Record<string, string>).map(([key, value]) => [key.toLowerCase(), value]),
    ),
  );

describe.skipIf(!hasFfmpeg())("a movie of a movie", () => {
  test.each([
    ["out.mov", undefined, "prores", "yuv422p10le", 0.5],
    ["out-4444.mov", "prores-4444", "prores", "yuv444p12le", 0.5],
    ["out.mxf", undefined, "dnxhd", "yuv422p10le", 0.5],
    ["out.mkv", undefined, "ffv1", "yuv444p10le", 0.1],
    ["out.mp4", undefined, "h264", "yuv420p", 1.5],
    ["out-hevc.mov", "hevc", "hevc", "yuv420p10le", 1.5],
  ])(
    "%s %s: samples, colour tags, time code, rate, aspect and sound",
    async (name, compression, coding, samples, bar) => {
      const path = await handedOn(name, { compression, depth: name.endsWith(".mp4") ? "8" : "10" });
      const found = probed(path);
      expect(streamOf(found, "video")).toMatchObject({
        ...{ codec_name: coding, pix_fmt: samples, r_frame_rate: "24000/1001", width: 320, height: 180 },
        ...{ color_primaries: "bt709", color_transfer: "bt709", color_space: "bt709", color_range: "tv" },
        sample_aspect_ratio: containerOf(name)!.keepsAspect ? "2:1" : "1:1",
      });
      expect(everyTag(found).timecode).toBe("10:00:00:02");
      if (containerOf(name)!.keepsReel) expect(everyTag(found).reel_name).toBe("B007");
      const sound = streamOf(found, "audio");
      expect(sound.codec_name).toBe(name.endsWith(".mp4") ? "aac" : "pcm_s24le");
      if (sound.duration !== undefined) expect(Number(sound.duration)).toBeCloseTo((8 * 1001) / 24000, 1);
      // A smooth picture is what it was, but for what the coding costs.
      const [mine, own] = await Promise.all([loadFrame(openSource(path), 5), loadFrame(source, 7)]);
      let sum = 0;
      for (let i = 0; i < own.pixels.data.length; i++) sum += Math.abs(mine.pixels.data[i]! - own.pixels.data[i]!);
      expect((255 * sum) / own.pixels.data.length).toBeLessThan(bar);
    },
    60_000,
  );

  test("twice the same bytes, and nothing beside them", async () => {
    const first = readFileSync(await handedOn("same.mov"));
    expect(readFileSync(await handedOn("same.mov")).equals(first)).toBe(true);
    expect(readdirSync(folder).filter((name) => name.startsWith("same"))).toEqual(["same.mov"]);
  });

  test("frames have the sound beside them, to the sample, and the time code and reel in them", async () => {
    await handedOn("frames.%04d.exr", { depth: undefined });
    const sound = streamOf(probed(join(folder, "frames.wav")), "audio");
    expect(sound).toMatchObject({ codec_name: "pcm_s24le", sample_rate: "48000" });
    expect(Number(sound.duration_ts)).toBe(Math.round((48_000 * 8 * 1001) / 24_000));
    const { info } = await loadFrame(openSource(join(folder, "frames.%04d.exr")), 3);
    expect(info).toMatchObject({ timeCode: "10:00:00:02", reel: "B007", pixelAspect: 2 });
  });

  test("sound that does not go on, or not as it is, is named", () => {
    const lost = (output: string, frames: Ranges = [[3, 10]]) => soundLost(source, frames, output);
    expect(["x.mov", "x.mxf", "x.%04d.exr"].map((output) => lost(output))).toEqual([[], [], []]);
    expect(lost("x.mp4")).toEqual(["sound as pcm_s24le, which becomes AAC"]);
    expect(lost("x.y4m")).toEqual(["sound"]);
    expect(
      lost("x.mov", [
        [3, 4],
        [8, 9],
      ]),
    ).toEqual(["sound"]);
  });
});
