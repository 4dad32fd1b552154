import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import type { Layer } from "../../formats/format";
import { readExr } from "../../formats/exr/read";
import { writeExr } from "../../formats/exr/write";
import { readFileSync } from "node:fs";
import { lookOf } from "../../testing/laboratory";
import { renderOne } from "../../testing/render-one";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { startEngine } from "../engine/engine";
import { parsePattern } from "../footage/sequence";
import { openSource } from "../footage/source";
import type { RenderJob } from "./job";
import { lossesOfJob } from "./losses";

const { engine, close } = startEngine(1);
const folder = mkdtempSync(join(tmpdir(), "halo-layers-"));
afterAll(() => {
  close();
  rmSync(folder, { recursive: true, force: true });
});
const [WIDTH, HEIGHT] = [320, 180];

/** A checker of soft squares: the picture, and a matte that is the same. */
const soft = (x: number, y: number) => 0.5 + 0.4 * Math.sin(x / 7) * Math.cos(y / 9);
const light = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => soft(i % WIDTH, Math.floor(i / WIDTH)));
const input = join(folder, "in.exr");

async function rendered(layers: "keep" | "warp" | "drop", scale = 1) {
  const data = new Float32Array(4 * WIDTH * HEIGHT).fill(1);
  light.forEach((value, i) => data.fill(value, 4 * i, 4 * i + 3));
  const own: Layer[] = [
    { name: "id.object", type: "uint", data: Uint32Array.from(light, (_, i) => 4_000_000_000 + (i % 7)) },
    { name: "matte.R", type: "float", data: light },
    { name: "matte.vignette.with.a.name.over.31.bytes", type: "half", data: light },
  ];
  writeFileSync(input, await writeExr({ width: WIDTH, height: HEIGHT, data, layers: own }, { depth: "float" }));
  const look = lookOf([
    { kind: "distortion", params: { fit: "keep" }, strength: 3 },
    { kind: "lateralColour", strength: 3 },
    { kind: "trim", params: { exposure: -2 } },
  ]);
  const output = join(folder, `${layers}-${scale}.exr`);
  await renderOne(engine, { look, input, output, layers, scale });
  return readExr(output, readFileSync(output), { layers: true });
}

test("mattes are moved as the picture is, and by nothing else: no exposure, no colour's own way", async () => {
  const { layers, pixels } = await rendered("warp");
  expect(layers!.map(({ name, type }) => [name, type])).toEqual([
    ["matte.R", "float"],
    ["matte.vignette.with.a.name.over.31.bytes", "half"],
  ]);
  // Green is the colour that lateral colour leaves where it is; exposure is undone by hand.
  const green = Float32Array.from(light, (_, i) => 4 * (pixels.data as Float32Array)[4 * i + 1]!);
  for (const { data } of layers!)
    expect(Math.max(...data.map((value, i) => Math.abs(value - green[i]!)))).toBeLessThan(2e-3);
  expect(Math.max(...layers![0]!.data.map((value, i) => Math.abs(value - light[i]!)))).toBeGreaterThan(0.05);
});

test("layers that are kept are the same to the bit, whole numbers too", async () => {
  const { layers } = await rendered("keep");
  const [id, matte] = [
    layers!.find(({ name }) => name === "id.object")!,
    layers!.find(({ name }) => name === "matte.R")!,
  ];
  expect([...id.data.slice(0, 3)]).toEqual([4_000_000_000, 4_000_000_001, 4_000_000_002]);
  expect(matte.data).toEqual(light);
});

test("dropped layers are not there; at half the size they are as large as the picture", async () => {
  expect((await rendered("drop")).layers).toBeUndefined();
  const half = await rendered("warp", 0.5);
  expect(half.layers![0]!.data).toHaveLength((WIDTH * HEIGHT) / 4);
});

test("what is lost is what is not there: whole numbers only where something is resampled", async () => {
  const image = await readExr(input, readFileSync(input), { layers: true });
  const lost = (kinds: string[], more: Partial<RenderJob> = {}) =>
    lossesOfJob(
      {
        look: lookOf(kinds.map((kind) => ({ kind, strength: 3 }))),
        cabinet: cabinetOf(demoProfiles()),
        output: parsePattern("out.exr"),
        source: openSource(input),
        frames: [[1, 1]],
        shot: [[1, 1]],
        layers: "warp",
        scale: 1,
        ...more,
      } as RenderJob,
      image,
    );
  expect(lost(["glow"])).toEqual([]);
  expect(lost(["distortion"])).toEqual(["layers id.object"]);
  expect(lost(["distortion"], { layers: "keep" })).toEqual([]);
  expect(lost([], { layers: "keep", scale: 0.5 })).toEqual(["layers id.object"]);
});
