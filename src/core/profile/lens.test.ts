import { describe, expect, test } from "vitest";
import { distorted, distortionOf, UNDISTORTED } from "./distortion";
import { demoProfiles } from "../../demo/glass/profiles";
import { cabinetOf } from "./profiles";
import { spreadCurve } from "./filter";
import { contrastOf, distortionAt, illuminationAt, lateralColourAt, type LensProfile, lensSchema } from "./lens";

const heights = [0, 8, 14];
/** A zoom measured at two focal lengths and two stops, each with numbers that tell it from the others. */
const lens: LensProfile = lensSchema.parse({
  format: "pale-halo-lens",
  version: 1,
  id: "trial",
  name: "Trial",
  squeeze: 1,
  illumination: [
    { focalLength: 25, stop: 2, heights, relative: [1, 0.8, 0.4] },
    { focalLength: 25, stop: 8, heights, relative: [1, 0.9, 0.8] },
    { focalLength: 100, stop: 2, heights, relative: [1, 0.6, 0.2] },
    { focalLength: 100, stop: 8, heights, relative: [1, 0.7, 0.6] },
  ],
  mtf: [
    {
      focalLength: 50,
      stop: 2,
      heights,
      frequencies: [0, 20, 60],
      sagittal: [
        [1, 0.8, 0.4],
        [1, 0.7, 0.3],
        [1, 0.5, 0.1],
      ],
      meridional: [
        [1, 0.8, 0.4],
        [1, 0.6, 0.2],
        [1, 0.3, 0.05],
      ],
    },
  ],
  lateralColour: [
    { focalLength: 25, heights, red: [0, 4, 10], blue: [0, -6, -12] },
    { focalLength: 100, heights, red: [0, 0, 2], blue: [0, -2, -4] },
  ],
  distortion: [
    { focalLength: 25, model: "radial-tangential", coefficients: { k1: -0.4, k2: 0.1, k3: 0, p1: 0, p2: 0 } },
    { focalLength: 100, model: "radial-tangential", coefficients: { k1: 0.2, k2: 0, k3: 0, p1: 0, p2: 0 } },
  ],
});

describe("between what was measured", () => {
  test("a measurement is given back exactly where it was made", () => {
    for (const { focalLength, stop, relative } of lens.illumination!) {
      const of = illuminationAt(lens, focalLength, stop)!;
      heights.forEach((height, i) => expect(of(height)).toBeCloseTo(relative[i]!, 12));
    }
    const contrast = contrastOf(lens, 50, 2, "meridional")!;
    expect(contrast(20, 8)).toBeCloseTo(0.6, 12);
    expect(contrast(60, 14)).toBeCloseTo(0.05, 12);
    expect(contrast(0, 11)).toBeCloseTo(1, 12);
  });
  test("halfway along the logarithm of focal length, or of stop, lies the mean of both", () => {
    // 50 mm is halfway from 25 to 100, and T4 from T2 to T8.
    expect(illuminationAt(lens, 50, 2)!(14)).toBeCloseTo(0.3, 12);
    expect(illuminationAt(lens, 25, 4)!(14)).toBeCloseTo(0.6, 12);
    expect(illuminationAt(lens, 50, 4)!(14)).toBeCloseTo((0.4 + 0.8 + 0.2 + 0.6) / 4, 12);
    expect(lateralColourAt(lens, 50, "red")!(14)).toBeCloseTo(6, 12);
    expect(lateralColourAt(lens, 50, "blue")!(8)).toBeCloseTo(-4, 12);
  });
  test("a quarter of the way in stops counts by stops, not by numbers", () => {
    // From T2 to T8 there are four stops: T2.83 is one of them on.
    const value = illuminationAt(lens, 25, 2 * Math.SQRT2)!(14);
    expect(value).toBeCloseTo(0.4 + 0.25 * 0.4, 12);
  });
  test("outside what was measured it holds", () => {
    expect(illuminationAt(lens, 10, 1)!(14)).toBe(illuminationAt(lens, 25, 2)!(14));
    expect(illuminationAt(lens, 400, 22)!(20)).toBe(illuminationAt(lens, 100, 8)!(14));
    expect(contrastOf(lens, 200, 11, "sagittal")!(90, 30)).toBeCloseTo(0.1, 12);
  });
  test("over height and frequency contrast falls without ringing", () => {
    const contrast = contrastOf(lens, 50, 2, "sagittal")!;
    for (let height = 0; height <= 14; height += 0.7)
      for (let frequency = 1; frequency <= 60; frequency += 1) {
        expect(contrast(frequency, height)).toBeLessThanOrEqual(contrast(frequency - 1, height) + 1e-12);
        expect(contrast(frequency, height)).toBeLessThanOrEqual(contrast(frequency, Math.max(0, height - 0.7)) + 1e-12);
      }
  });
  test("distortion's coefficients blend, and a lens without a table has none of it", () => {
    expect(distortionAt(lens, 50)).toMatchObject({
      x20: expect.closeTo(-0.1, 12),
      y02: expect.closeTo(-0.1, 12),
      x40: expect.closeTo(0.05, 12),
    });
    const bare = { ...lens, distortion: undefined, illumination: [], mtf: undefined, lateralColour: undefined };
    expect(distortionAt(bare, 50)).toBeNull();
    expect(illuminationAt(bare, 50, 2)).toBeNull();
    expect(contrastOf(bare, 50, 2, "sagittal")).toBeNull();
    expect(lateralColourAt(bare, 50, "red")).toBeNull();
  });
});

