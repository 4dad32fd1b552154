import { describe, expect, test } from "vitest";
import { at, bench, flat } from "../../../testing/laboratory";
import { PlanBuilder } from "../../engine/plan";
import { addProgram, type Layer, type LayerMode, layerOperation } from "../../engine/pointwise";
import { floatsOf, type Frame } from "../../image/image";

/** A layer's lights down, a picture's across. */
const laid = (pictures: number[], layers: number[], layer: Layer): number[][] => {
  const [width, height] = [pictures.length, layers.length];
  const [a, b] = [flat(width, height, 0), flat(width, height, 0)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const set = (frame: Frame, light: number) => frame.data.fill(light, 4 * (y * width + x), 4 * (y * width + x) + 3);
      set(a, pictures[x]!);
      set(b, layers[y]!);
    }
  const builder = new PlanBuilder(width, height, `laid ${Math.random()}`);
  const picture = builder.source({ kind: "depth" });
  builder.step("laid", addProgram(builder, 0, builder.buffer(), [layerOperation(layer)], picture));
  const bytes = bench.engine.run(builder.finish(), (request) => (request ? a : b).data);
  const out = { width, height, data: floatsOf(bytes) };
  return layers.map((_, y) => pictures.map((__, x) => at(out, x, y)));
};

/** W3C Compositing and Blending 1, sections 9 and 10: of the backdrop cb and the source cs, 0 to 1. */
const PUBLISHED: Partial<Record<LayerMode, (cb: number, cs: number) => number>> = {
  add: (cb, cs) => cb + cs,
  screen: (cb, cs) => cb + cs - cb * cs,
  lighten: Math.max,
  multiply: (cb, cs) => cb * cs,
  overlay: (cb, cs) => (cb <= 0.5 ? 2 * cb * cs : 1 - 2 * (1 - cb) * (1 - cs)),
  dodge: (cb, cs) => (cb === 0 ? 0 : cs >= 1 ? 1 : Math.min(1, cb / (1 - cs))),
  soft(cb, cs) {
    if (cs <= 0.5) return cb - (1 - 2 * cs) * cb * (1 - cb);
    const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
    return cb + (2 * cs - 1) * (d - cb);
  },
};
const MODES = Object.keys(PUBLISHED) as LayerMode[];
const unit = Array.from({ length: 41 }, (_, i) => i / 41);
const far = Array.from({ length: 301 }, (_, i) => i / 100);

describe.each(MODES)("%s", (mode) => {
  test("of a picture is the published formula between 0 and 1", () => {
    const out = laid(unit, unit, { mode, amount: 1, isPicture: true });
    const misses = unit.flatMap((b, y) => unit.map((a, x) => Math.abs(out[y]![x]! - PUBLISHED[mode]!(a, b))));
    expect(Math.max(...misses)).toBeLessThan(2e-6);
  });
  test.each([true, false])(
    "never falls as picture or layer grows, and has no jump, above 1 too (a picture: %s)",
    (isPicture) => {
      const out = laid(far, far, { mode, amount: 1, isPicture });
      const steps = far.map((b, y) =>
        far
          .slice(1)
          .map((_, x) => ({ b, across: out[y]![x + 1]! - out[y]![x]!, down: y ? out[y]![x]! - out[y - 1]![x]! : 0 })),
      );
      const all = steps.flat();
      expect(all.reduce((least, { across, down }) => Math.min(least, across, down), 0)).toBeGreaterThan(-1e-5);
      // Dodging is as steep as published where the layer reaches 1.
      const smooth = all.filter(({ b }) => mode !== "dodge" || b < 0.9 || b > 1);
      expect(smooth.reduce((most, { across }) => Math.max(most, across), 0)).toBeLessThan(
        mode === "dodge" ? 1.01 : 0.05,
      );
    },
  );
  test("begins at nothing: no amount leaves the picture as it is, below black too", () => {
    const pictures = [-0.5, 0, 0.2, 0.7, 1, 3, 60000];
    for (const isPicture of [true, false])
      for (const out of laid(pictures, [0, 0.3, 1, 40], { mode, amount: 0, isPicture }))
        out.forEach((light, x) =>
          expect(Math.abs(light - pictures[x]!)).toBeLessThan(1e-6 * Math.max(1, pictures[x]!)),
        );
  });
  test("of light leaves the picture alone where there is none", () => {
    laid(unit, [0], { mode, amount: 1 })[0]!.forEach((light, x) => expect(light).toBeCloseTo(unit[x]!, 6));
  });
});
