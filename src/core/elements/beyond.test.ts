import { describe, expect, test } from "vitest";
import { at, flat, lookOf, through } from "../../testing/laboratory";
import type { Frame } from "../image/image";

/** Light from the darkest to twice the largest half, and its opposite, a pixel each. */
const LIGHTS = Array.from({ length: 256 }, (_, i) => 2 ** (i / 8 - 14));
const ramp: Frame = flat(LIGHTS.length, 2, 0);
LIGHTS.forEach((light, x) => {
  ramp.data.set([light, light, light, 1], 4 * x);
  ramp.data.set([-light, -light, -light, 1], 4 * (LIGHTS.length + x));
});
const after = (kind: string, params: Record<string, unknown>, strength = 1) => {
  const out = through(lookOf([{ kind, strength, params }]), ramp);
  return LIGHTS.map((_, x) => at(out, x, 0));
};

describe("a curve goes on beyond its last point by its last slope", () => {
  const diagonal = [
    [-6, -6],
    [6, 6],
  ];
  test("an identity curve leaves the brightest light alone", () => {
    after("curves", { master: diagonal, red: diagonal, green: diagonal, blue: diagonal }).forEach((light, i) =>
      expect(Math.abs(light / LIGHTS[i]! - 1)).toBeLessThan(2e-6),
    );
  });
  test("a hundredth of a tone takes a hundredth of its stops, whatever the light", () => {
    const [full, little] = [after("tone", {}), after("tone", {}, 0.01)];
    LIGHTS.forEach((light, i) => {
      const [all, part] = [full, little].map((out) => Math.log2(out[i]! / light)) as [number, number];
      expect(Math.abs(part - 0.01 * all)).toBeLessThan(1e-3);
    });
  });
  test.each([
    ["tone", { shoulder: 0.9, toe: 1 }],
    [
      "curves",
      {
        master: [
          [-6, -5],
          [0, 0],
          [6, 3],
        ],
      },
    ],
    [
      "halation",
      {
        rollOff: [
          [-12, -12],
          [1, 0.2],
          [8, 2.5],
        ],
      },
    ],
  ])("%s: brighter light stays brighter, to twice the largest half", (kind, params) => {
    const out = after(kind, params);
    out.slice(1).forEach((light, i) => expect(light).toBeGreaterThan(out[i]!));
  });
});
