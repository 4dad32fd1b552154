import { appendFileSync, mkdtempSync, readFileSync, rmSync, truncateSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import type { Transform } from "../../core/colour/transform/transform";
import type { Depth } from "../../core/image/image";
import { cabinetOf } from "../../core/profile/profiles";
import { loadImage } from "../../formats/formats";
import { writePng } from "../../formats/raster/raster";
import { lookOf } from "../../testing/laboratory";
import { jobOf } from "../../testing/render-one";
import { type NodeEngine, startEngine } from "../engine/engine";
import { parsePattern } from "../footage/sequence";
import { openSource } from "../footage/source";
import type { RenderJob } from "./job";
import { movieSink } from "./output";
import { renderFrames } from "./render";

let engine: NodeEngine;
const folder = mkdtempSync(join(tmpdir(), "halo-resume-"));
const size = { width: 32, height: 18 };

beforeAll(async () => {
  engine = startEngine(1);
  for (let frame = 1; frame <= 3; frame++) {
    const data = Float32Array.from({ length: size.width * size.height * 4 }, (_, i) =>
      i & 3 ? ((i * frame) % 97) / 97 : 1,
    );
    writeFileSync(join(folder, `in.000${frame}.png`), await writePng({ ...size, data }, { depth: "8" }));
  }
});
afterAll(() => engine.close());

/** A table of 2 x 2 x 2 entries that scales light. */
const table = (scale: number): Transform => ({
  name: "T",
  steps: [
    {
      kind: "lut3d",
      size: 2,
      low: [0, 0, 0],
      high: [1, 1, 1],
      table: Float32Array.from({ length: 24 }, (_, i) => scale * ([4, 2, 1][i % 3]! & Math.floor(i / 3) ? 1 : 0)),
    },
  ],
});

async function run(
  name: string,
  change: Partial<RenderJob> & { extension?: string; depth?: Depth; scale3d?: number } = {},
) {
  const { extension = "png", scale3d = 1, ...rest } = change;
  const out = join(mkdirOnce(name), `out.%04d.${extension}`);
  const told = { done: [] as number[], skipped: [] as number[], failed: [] as string[] };
  const { isWhole } = await renderFrames(
    engine.engine,
    jobOf(join(folder, "in.%04d.png"), out, {
      look: lookOf([], {}, undefined, { kind: "lut", lut: "t" }),
      cabinet: cabinetOf([], [["t", table(scale3d)]]),
      frames: [[1, 3]],
      shot: [[1, 3]],
      inEncoding: encodingByName("srgb"),
      depth: "8",
      resume: true,
      ...rest,
    }),
    {
      done: (number, { skipped }) => void (skipped ? told.skipped : told.done).push(number),
      failed: (_, reason) => void told.failed.push(reason),
    },
  );
  return { ...told, isWhole, file: (number: number) => out.replace("%04d", `000${number}`) };
}

const folders = new Map<string, string>();
const mkdirOnce = (name: string) => {
  if (!folders.has(name)) folders.set(name, mkdtempSync(join(folder, `${name}-`)));
  return folders.get(name)!;
};

describe("resuming", () => {
  test.each(["png", "jpg", "tif"])(
    "leaves frames of %s that are whole and made by the same recipe",
    async (extension) => {
      expect((await run(extension, { extension })).done).toEqual([1, 2, 3]);
      expect((await run(extension, { extension })).skipped).toEqual([1, 2, 3]);
    },
  );
  test("makes again what is cut off, changed, or was begun in the ledger and not ended", async () => {
    const { file } = await run("cut");
    const whole = readFileSync(file(2));
    truncateSync(file(2), whole.length - 3);
    expect(await run("cut")).toMatchObject({ skipped: [1, 3], done: [2] });
    expect(readFileSync(file(2)).equals(whole)).toBe(true);
    const changed = Buffer.from(whole);
    changed[changed.length - 20]! ^= 1;
    writeFileSync(file(3), changed);
    appendFileSync(join(mkdirOnce("cut"), ".halo-frames.jsonl"), '{"file":"out.0001.png","recipe":"x"');
    expect(await run("cut")).toMatchObject({ skipped: [1, 2], done: [3] });
    expect((await run("cut")).skipped).toEqual([1, 2, 3]);
  });
  test("makes again what another table of the same size made: view and input alike", async () => {
    const first = await run("table");
    const before = readFileSync(first.file(1));
    expect((await run("table", { scale3d: 0.5 })).done).toEqual([1, 2, 3]);
    expect(readFileSync(first.file(1)).equals(before)).toBe(false);
    const through = (scale: number) => ({ ...encodingByName("linear-ap1"), name: "own", table: table(scale) });
    await run("input", { inEncoding: through(1) });
    expect((await run("input", { inEncoding: through(1) })).skipped).toEqual([1, 2, 3]);
    expect((await run("input", { inEncoding: through(0.25) })).done).toEqual([1, 2, 3]);
  });
});

describe("resuming goes by content", () => {
  const picture = async (seed: number) => {
    const data = Float32Array.from({ length: size.width * size.height * 4 }, (_, i) =>
      (i & 3) === 3 ? 1 : ((i * seed) % 89) / 89,
    );
    return writePng({ ...size, data }, { depth: "8" });
  };
  const own = mkdtempSync(join(tmpdir(), "halo-content-"));
  const file = (frame: number) => join(own, `f.000${frame}.png`);
  const job = (more: Partial<RenderJob> = {}) => ({ source: openSource(join(own, "f.%04d.png")), ...more });

  test("other footage of the same size and time is made anew", async () => {
    const [a, b] = [await picture(7), await picture(11)];
    const length = Math.max(a.length, b.length);
    // Padded behind their end, both files are as long; their times are set alike.
    const padded = (bytes: Buffer) => Buffer.concat([bytes, Buffer.alloc(length - bytes.length)]);
    const time = new Date(1_700_000_000_000);
    for (const frame of [1, 2, 3]) {
      writeFileSync(file(frame), padded(a));
      utimesSync(file(frame), time, time);
    }
    expect((await run("content", job())).done).toEqual([1, 2, 3]);
    writeFileSync(file(2), padded(b));
    utimesSync(file(2), time, time);
    expect(await run("content", job())).toMatchObject({ skipped: [1, 3], done: [2] });
  });

  test("a frame that was filled for a gap is made when the real one is there, be it the same picture", async () => {
    const [a, b] = [await picture(7), await picture(11)];
    const gap = mkdtempSync(join(tmpdir(), "halo-gap-"));
    const at = (frame: number) => join(gap, `g.000${frame}.png`);
    const source = () => openSource(join(gap, "g.%04d.png"));
    writeFileSync(at(1), a);
    writeFileSync(at(3), b);
    for (const gaps of ["hold", "black"] as const) {
      const name = `gap-${gaps}`;
      expect((await run(name, { source: source(), gaps })).done).toEqual([1, 2, 3]);
      writeFileSync(at(2), a);
      expect(await run(name, { source: source(), gaps })).toMatchObject({ skipped: [1, 3], done: [2] });
      rmSync(at(2));
    }
  });

  test("what a late channel is taken from is part of it", async () => {
    for (const frame of [1, 2, 3]) writeFileSync(file(frame), await picture(5 * frame));
    const look = lookOf([{ kind: "channelLag", params: { red: 0, green: 1, blue: 0 } }]);
    expect((await run("lag", job({ look }))).done).toEqual([1, 2, 3]);
    writeFileSync(file(1), await picture(31));
    expect(await run("lag", job({ look }))).toMatchObject({ skipped: [3], done: [1, 2] });
  });
});

test("a file that holds all frames is there only if all are in it", async () => {
  const path = join(mkdirOnce("movie"), "all.y4m");
  const job = { output: parsePattern(path), resume: false };
  const part = await run("movie", { ...job, sink: movieSink(path), frames: [[1, 4]], gaps: "refuse" });
  expect(part).toMatchObject({ isWhole: false, done: [1, 2, 3] });
  expect(() => readFileSync(path)).toThrow(/ENOENT/);
  expect((await run("movie", { ...job, sink: movieSink(path) })).isWhole).toBe(true);
  expect(openSource(path).frames).toEqual([[1, 3]]);
});

test("a look that acts at some frames only is computed at those, and hands the others on", async () => {
  const when = {
    strength: {
      keys: [
        { frame: 1, value: 0, ease: "hold" },
        { frame: 3, value: 1, ease: "hold" },
      ],
    },
  };
  const look = lookOf([{ kind: "trim", strength: 0, params: { exposure: 1 }, when }], {}, undefined, "plain");
  const { file } = await run("timed", { look, resume: false });
  const sum = (codes: ArrayLike<number>) => Array.from(codes).reduce((total, code) => total + code, 0);
  const [same, brighter] = await Promise.all(
    [2, 3].map(async (number) => {
      const paths = [join(folder, `in.000${number}.png`), file(number)];
      const [was, is] = await Promise.all(paths.map(async (path) => (await loadImage(path)).pixels.data));
      return [Buffer.from(was!).equals(Buffer.from(is!)), sum(is!) / sum(was!)];
    }),
  );
  expect(same).toEqual([true, 1]);
  expect(brighter![0]).toBe(false);
  expect(brighter![1]).toBeGreaterThan(1.05);
});
