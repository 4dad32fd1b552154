import { spawnSync } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import type { Decoded } from "../../../formats/format";
import { lastOf } from "../../../core/frame/ranges";
import { NO_OVERSCAN } from "../../../core/image/overscan";
import { lossesOf } from "../../../formats/losses";
import { hasFfmpeg } from "./ffmpeg";
import { complaintOf, openMovie } from "./movie";
import { bytesOf, samplesOf } from "./samples";
import { loadFrame, openSource } from "../source";

const [WIDTH, HEIGHT, FRAMES] = [32, 18, 5];
const folder = mkdtempSync(join(tmpdir(), "halo-movies-"));

/** Codes of a depth, the same each time, of `planes` at full size. */
const codesOf = (bits: number, planes: number, frames = FRAMES) =>
  Array.from({ length: WIDTH * HEIGHT * planes * frames }, (_, i) => (i * 7919 + (i >> 4) * 31) % 2 ** bits);

/** A movie of given samples that loses none of them (FFV1). */
function movie(name: string, pixelFormat: string, codes: number[], deep: boolean, more: string[] = []): string {
  const raw = join(folder, "samples.raw");
  writeFileSync(raw, deep ? Buffer.from(Uint16Array.from(codes).buffer) : Buffer.from(codes));
  const path = join(folder, name);
  const made = spawnSync(
    "ffmpeg",
    ["-v", "error", "-y", "-f", "rawvideo", "-pix_fmt", pixelFormat, "-s", `${WIDTH}x${HEIGHT}`, "-r", "24"].concat(
      ["-i", raw, "-c:v", "ffv1", "-pix_fmt", pixelFormat],
      more,
      [path],
    ),
    { encoding: "utf8" },
  );
  expect(made.stderr).toBe("");
  return path;
}

async function frameOf(path: string, frame: number): Promise<{ image: Decoded; complaint?: string; frames: number }> {
  const source = openSource(path);
  try {
    const image = await loadFrame(source, frame);
    return { image, complaint: await complaintOf(source.movie!), frames: lastOf(source.frames) };
  } finally {
    source.movie!.close();
  }
}

test.each([
  ["yuv420p", "yuv420p", 32 * 18 + 2 * 16 * 9],
  ["yuvj420p", "yuvj420p", 32 * 18 + 2 * 16 * 9],
  ["yuva444p12le", "yuva444p12le", 4 * 32 * 18 * 2],
  ["nv12", "yuv420p", 32 * 18 + 2 * 16 * 9],
  ["bgr0", "bgr0", 4 * 32 * 18],
  ["argb", "argb", 4 * 32 * 18],
  ["gbrp12be", "gbrp12le", 3 * 32 * 18 * 2],
  ["rgb48le", "rgb48le", 3 * 32 * 18 * 2],
  ["yuv422p10be", "yuv422p10le", 2 * 32 * 18 * 2],
  ["gray12le", "gray12le", 32 * 18 * 2],
])("%s is taken as %s", (own, taken, bytes) => {
  const samples = samplesOf(own)!;
  expect(samples.pixelFormat).toBe(taken);
  expect(bytesOf(samples, WIDTH, HEIGHT)).toBe(bytes);
});

test("samples that are not read have none", () => expect(samplesOf("xyz12le")).toBeNull());

