import { describe, expect, test } from "vitest";
import { at, bench, flat, impulse, total } from "../../testing/laboratory";
import type { Frame } from "../image/image";
import { PlanBuilder } from "../engine/plan";
import { nonNegativeLeastSquares } from "../maths/non-negative";
import { fitSpread, gaussianWeights } from "./fit";
import { planGaussian } from "./gaussian";
import { type Colour, planSpread } from "./plan";

let serial = 0;

/** What a plan of one step makes of a frame. */
function made(frame: Frame, plan: (builder: PlanBuilder) => number): Frame {
  const { width, height, data } = frame;
  const builder = new PlanBuilder(width, height, `spread test ${serial++}`);
  builder.step("made", plan(builder));
  const bytes = bench.engine.run(builder.finish(), () => data);
  return { width, height, data: new Float32Array(bytes.slice().buffer) };
}

const colour = (weight: number): Colour => [weight, weight, weight];

/** A frame spread by a fit, with what stays in place. */
const spread = (
  frame: Frame,
  { bank, weights, stay }: ReturnType<typeof fitSpread>,
  surround: "black" | "extend" = "black",
) =>
  made(frame, (builder) =>
    planSpread(builder, 0, { fit: { bank }, weights: weights.map(colour), under: colour(stay), surround }),
  );

/** Shapes with a closed form, px: their tails differ as those of filters do. */
const SHAPES = {
  "two exponentials": (r: number) => Math.exp(-r / 5) + 0.02 * Math.exp(-r / 22),
  "an exponential": (r: number) => Math.exp(-r / 14),
  "a power of the distance": (r: number) => (1 + (r / 6) ** 2) ** -1.5,
} as const;
const GAUSSIAN = (r: number) => Math.exp(-0.5 * (r / 12) ** 2);

describe("a bank of blurs, fitted to a profile", () => {
  test.each(Object.entries(SHAPES))("holds %s, keeps all light, and takes none away anywhere", (_, profile) => {
    const fit = fitSpread(profile, 480, 1, 200);
    expect(fit.error).toBeLessThan(0.05);
    expect(Math.min(...fit.weights)).toBeGreaterThanOrEqual(0);
    expect(fit.weights.reduce((sum, weight) => sum + weight, fit.stay)).toBeCloseTo(1, 6);
  });

  test.each(Object.entries(SHAPES))("makes of one lamp %s, round to a few hundredths", (_, profile) => {
    const [size, middle] = [257, 128];
    const fit = fitSpread(profile, size, 1, 110);
    const frame = spread(impulse(size, size, middle, middle, 1000), fit);
    const along = (r: number) =>
      Array.from({ length: 8 }, (_, k) => {
        const angle = (k * Math.PI) / 4;
        return at(frame, middle + Math.round(r * Math.cos(angle)), middle + Math.round(r * Math.sin(angle)));
      });
    for (const r of [8, 16, 24]) {
      // Diagonal places lie at whole pixels: each is held against the profile at its own distance.
      const scaled = along(r).map((value, k) => {
        const angle = (k * Math.PI) / 4;
        const own = Math.hypot(Math.round(r * Math.cos(angle)), Math.round(r * Math.sin(angle)));
        return Math.log10(value / profile(own));
      });
      expect(Math.max(...scaled) - Math.min(...scaled), `${r} px`).toBeLessThan(0.05);
    }
    const [near, far] = [8, 24].map((r) => along(r)[0]!);
    expect(Math.log10(near! / far!)).toBeCloseTo(Math.log10(profile(8) / profile(24)), 1);
  });

  test.each([
    [97, 61],
    [640, 33],
    [31, 200],
    [256, 256],
  ])("leaves an even field even where its edges go on, at %i x %i", (width, height) => {
    const fit = fitSpread(SHAPES["a power of the distance"], height, 1, height);
    const frame = spread(flat(width, height, 0.18), fit, "extend");
    for (const value of [at(frame, 0, 0), at(frame, width - 1, height - 1), at(frame, width >> 1, height >> 1)])
      expect(value).toBeCloseTo(0.18, 4);
  });

  test("gives all light of a lamp back within the frame, where it reaches no edge", () => {
    const fit = fitSpread(GAUSSIAN, 301, 1, 60);
    const lamp = impulse(301, 301, 150, 150, 50);
    expect(total(spread(lamp, fit)) / total(lamp)).toBeCloseTo(1, 3);
  });

  test("is as wide on squeezed footage as it is high, on the plane it was seen on", () => {
    const stretch = 2;
    const fit = fitSpread(GAUSSIAN, 257, stretch, 60);
    const frame = spread(impulse(257, 257, 128, 128, 1000), fit);
    // Ten px down are five px of twice the width across.
    expect(at(frame, 128 + 5, 128) / at(frame, 128, 128 + 10)).toBeCloseTo(1, 1);
  });
});

