import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { writeExr } from "../../formats/exr/write";
import { steadyNow } from "../waiting/clock";
import { recordedLenses } from "./lens-data";
import { parsePattern } from "../footage/sequence";

const folder = mkdtempSync(join(tmpdir(), "halo-lens-"));
const pattern = parsePattern(join(folder, "a.%04d.exr"));
const deadline = () => ({ until: steadyNow() + 10_000 });

async function frame(number: number, focalLength: number) {
  const image = { width: 2, height: 2, data: new Float32Array(16) };
  const bytes = await writeExr(image, { depth: "half", lens: { focalLength, sensor: { width: 24.9, height: 14 } } });
  writeFileSync(join(folder, `a.${String(number).padStart(4, "0")}.exr`), bytes);
}

test("headers are read of the frames that are there: a gap of millions is not looked through", async () => {
  await frame(1, 35);
  await frame(2_900_000, 50);
  const source = {
    pattern,
    frames: [
      [1, 1],
      [2_900_000, 2_900_000],
    ] as [number, number][],
  };
  const { rows, sensor } = await recordedLenses(source, [[1, 2_900_000]], deadline());
  expect(rows).toEqual([
    { frame: 1, focalLength: 35 },
    { frame: 2_900_000, focalLength: 50 },
  ]);
  expect(sensor!.width).toBeCloseTo(24.9, 4);
  expect((await recordedLenses(source, [[2, 2_900_000]], deadline())).rows).toHaveLength(1);
});

test("nothing more is read for a request that is gone, and too many frames are refused", async () => {
  const source = { pattern, frames: [[1, 90_000]] as [number, number][] };
  const gone = AbortSignal.abort(new Error("gone"));
  await expect(recordedLenses(source, source.frames, { ...deadline(), signal: gone })).rejects.toThrow("gone");
  const many = { pattern, frames: [[1, 200_000]] as [number, number][] };
  await expect(recordedLenses(many, many.frames, deadline())).rejects.toThrow(/has 200000 frames/);
});