describe.skipIf(!hasFfmpeg())("a movie, through ffmpeg, sample by sample", () => {
  test("RGB of 8 bits stays RGB, every code of it", async () => {
    const codes = codesOf(8, 3);
    const { image, frames, complaint } = await frameOf(movie("rgb.mkv", "bgr0", spread(codes), false), 3);
    expect([frames, complaint]).toEqual([FRAMES, undefined]);
    const own = codes.slice(2 * WIDTH * HEIGHT * 3);
    for (let i = 0; i < WIDTH * HEIGHT; i++)
      for (let c = 0; c < 3; c++) expect(image.pixels.data[4 * i + c]! * 255).toBeCloseTo(own[3 * i + 2 - c]!, 3);
  });

  test("12 bits stay 12, and black and white of full range are 0 and 1", async () => {
    const plane = WIDTH * HEIGHT;
    const frame = [...codesOf(12, 1, 1), ...Array<number>(2 * plane).fill(2048)];
    const path = movie("full.mkv", "yuv444p12le", frame, true, ["-color_range", "pc", "-colorspace", "bt709"]);
    const { image } = await frameOf(path, 1);
    expect(image.info.depth).toBe("12");
    for (let i = 0; i < plane; i++) expect(image.pixels.data[4 * i]! * 4095).toBeCloseTo(frame[i]!, 2);
  });

  test("alpha is kept, and colour has not been multiplied by it", async () => {
    const codes = codesOf(8, 4, 1);
    const { image } = await frameOf(movie("alpha.mkv", "bgra", codes, false), 1);
    expect(image.alpha).toBe("unassociated");
    for (let i = 0; i < WIDTH * HEIGHT; i++)
      expect(image.pixels.data[4 * i + 3]! * 255).toBeCloseTo(codes[4 * i + 3]!, 3);
  });

  test("P3 and its curve are known", async () => {
    const tags = ["-color_primaries", "smpte432", "-color_trc", "iec61966-2-1", "-colorspace", "bt709"];
    const { image } = await frameOf(movie("p3.mkv", "yuv444p", codesOf(8, 3, 1), false, tags), 1);
    expect(image.info.tags.cicp).toMatchObject({ primaries: 12, transfer: 13 });
  });

  test("one that is marked as interlaced is taken frame by frame as it stands, and says so", async () => {
    const codes = codesOf(8, 3);
    const [plain, marked] = [
      movie("plain.mkv", "gbrp", codes, false),
      movie("marked.mkv", "gbrp", codes, false, ["-vf", "setfield=tff", "-field_order", "tt"]),
    ];
    const [one, other] = [await frameOf(plain, 2), await frameOf(marked, 2)];
    expect(other.image.pixels.data).toEqual(one.image.pixels.data);
    expect(one.image.info.isInterlaced).toBeUndefined();
    expect(other.image.info).toMatchObject({
      ...{ isInterlaced: true, coding: "FFV1, interlaced" },
      assumed: expect.arrayContaining([expect.stringMatching(/each frame is taken as one picture/)]),
    });
    const carrying = { output: "out.mov", overscan: NO_OVERSCAN, layers: [] };
    expect(lossesOf(other.image.info, carrying)).toContain("interlacing (each frame goes on as one picture)");
  });
  test("one that is cut off says so, and one that is none is refused", async () => {
    const whole = movie("whole.mkv", "yuv444p", codesOf(8, 3), false);
    const bytes = readFileSync(whole);
    const cut = join(folder, "cut.mkv");
    writeFileSync(cut, bytes.subarray(0, bytes.length * 0.7));
    expect((await frameOf(cut, 1)).complaint).toBeTruthy();
    writeFileSync(join(folder, "none.mp4"), "no movie at all");
    expect(() => openMovie(join(folder, "none.mp4"))).toThrow(/no pictures that ffmpeg can read/);
  });

  test("frames are the same in any order, read one at a time, and nothing is left on the disk", async () => {
    const path = movie("order.mkv", "yuv444p", codesOf(8, 3), false);
    const unpacked = () => readdirSync(tmpdir()).filter((name) => name.startsWith("halo-movie-"));
    const before = unpacked();
    const source = openSource(path);
    const inOrder: unknown[] = [];
    for (let frame = 1; frame <= FRAMES; frame++) inOrder.push((await loadFrame(source, frame)).pixels.data);
    source.movie!.close();
    const again = openSource(path);
    const mixed = await Promise.all([4, 1, 5, 2, 3].map((frame) => loadFrame(again, frame)));
    [4, 1, 5, 2, 3].forEach((frame, i) => expect(mixed[i]!.pixels.data).toEqual(inOrder[frame - 1]));
    expect(inOrder[0]).not.toEqual(inOrder[1]);
    await expect(loadFrame(again, 6)).rejects.toThrow(/there is no such frame/);
    expect(again.movie!.complaint()).toBeUndefined();
    again.movie!.close();
    expect(unpacked()).toEqual(before);
  });
});

/** Three samples a pixel with an empty fourth. */
const spread = (codes: number[]) =>
  Array.from({ length: (codes.length / 3) * 4 }, (_, i) => (i % 4 === 3 ? 0 : codes[Math.floor(i / 4) * 3 + (i % 4)]!));