test("non-negative least squares gives what a mixture was made of, and nothing below zero", () => {
  const columns = [
    [1, 2, 3, 4],
    [4, 1, 0, 2],
    [0, 3, 1, 1],
  ];
  const of = (w: number[]) => [0, 1, 2, 3].map((i) => w.reduce((sum, weight, m) => sum + weight * columns[m]![i]!, 0));
  nonNegativeLeastSquares(columns, of([0.5, 0, 2])).forEach((weight, m) =>
    expect(weight).toBeCloseTo([0.5, 0, 2][m]!, 9),
  );
  expect(Math.min(...nonNegativeLeastSquares(columns, of([1, -0.4, 0.2])))).toBeGreaterThanOrEqual(0);
});

test("a Gaussian's weights are one's two nearest members, mixed to its variance", () => {
  const members = [1, 2, 4].map((sigma) => ({ sigma, at: () => 0 }));
  const weights = gaussianWeights(members, 3);
  expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1);
  expect(weights.reduce((sum, weight, m) => sum + weight * members[m]!.sigma ** 2, 0)).toBeCloseTo(9);
  expect(gaussianWeights(members, 0.5)).toEqual([1, 0, 0]);
  expect(gaussianWeights(members, 9)).toEqual([0, 0, 1]);
});

/** Variance of a lamp's light along x and along y, px². */
function variances({ width, height, data }: Frame): [number, number] {
  let [sum, sx, sy, sxx, syy] = [0, 0, 0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const light = data[(y * width + x) * 4 + 1]!;
      sum += light;
      sx += light * x;
      sy += light * y;
      sxx += light * x * x;
      syy += light * y * y;
    }
  return [sxx / sum - (sx / sum) ** 2, syy / sum - (sy / sum) ** 2];
}

describe("a Gaussian blur", () => {
  test.each([
    [0.6, 0.6],
    [1.5, 1.5],
    [4, 4],
    [9, 3],
    [2, 14],
    [17.3, 17.3],
  ])("of %f by %f px has those variances, keeps all light, and stays where it is", (sigmaX, sigmaY) => {
    const size = 241;
    const lamp = impulse(size, size, 120, 120, 100);
    const frame = made(lamp, (builder) => planGaussian(builder, 0, sigmaX, sigmaY, { black: true }));
    const [x, y] = variances(frame);
    expect(Math.sqrt(x) / sigmaX).toBeCloseTo(1, 1);
    expect(Math.sqrt(y) / sigmaY).toBeCloseTo(1, 1);
    expect(total(frame) / total(lamp)).toBeCloseTo(1, 3);
    expect(at(frame, 120 - 3, 120)).toBeCloseTo(at(frame, 120 + 3, 120), 2);
  });

  test.each([
    [53, 37],
    [1, 64],
    [200, 9],
  ])("leaves an even field even at %i x %i", (width, height) => {
    const frame = made(flat(width, height, 2), (builder) => planGaussian(builder, 0, 6, 6));
    expect(at(frame, 0, 0)).toBeCloseTo(2, 4);
    expect(at(frame, width - 1, height - 1)).toBeCloseTo(2, 4);
  });
});
