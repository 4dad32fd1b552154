import { expect, test } from "vitest";
import { at, flat, impulse, lookOf, through, total } from "../../../testing/laboratory";

const veiled = (params: Record<string, unknown>, frame: ReturnType<typeof flat>) =>
  through(lookOf([{ kind: "veil", params }]), frame);

test.each([
  [640, 360],
  [637, 353],
  [101, 77],
])("of %i x %i: the veil's mean is its share of the frame's, wherever a lamp stands", (width, height) => {
  for (const follows of [0, 0.4, 1])
    for (const [x, y] of [
      [0, 0],
      [width - 1, height - 1],
      [width - 1, 3],
      [width >> 1, height >> 1],
      [7, height - 2],
    ] as const) {
      const out = veiled({ fraction: 10, follows }, impulse(width, height, x, y, 5000));
      expect((total(out) / 5000 - 1) / 0.1, `${follows} at ${x}, ${y}`).toBeGreaterThan(0.995);
      expect((total(out) / 5000 - 1) / 0.1, `${follows} at ${x}, ${y}`).toBeLessThan(1.005);
    }
});

test("what follows lies on the lamp's side, smoothly, and what is even is the same everywhere", () => {
  const lamp = impulse(640, 360, 60, 40, 5000);
  const even = veiled({ fraction: 10, follows: 0 }, lamp);
  expect(at(even, 600, 300)).toBeCloseTo(at(even, 100, 200), 7);
  const following = veiled({ fraction: 10, follows: 1 }, lamp);
  expect(at(following, 80, 60)).toBeGreaterThan(20 * at(following, 500, 300));
  const row = Array.from({ length: 600 }, (_, x) => at(following, x, 60));
  const steps = row.slice(1).map((light, x) => Math.abs(light - row[x]!));
  expect(Math.max(...steps.filter((_, x) => x < 55 || x > 65))).toBeLessThan(0.02 * Math.max(...row.slice(70)));
});

test("a frame of one pixel has its own light for a mean", () => {
  expect(at(veiled({ fraction: 10 }, flat(1, 1, 2)), 0, 0)).toBeCloseTo(2.2, 5);
});
