import { describe, expect, test } from "vitest";
import { contrastAt, measureEdge } from "./edge";
import { measureFlat } from "./flat";
import { MeasureError, type Plane } from "./plane";
import { measurePoint } from "./point";

/** Numbers of a linear congruential generator (Numerical Recipes' constants), summed to near-normal noise of deviation 1. */
function noise(seed: number): () => number {
  let state = seed;
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  return () =>
    next() + next() + next() + next() + next() + next() + next() + next() + next() + next() + next() + next() - 6;
}

const painted = (width: number, height: number, light: (x: number, y: number) => number): Plane => ({
  width,
  height,
  data: Float64Array.from({ length: width * height }, (_, i) => light(i % width, Math.floor(i / width))),
});

describe("a slanted edge blurred by a Gaussian", () => {
  const deviation = 0.9;
  /** The error function by its power series. */
  const erf = (x: number) => {
    if (Math.abs(x) > 4) return Math.sign(x);
    let [term, sum] = [x, x];
    for (let n = 1; n < 80; n++) {
      term *= (-x * x) / n;
      sum += term / (2 * n + 1);
    }
    return (2 / Math.sqrt(Math.PI)) * sum;
  };
  const chart = (degrees: number, upright: boolean, grain = 0) => {
    const [s, c] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
    const next = noise(7);
    return painted(96, 96, (x, y) => {
      const across = (upright ? x - 47.3 : y - 47.3) * c + (upright ? y - 48 : x - 48) * s;
      return 0.05 + 0.225 * (1 + erf(across / (deviation * Math.SQRT2))) + grain * next();
    });
  };

  test.each([
    [5, true],
    [-7, true],
    [12, false],
  ] as const)("by %d°, upright %s: contrast is the Gaussian's within 0.01", (degrees, upright) => {
    const measured = measureEdge(chart(degrees, upright));
    expect(Math.abs(measured.angle)).toBeCloseTo(Math.abs(degrees), 1);
    expect(Math.abs(measured.normal[upright ? 0 : 1])).toBeCloseTo(Math.cos((degrees * Math.PI) / 180), 3);
    for (const f of [0.05, 0.1, 0.2, 0.3, 0.4])
      expect(
        Math.abs(contrastAt(measured, f) - Math.exp(-2 * (Math.PI * deviation * f) ** 2)),
        `${f} cycles/px`,
      ).toBeLessThan(0.01);
  });

  test("noise of 1 % leaves it within 0.04", () => {
    const measured = measureEdge(chart(5, true, 0.0045));
    for (const f of [0.05, 0.1, 0.2, 0.3])
      expect(
        Math.abs(contrastAt(measured, f) - Math.exp(-2 * (Math.PI * deviation * f) ** 2)),
        `${f} cycles/px`,
      ).toBeLessThan(0.04);
  });

  test("what is not a slanted edge is refused with its reason", () => {
    expect(() => measureEdge(painted(96, 96, () => 0.2))).toThrow(/no edge/);
    expect(() => measureEdge(chart(0, true))).toThrow(/too straight/);
    expect(() => measureEdge(painted(8, 8, (x) => x))).toThrow(MeasureError);
  });
});

describe("a flat field", () => {
  const [width, height] = [320, 180];
  const fall = (x: number, y: number) =>
    Math.cos(Math.atan(Math.hypot(x - (width - 1) / 2, y - (height - 1) / 2) / 300)) ** 4;

  test("cosine to the fourth is found within 0.004, through 1 % noise and dust", () => {
    const next = noise(3);
    const measured = measureFlat(
      painted(width, height, (x, y) => (x % 40 < 3 && y % 40 < 3 ? 0.05 : 0.6 * fall(x, y) * (1 + 0.01 * next()))),
    );
    expect(measured.radii.length).toBeGreaterThan(20);
    measured.radii.forEach((radius, i) => {
      const wanted = Math.cos(Math.atan(radius / 300)) ** 4;
      expect(Math.abs(measured.relative[i]! - wanted), `${radius} px`).toBeLessThan(
        0.004 + 3 * measured.uncertainty[i]!,
      );
    });
  });

  test("a black field is refused", () => expect(() => measureFlat(painted(128, 128, () => 0))).toThrow(/black/));
});

describe("a point of light", () => {
  test("an exponential spread is found within 0.05 log10 over a decade and a half, off the pixel grid and over a background", () => {
    const [cx, cy, length] = [120.3, 118.7, 6];
    const density = (r: number) => Math.exp(-r / length) / (2 * Math.PI * length ** 2);
    /** Mean over the ring about a radius, eight rings a decade: the closed integral of the density. */
    const ringMean = (radius: number) => {
      const inner = radius * Math.sqrt(2 / (1 + 10 ** (2 / 8)));
      const outer = inner * 10 ** (1 / 8);
      const beyond = (r: number) => (1 + r / length) * Math.exp(-r / length);
      return (beyond(inner) - beyond(outer)) / (Math.PI * (outer ** 2 - inner ** 2));
    };
    const measured = measurePoint(painted(240, 240, (x, y) => 0.01 + 100 * density(Math.hypot(x - cx, y - cy))));
    expect([measured.x, measured.y].map((v, i) => Math.abs(v - [cx, cy][i]!)).every((miss) => miss < 0.3)).toBe(true);
    const checked = measured.radii
      .map((radius, i) => ({ radius, light: measured.light[i]! }))
      .filter(({ radius }) => radius > 1.5 && radius < 40);
    expect(checked.length).toBeGreaterThan(8);
    for (const { radius, light } of checked)
      expect(Math.abs(Math.log10(light / ringMean(radius))), `${radius} px`).toBeLessThan(0.05);
  });

  test("one beside the picture's edge is refused", () =>
    expect(() => measurePoint(painted(64, 64, (x, y) => (x === 3 && y === 30 ? 1 : 0)))).toThrow(/edge/));
});