describe("the distortion model", () => {
  const [k1, k2, k3, p1, p2] = [-0.21, 0.08, -0.02, 0.003, -0.002];
  const model = distortionOf({ focalLength: 50, model: "radial-tangential", coefficients: { k1, k2, k3, p1, p2 } });
  test("is the published one: x(1 + k1 r² + k2 r⁴ + k3 r⁶) + 2 p1 x y + p2 (r² + 2 x²), and y likewise", () => {
    for (const [x, y] of [
      [0.1, 0.2],
      [-0.4, 0.25],
      [0.5, -0.3],
    ] as const) {
      const r2 = x * x + y * y;
      const radial = 1 + k1 * r2 + k2 * r2 ** 2 + k3 * r2 ** 3;
      const [dx, dy] = distorted(model, 1, x, y);
      expect(dx).toBeCloseTo(x * radial + 2 * p1 * x * y + p2 * (r2 + 2 * x * x), 12);
      expect(dy).toBeCloseTo(y * radial + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y, 12);
    }
  });
  test("strength scales the displacement, and the axis never moves", () => {
    const [[ax, ay], [bx, by]] = [distorted(model, 1, 0.3, 0.2), distorted(model, 0.5, 0.3, 0.2)];
    expect([bx - 0.3, by - 0.2].map((v) => v * 2)).toEqual([
      expect.closeTo(ax - 0.3, 12),
      expect.closeTo(ay - 0.2, 12),
    ]);
    expect(distorted(model, 3, 0, 0)).toEqual([0, 0]);
    expect(distorted(UNDISTORTED, 1, 0.4, -0.7)).toEqual([0.4, -0.7]);
  });
});

describe("a filter's spread", () => {
  const degrees = [0, 0.1, 0.5, 2, 10];
  const values = [900, 500, 60, 3, 0.04];
  const curve = spreadCurve(degrees, values);
  test("runs through its table, falls throughout, and goes on beyond it no shallower than a power of 2.2", () => {
    degrees.forEach((angle, i) => expect(curve(angle) / values[i]!).toBeCloseTo(1, 9));
    let before = Infinity;
    for (let angle = 0.01; angle < 60; angle *= 1.1) {
      expect(curve(angle)).toBeLessThan(before);
      before = curve(angle);
    }
    expect(Math.log(curve(40) / curve(20)) / Math.log(2)).toBeLessThanOrEqual(-2.2 + 1e-9);
  });
  test("of a power law, is that power law between its angles", () => {
    const law = spreadCurve(
      [0.2, 1, 5, 20],
      [0.2, 1, 5, 20].map((angle) => angle ** -3),
    );
    for (const angle of [0.4, 2.2, 11, 35]) expect(law(angle) / angle ** -3).toBeCloseTo(1, 9);
  });
  test("of a table that ends in nothing stays finite", () => {
    const ended = spreadCurve([0, 1, 5], [10, 1, 0]);
    for (const angle of [0, 0.5, 3, 5, 50]) expect(Number.isFinite(ended(angle))).toBe(true);
  });
});

test("a profile whose name is another's id does not take its place", () => {
  const lens = demoProfiles().find(({ id }) => id === "plainglass-50") as LensProfile;
  const own = { ...lens, id: "own", name: "orrin-vale-50" };
  const { lenses } = cabinetOf([...demoProfiles(), own]);
  expect(lenses.get("orrin-vale-50")!.id).toBe("orrin-vale-50");
  expect(lenses.get("own")!.id).toBe("own");
});
