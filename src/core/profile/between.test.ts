import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { BetweenProblem, lensBetween } from "./between";
import { contrastOf, distortionAt, illuminationAt, type LensProfile, lensSchema } from "./lens";

const lens = (id: string) => demoProfiles().find((one) => one.id === id) as LensProfile;
const [wide, long] = [lens("orrin-vale-35"), lens("orrin-vale-85")];

describe("a lens between two of a set", () => {
  const between = lensBetween(long, wide, 50);

  test("is a valid profile that says it is computed, and of what", () => {
    expect(lensSchema.parse(between)).toMatchObject({ set: "Orrin Vale", focalLengths: [50] });
    expect(between.origin).toMatchObject({ kind: "computed", how: expect.stringMatching(/Orrin Vale 35 at 35 mm/) });
    expect(between.mtf!.every(({ origin }) => (origin as { kind: string }).kind === "computed")).toBe(true);
  });

  test("every value is as far between as the logarithm of the focal length", () => {
    const part = Math.log(50 / 35) / Math.log(85 / 35);
    const mean = (a: number, b: number) => a + part * (b - a);
    const stop = between.mtf![0]!.stop;
    const contrast = (of: LensProfile, focal: number) => contrastOf(of, focal, stop, "sagittal")!(20, 8);
    expect(contrast(between, 50)).toBeCloseTo(mean(contrast(wide, 35), contrast(long, 85)), 3);
    const light = (of: LensProfile, focal: number) => illuminationAt(of, focal, stop)!(8);
    expect(light(between, 50)).toBeCloseTo(mean(light(wide, 35), light(long, 85)), 3);
    expect(distortionAt(between, 50)!.x20).toBeCloseTo(
      mean(distortionAt(wide, 35)!.x20, distortionAt(long, 85)!.x20),
      5,
    );
    expect(between.veil!.fraction).toBeCloseTo(mean(wide.veil!.fraction, long.veil!.fraction), 5);
  });

  test("anamorphic lenses have one between, too", () => {
    const own = lensBetween(lens("hask-scope-40"), lens("hask-scope-90"), 60);
    expect(own.distortion![0]!.model).toBe("anamorphic");
    expect(own.streak!.length[2]).toBeGreaterThan(0);
    expect(lensSchema.safeParse(own).success).toBe(true);
  });

  test("there is none outside, nor between lenses of two squeezes", () => {
    expect(() => lensBetween(wide, long, 100)).toThrow(/100 mm does not lie between Orrin Vale 35 \(35 mm\)/);
    expect(() => lensBetween(wide, lens("hask-scope-90"), 50)).toThrow(BetweenProblem);
  });
});
