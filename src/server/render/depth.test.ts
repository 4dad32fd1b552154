import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { writeExr } from "../../formats/exr/write";
import { lookOf } from "../../testing/laboratory";
import { renderOne } from "../../testing/render-one";
import { startEngine } from "../engine/engine";

const { engine } = startEngine(1);
const folder = mkdtempSync(join(tmpdir(), "halo-depth-"));
const [WIDTH, HEIGHT] = [320, 180];

/** A near bar before a far ground, its light the inverse of its distance: what moves the one must move the other. */
async function rendered(kinds: string[], scale: number) {
  const z = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => (i % WIDTH > 20 && i % WIDTH < 60 ? 2 : 8));
  const data = new Float32Array(WIDTH * HEIGHT * 4).fill(1);
  z.forEach((distance, i) => data.fill(1 / distance, 4 * i, 4 * i + 3));
  const [input, output] = [join(folder, "in.exr"), join(folder, `out-${kinds.join("-")}-${scale}.exr`)];
  writeFileSync(input, await writeExr({ width: WIDTH, height: HEIGHT, data, z }, { depth: "float" }));
  const look = lookOf(
    kinds.map((kind) => ({ kind, params: kind === "distortion" ? { fit: "keep" } : {}, strength: 4 })),
  );
  return { before: z, after: await renderOne(engine, { look, input, output, scale }) };
}

test.each([
  ["the lens's distortion", ["distortion"], 1],
  ["half the size", [], 0.5],
  ["both, and glass that moves nothing", ["glow", "distortion"], 0.5],
] as const)("%s: depth is where the picture is, and of its size", async (_, kinds, scale) => {
  const { before, after } = await rendered([...kinds], scale);
  const { width, pixels, z } = after;
  expect([width, z!.length]).toEqual([WIDTH * scale, WIDTH * HEIGHT * scale * scale]);
  const light = pixels.data as Float32Array;
  if (!kinds.includes("glow" as never))
    z!.forEach((distance, i) => expect(Math.abs(1 / distance - light[4 * i + 1]!)).toBeLessThan(1e-4));
  const near = (of: Float32Array) => of.filter((distance) => distance < 4).length;
  expect(near(z!)).toBeGreaterThan(100);
  if (kinds.length) expect(near(z!)).not.toBe(near(before) * scale * scale);
});
