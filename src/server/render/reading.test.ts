import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { between } from "../../core/frame/ranges";
import { writeExr } from "../../formats/exr/write";
import { lookOf } from "../../testing/laboratory";
import { jobOf } from "../../testing/render-one";
import { startEngine } from "../engine/engine";
import { frameSink } from "./output";
import { frameReader } from "./reading";
import { renderFrames } from "./render";

const [WIDTH, HEIGHT] = [64, 40];
const folder = mkdtempSync(join(tmpdir(), "halo-reading-"));
const { engine, close } = startEngine(1);
const CUT_OFF = 3;

beforeAll(async () => {
  for (let frame = 1; frame <= 4; frame++) {
    const data = new Float32Array(4 * WIDTH * HEIGHT).fill(1);
    for (let i = 0; i < data.length; i += 4) data[i] = (i % 97) / 97 + frame;
    const z = new Float32Array(WIDTH * HEIGHT).fill(frame);
    const bytes = await writeExr({ width: WIDTH, height: HEIGHT, data, z }, { depth: "half" });
    writeFileSync(join(folder, `in.000${frame}.exr`), frame === CUT_OFF ? bytes.subarray(0, bytes.length / 2) : bytes);
  }
});
afterAll(() => {
  close();
  rmSync(folder, { recursive: true });
});

const job = (kinds: string[], out: string) => {
  const look = lookOf(kinds.map((kind) => ({ kind })));
  const frames = between(1, 4);
  return jobOf(join(folder, "in.%04d.exr"), join(folder, out), { look, frames, shot: frames });
};

test("a frame that was read ahead is the one that is asked for, and its room is given back", async () => {
  const before = engine.heap.inUse;
  const reader = frameReader(engine, job([], "a.%04d.exr"));
  reader.prefetch(2);
  const { image, release } = await reader.read(2);
  expect([image.width, image.height, image.pixels.data[0]]).toEqual([WIDTH, HEIGHT, 2]);
  expect(engine.heap.inUse - before).toBe(4 * 4 * WIDTH * HEIGHT);
  release();
  expect(engine.heap.inUse).toBe(before);
  reader.prefetch(1);
  const other = await reader.read(4);
  expect(other.image.pixels.data[0]).toBe(4);
  other.release();
  reader.prefetch(1);
  await reader.end();
  expect(engine.heap.inUse).toBe(before);
  await expect(reader.read(CUT_OFF)).rejects.toThrow("in.0003.exr");
  expect(engine.heap.inUse).toBe(before);
});

test.each([
  ["as they are", []],
  ["through glass", ["diffusion", "distortion"]],
])("frames %s leave nothing in the engine's memory, whether they are made, fail or are stopped", async (_, kinds) => {
  const made: number[] = [];
  const failed: number[] = [];
  const events = { done: (frame: number) => void made.push(frame), failed: (frame: number) => void failed.push(frame) };
  const own = job(kinds, `${kinds.length}.%04d.exr`);
  await renderFrames(engine, own, events);
  expect([made, failed]).toEqual([[1, 2, 4], [CUT_OFF]]);
  const before = engine.heap.inUse;
  const full = () => Promise.reject(new Error("the disk is full"));
  await renderFrames(engine, { ...own, sink: { ...frameSink, write: full } }, events);
  expect(made).toHaveLength(3);
  await renderFrames(engine, own, { ...events, stopped: () => made.length >= 4 });
  await renderFrames(engine, own, events);
  expect(engine.heap.inUse).toBe(before);
});
