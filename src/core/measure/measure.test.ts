import { describe, expect, test } from "vitest";
import { contrastAt, measureEdge } from "./edge";
import { measureFlat } from "./flat";
import { MeasureError, type Plane } from "./plane";
import { measurePoint } from "./point";

/**
 * Numbers of a linear congruential generator (Numerical Recipes' constants), summed to near-normal noise of deviation
 * 1.
 */
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
  const chart = (degrees: number, upright: boolean, grain = 0, { deviation = 0.9, size = 96, seed = 7 } = {}) => {
    const [s, c] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
    const next = noise(seed);
    return painted(size, size, (x, y) => {
      const [u, v] = [x - size / 2 + 0.7, y - size / 2];
      const across = upright ? u * c + v * s : (v + 0.7) * c + (u - 0.7) * s;
      return 0.05 + 0.225 * (1 + erf(across / (deviation * Math.SQRT2))) + grain * next();
    });
  };

  const gaussian = (f: number, deviation: number) => Math.exp(-2 * (Math.PI * deviation * f) ** 2);

  test.each([
    [5, true, 0.5, 96],
    [-7, true, 0.9, 96],
    [12, false, 0.9, 96],
    [5, true, 4, 96],
    [5, true, 7, 120],
    [-3, false, 12, 200],
  ] as const)("by %d°, upright %s, %d px soft: contrast is the Gaussian's within 0.002", (...given) => {
    const [degrees, upright, deviation, size] = given;
    const measured = measureEdge(chart(degrees, upright, 0, { deviation, size }));
    expect(Math.abs(measured.angle)).toBeCloseTo(Math.abs(degrees), 1);
    expect(Math.abs(measured.normal[upright ? 0 : 1])).toBeCloseTo(Math.cos((degrees * Math.PI) / 180), 3);
    for (const f of [0.01, 0.02, 0.05, 0.1, 0.2, 0.3, 0.4])
      expect(Math.abs(contrastAt(measured, f) - gaussian(f, deviation)), `${f} cycles/px`).toBeLessThan(0.002);
  });

  test("over 200 noisy charts the uncertainty holds 68 % once and 95 % twice", () => {
    let [once, twice, all] = [0, 0, 0];
    for (let seed = 1; seed <= 200; seed++) {
      const deviation = seed % 2 ? 0.9 : 2;
      const measured = measureEdge(
        chart([5, -7, 3, 9][seed % 4]!, true, 0.0045 * (1 + (seed % 3)), { deviation, seed }),
      );
      measured.frequencies.forEach((f, i) => {
        if (!i) return;
        const off = Math.abs(measured.contrast[i]! - gaussian(f, deviation)) / measured.uncertainty[i]!;
        [once, twice, all] = [once + Number(off < 1), twice + Number(off < 2), all + 1];
      });
    }
    expect(once / all).toBeGreaterThan(0.66);
    expect(once / all).toBeLessThan(0.8);
    expect(twice / all).toBeGreaterThan(0.94);
  });

  test("what is not a slanted edge is refused with its reason", () => {
    expect(() => measureEdge(painted(96, 96, () => 0.2))).toThrow(/no edge/);
    expect(() => measureEdge(chart(0, true))).toThrow(/too straight/);
    expect(() => measureEdge(painted(8, 8, (x) => x))).toThrow(MeasureError);
  });

  /** An edge along any line, pixels as the Gaussian of 0.9 px draws them, with noise of 0.5 %. */
  const drawn = (light: (across: (place: number) => number) => number, bow = 0, grain = 0.002) => {
    const next = noise(5);
    return painted(96, 96, (x, y) => {
      const at = x - 47.3 + 0.1 * (y - 48) + bow * ((y - 48) / 48) ** 2;
      return light((place) => 0.5 * (1 + erf((at - place) / (0.9 * Math.SQRT2)))) + grain * next();
    });
  };

  test.each([
    [
      "a clipped bright side",
      drawn((at) => 0.05 + 0.6 * at(0)),
      (v: number) => Math.min(0.5, v),
      /bright side.*clipped/,
    ],
    ["a clipped dark side", drawn((at) => 0.6 * at(0)), (v: number) => Math.max(0.15, v), /dark side.*clipped/],
    ["one without noise", drawn((at) => 0.6 * at(0), 0, 0), (v: number) => Math.min(0.4, v), /bright side.*clipped/],
    ["a curved edge", drawn((at) => 0.1 + 0.4 * at(0), 1), (v: number) => v, /curved/],
    ["a doubled edge", drawn((at) => 0.1 + 0.2 * at(-4) + 0.2 * at(5)), (v: number) => v, /more than one edge/],
    ["a line", drawn((at) => 0.1 + 0.4 * at(-3) - 0.4 * at(3)), (v: number) => v, /more than one edge|no edge|lost/],
    [
      "a pattern of lines",
      drawn((at) => 0.1 + 0.4 * (at(-18) - at(-12) + at(-6) - at(0) + at(6) - at(12) + at(18))),
      (v: number) => v,
      /more than one edge|lost/,
    ],
  ] as const)("%s is refused", (_, plane, cut, reason) => {
    expect(() => measureEdge({ ...plane, data: Array.from(plane.data, cut) })).toThrow(reason);
  });

  test("sharpening's overshoot is measured, and light spread beyond the edge is told", () => {
    const sharpened = drawn((at) => 0.1 + 0.4 * at(0) + 0.06 * (at(0) - at(3)) - 0.06 * (at(-3) - at(0)));
    expect(contrastAt(measureEdge(sharpened), 0.1)).toBeGreaterThan(1);
    const glowing = painted(200, 96, (x, y) => {
      const at = x - 99.3 + 0.1 * (y - 48);
      return 0.1 + 0.2 * (1 + erf(at / 1.3)) + 0.02 * Math.sign(at) * (1 - Math.exp(-Math.abs(at) / 40));
    });
    expect(measureEdge(glowing).beyond).toBeGreaterThan(0.02);
    expect(measureEdge(chart(5, true)).beyond).toBeLessThan(0.001);
  });

  test("an edge too soft for its region is refused with the room it needs", () =>
    expect(() => measureEdge(chart(5, true, 0, { deviation: 12, size: 96 }))).toThrow(/must reach \d+ px/));
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

  test("a steep fall is found in the corners, where the frame cuts the rings, within 0.001", () => {
    const steep = (radius: number) => (1 - (radius / 220) ** 2) ** 2;
    const measured = measureFlat(
      painted(width, height, (x, y) => steep(Math.hypot(x - (width - 1) / 2, y - (height - 1) / 2))),
    );
    const axis = measured.relative[0]! / steep(measured.radii[0]!);
    measured.radii.forEach((radius, i) =>
      expect(Math.abs(measured.relative[i]! / axis - steep(radius)), `${radius} px`).toBeLessThan(0.001),
    );
  });

  test("a black field is refused", () => expect(() => measureFlat(painted(128, 128, () => 0))).toThrow(/black/));
});

