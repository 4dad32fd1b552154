import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { calibrationOf, calibrationSchema, lensOfCalibration } from "./calibration";
import { distorted, distortionOf } from "./distortion";
import type { LensProfile } from "./lens";

const HEAD = { id: "c", name: "C" };
const lens = demoProfiles().find(({ id }) => id === "orrin-vale-50") as LensProfile;

test("a calibration's point is where its formula has it: computed by hand, in pixels", () => {
  const read = calibrationSchema.parse({
    image_width: 1920,
    image_height: 1080,
    camera_matrix: { rows: 3, cols: 3, data: [3840, 0, 959.5, 0, 3840, 539.5, 0, 0, 1] },
    distortion_coefficients: { rows: 1, cols: 5, data: [-0.2, 0.1, 0.001, -0.002, 0.05] },
  });
  const found = lensOfCalibration(read, 24, HEAD);
  expect(found.distortion![0]!.focalLength).toBe(48);
  // x = 0.2, y = 0.1: r² = 0.05; the radial factor and the tangential terms of the published formula.
  const radial = 1 - 0.2 * 0.05 + 0.1 * 0.05 ** 2 + 0.05 * 0.05 ** 3;
  const [x, y] = distorted(distortionOf(found.distortion![0]!), 1, 0.2, 0.1);
  expect(x).toBeCloseTo(0.2 * radial + 2 * 0.001 * 0.02 + -0.002 * (0.05 + 2 * 0.04), 12);
  expect(y).toBeCloseTo(0.1 * radial + 0.001 * (0.05 + 2 * 0.01) + 2 * -0.002 * 0.02, 12);
});

test("a lens goes out as a calibration and back", () => {
  const back = lensOfCalibration(calibrationOf(lens, 50, { width: 1920, height: 1080 }, 24.96), 24.96, HEAD);
  expect(back.distortion![0]).toMatchObject({ focalLength: 50, coefficients: lens.distortion![0]!.coefficients });
});

test.each([
  [[3840, 0, 0, 0, 3000, 0, 0, 0, 1], [0, 0, 0, 0, 0], /pixels are not square/],
  [[3840, 0, 0, 0, 3840, 0, 0, 0, 1], [0, 0, 0, 0, 0, 0.3, 0, 0], /rational, thin-prism or tilted/],
  [[0, 0, 0, 0, 0, 0, 0, 0, 1], [0, 0, 0, 0, 0], /not above 0/],
])("%j with %j is refused", (camera_matrix, distortion_coefficients, reason) => {
  const read = calibrationSchema.parse({ image_width: 10, image_height: 10, camera_matrix, distortion_coefficients });
  expect(() => lensOfCalibration(read, 24, HEAD)).toThrow(reason);
});

test("an anamorphic lens is no calibration", () => {
  const scope = demoProfiles().find(({ id }) => id === "hask-scope-40") as LensProfile;
  expect(() => calibrationOf(scope, 40, { width: 10, height: 10 }, 24)).toThrow(/anamorphic/);
});
