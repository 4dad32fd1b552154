import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { distorted, distortionOf, UNDISTORTED } from "./distortion";
import { distortionMap, distortionOfMap } from "./distortion-map";
import { distortionAt, type LensProfile } from "./lens";
import { lensOfRadial, radialOf, RadialProblem, radialSchema } from "./radial";

const lens = (id: string) => demoProfiles().find((one) => one.id === id) as LensProfile;
const sensor = { width: 24.9, height: 14 };
const frame = { width: 320, height: 180, sensor, focalLength: 50 };
const HEAD = { id: "c", name: "C" };

describe("a distortion map", () => {
  test("of no distortion: every pixel's own centre, 0 to 1, up", () => {
    const map = distortionMap(UNDISTORTED, frame);
    const at = (x: number, y: number) => [...map.slice(4 * (y * 320 + x), 4 * (y * 320 + x) + 2)];
    expect(at(0, 0)[0]).toBeCloseTo(0.5 / 320, 6);
    expect(at(0, 0)[1]).toBeCloseTo(1 - 0.5 / 180, 6);
    expect(at(319, 179)[0]).toBeCloseTo(1 - 0.5 / 320, 6);
    expect(at(319, 179)[1]).toBeCloseTo(0.5 / 180, 6);
  });

  test("of barrel distortion, by hand: the corner is fetched further out, and its inverse further in", () => {
    const barrel = { ...UNDISTORTED, x20: -0.5, x02: -0.5, y20: -0.5, y02: -0.5 };
    const inverse = distortionMap(barrel, frame, true);
    const [u, v] = [(-159.5 * 24.9) / 320 / 50, (-89.5 * 14) / 180 / 50];
    const scale = 1 - 0.5 * (u * u + v * v);
    expect(inverse[0]).toBeCloseTo(0.5 + (u * scale * 50) / 24.9, 6);
    expect(inverse[1]).toBeCloseTo(0.5 - (v * scale * 50) / 14, 6);
    expect(distortionMap(barrel, frame)[0]!).toBeLessThan(0.5 / 320);
  });

  test.each(["orrin-vale-50", "hask-scope-60", "merrow-85"])("of %s: read back, it is the lens to 0.01 px", (id) => {
    const focalLength = lens(id).focalLengths![0]!;
    const own = { ...frame, focalLength };
    const exact = distortionAt(lens(id), focalLength)!;
    for (const inverse of [false, true]) {
      const found = distortionOfMap(distortionMap(exact, own, inverse), own, inverse)!;
      const again = distortionOf(found.table);
      for (const x of [-1, -0.4, 0.3, 0.9])
        for (const y of [-1, 0.2, 0.8]) {
          const place = [(x * 12.45) / focalLength, (y * 7) / focalLength] as const;
          const [a, b] = [distorted(exact, 1, ...place), distorted(again, 1, ...place)];
          expect((Math.hypot(a[0] - b[0], a[1] - b[1]) * focalLength * 320) / 24.9).toBeLessThan(0.01);
        }
    }
  });

  test("holds the same places where it reaches beyond the picture", () => {
    const exact = distortionAt(lens("orrin-vale-50"), 50)!;
    const [bare, more] = [distortionMap(exact, frame), distortionMap(exact, { ...frame, beyond: 10 })];
    const at = 4 * ((20 + 10) * 340 + 30 + 10);
    expect([...more.slice(at, at + 2)]).toEqual([...bare.slice(4 * (20 * 320 + 30), 4 * (20 * 320 + 30) + 2)]);
  });

  test("with nothing in it is none", () => {
    expect(distortionOfMap(new Float32Array(4 * 320 * 180), frame)).toBeNull();
  });
});

describe("a radial polynomial", () => {
  const radial = (more: object) =>
    radialSchema.parse({ normalisation: "half diagonal", coefficients: {}, sensor, focalLength: 50, ...more });
  const halfDiagonal = Math.hypot(12.45, 7);

  test.each([
    ["focal length", 50],
    ["half diagonal", halfDiagonal],
    ["half short side", 7],
  ] as const)("by the %s: 3 %% of the square of r", (normalisation, unit) => {
    const found = lensOfRadial(radial({ normalisation, coefficients: { 2: 0.03 } }), HEAD);
    const [x] = distorted(distortionOf(found.distortion![0]!), 1, 10 / 50, 0);
    expect(x * 50).toBeCloseTo(10 * (1 + 0.03 * (10 / unit) ** 2), 6);
  });

  test("with odd powers and the other way round, as panorama software has it: within a twentieth of a percent", () => {
    const coefficients = { 0: 1.011, 1: 0.004, 2: -0.02, 3: 0.005 };
    const given = radial({ normalisation: "half short side", direction: "ideal from drawn", coefficients });
    const own = distortionOf(lensOfRadial(given, HEAD).distortion![0]!);
    for (const height of [3, 7, 12]) {
      const r = height / 7;
      // Scale is no distortion: it is divided out.
      const ideal = (7 * r * (1.011 + 0.004 * r - 0.02 * r ** 2 + 0.005 * r ** 3)) / 1.011;
      const [x] = distorted(own, 1, ideal / 50, 0);
      expect(Math.abs(x * 50 - height)).toBeLessThan(5e-4 * halfDiagonal);
    }
  });

  test("goes out by any unit and comes back the same lens", () => {
    const { coefficients } = lens("orrin-vale-85").distortion![0]! as { coefficients: { k1: number; k2: number } };
    const back = lensOfRadial(radialOf(lens("orrin-vale-85"), 85, sensor, "half short side"), HEAD);
    expect(back.distortion![0]!.coefficients).toMatchObject({
      k1: expect.closeTo(coefficients.k1, 5),
      k2: expect.closeTo(coefficients.k2, 3),
    });
  });

  test("that folds the picture over, or that even powers miss, is refused with why", () => {
    expect(() => lensOfRadial(radial({ coefficients: { 2: -2 } }), HEAD)).toThrow(/folds over at .* mm/);
    expect(() => lensOfRadial(radial({ coefficients: { 1: 0.3 } }), HEAD)).toThrow(/miss this polynomial by/);
    expect(() => radialOf(lens("hask-scope-60"), 60, sensor, "half diagonal")).toThrow(RadialProblem);
    expect(() => radialOf(lens("orrin-vale-25"), 25, sensor, "half diagonal")).toThrow(/tangential/);
  });
});