describe("a point of light", () => {
  const [cx, cy] = [120.3, 118.7];
  const pictured = (density: (r: number) => number, grain = 0) => {
    const next = noise(9);
    return painted(240, 240, (x, y) => 0.01 + 100 * density(Math.hypot(x - cx, y - cy)) + grain * next());
  };
  const exponential = (r: number) => Math.exp(-r / 6) / (2 * Math.PI * 36);
  const gaussian = (deviation: number) => (r: number) =>
    Math.exp(-(r ** 2) / (2 * deviation ** 2)) / (2 * Math.PI * deviation ** 2);

  test.each([
    ["an exponential spread", exponential, 40, 0.03],
    ["a Gaussian of 2 px, to five deviations", gaussian(2), 10, 0.05],
    ["a Gaussian of 5 px, to five deviations", gaussian(5), 25, 0.05],
  ] as const)("%s is found, off the pixel grid and over a background", (_, density, furthest, close) => {
    const measured = measurePoint(pictured(density));
    expect(Math.hypot(measured.x - cx, measured.y - cy)).toBeLessThan(0.02);
    const checked = measured.radii
      .map((radius, i) => ({ radius, light: measured.light[i]! }))
      .filter(({ radius }) => radius > 1 && radius < furthest);
    expect(checked.length).toBeGreaterThan(6);
    for (const { radius, light } of checked)
      expect(Math.abs(Math.log10(light / density(radius))), `${radius} px`).toBeLessThan(close);
  });

  test("its place is found through noise, within 0.05 px", () => {
    const measured = measurePoint(pictured(gaussian(3), 0.01));
    expect(Math.hypot(measured.x - cx, measured.y - cy)).toBeLessThan(0.05);
  });

  test("one beside the picture's edge is refused", () =>
    expect(() => measurePoint(painted(64, 64, (x, y) => (x === 3 && y === 30 ? 1 : 0)))).toThrow(/edge/));
});
