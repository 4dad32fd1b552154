/**
 * Radial polynomials as lens databases and panorama software state them: r' = r · (c0 + Σ cₙ·rⁿ), with r counted in
 * focal lengths, half diagonals or half short sides of the picture, odd and even powers, either way round.
 */
import { z } from "zod";
import { fitDistortion, type PlacePair } from "./fit-distortion";
import { distortionAt, lensOfDistortion, type LensProfile } from "./lens";

export const NORMALISATIONS = ["focal length", "half diagonal", "half short side"] as const;
export type Normalisation = (typeof NORMALISATIONS)[number];
const DIRECTIONS = ["drawn from ideal", "ideal from drawn"] as const;

const millimetres = z.number().positive().max(5000);
const MAX_POWER = 12;

export const radialSchema = z
  .object({
    normalisation: z.enum(NORMALISATIONS).describe("what r = 1 is"),
    direction: z
      .enum(DIRECTIONS)
      .default("drawn from ideal")
      .describe("what the polynomial gives: where the lens draws an ideal place, or the ideal place of what it drew"),
    coefficients: z
      .record(z.string().regex(/^(\d|1[0-2])$/, `a power of r from 0 to ${MAX_POWER}`), z.number().min(-100).max(100))
      .describe("of each power of r beside the first; 0 is the scale, 1 where left out"),
    sensor: z.object({ width: millimetres, height: millimetres }).strict().describe("mm"),
    focalLength: millimetres.describe("mm"),
  })
  .strict();
export type Radial = z.infer<typeof radialSchema>;

/** A polynomial that no profile can hold as exactly as is asked. */
export class RadialProblem extends Error {}

/** mm of the sensor that r = 1 is. */
function unitOf({ normalisation, sensor, focalLength }: Pick<Radial, "normalisation" | "sensor" | "focalLength">) {
  switch (normalisation) {
    case "focal length":
      return focalLength;
    case "half diagonal":
      return Math.hypot(sensor.width, sensor.height) / 2;
    case "half short side":
      return Math.min(sensor.width, sensor.height) / 2;
  }
}

/** Radii and turns at which a polynomial is looked at, and the most a model may be off, as a share of the corner. */
const [RADII, TURNS] = [40, 6];
const MAX_OFF = 1e-3;
/** Tangential terms below this do nothing. */
const NOTHING = 1e-7;

/** A lens with the distortion of a polynomial, fitted to its corner. Throws RadialProblem. */
export function lensOfRadial(radial: Radial, head: { id: string; name: string }): LensProfile {
  const { coefficients, sensor, focalLength, direction } = radial;
  const unit = unitOf(radial);
  const corner = Math.hypot(sensor.width, sensor.height) / 2;
  const { 0: scale = 1, ...powers } = coefficients as Record<string, number>;
  if (!(scale > 0)) throw new RadialProblem("coefficients.0: the scale is not above 0");
  const polynomial = (r: number) =>
    r * (1 + Object.entries(powers).reduce((sum, [n, c]) => sum + (c / scale) * r ** Number(n), 0));
  const pairs: PlacePair[] = [];
  let before = 0;
  for (let i = 1; i <= RADII; i++) {
    const height = (corner * i) / RADII;
    const from = height / unit;
    const to = polynomial(from);
    if (!(to > before))
      throw new RadialProblem(
        `coefficients: the picture folds over at ${height.toFixed(1)} mm from the axis, within the frame`,
      );
    before = to;
    const [ideal, drawn] = (direction === "drawn from ideal" ? [from, to] : [to, from]).map(
      (r) => (r * unit) / focalLength,
    ) as [number, number];
    for (let turn = 0; turn < TURNS; turn++) {
      const [x, y] = [Math.cos((turn * Math.PI) / TURNS), Math.sin((turn * Math.PI) / TURNS)];
      pairs.push({ ideal: [ideal * x, ideal * y], drawn: [drawn * x, drawn * y] });
    }
  }
  const fitted = fitDistortion(pairs, "radial-tangential", focalLength);
  const off = fitted ? (fitted.residual * focalLength) / corner : Infinity;
  if (!fitted || off > MAX_OFF)
    throw new RadialProblem(
      `coefficients: a profile's even powers miss this polynomial by ${(100 * off).toFixed(2)} % of the half diagonal`,
    );
  const { table } = fitted;
  return lensOfDistortion(head, {
    ...table,
    origin: { kind: "computed", how: `from a radial polynomial by ${radial.normalisation}` },
    uncertainty: `${(100 * off).toPrecision(2)} % of the half diagonal from the polynomial, root mean square`,
  });
}

/** A lens's radial distortion with r counted as asked, exactly. Throws RadialProblem where it is not radial alone. */
export function radialOf(
  lens: LensProfile,
  focalLength: number,
  sensor: { width: number; height: number },
  normalisation: Normalisation,
): Radial {
  const found = distortionAt(lens, focalLength);
  if (!found) throw new RadialProblem("distortion: the profile has none");
  if (lens.distortion!.some(({ model }) => model === "anamorphic"))
    throw new RadialProblem("distortion: is anamorphic, which is no radial polynomial; write a map instead");
  if (Math.max(Math.abs(found.p1), Math.abs(found.p2)) > NOTHING)
    throw new RadialProblem("distortion: has tangential terms, which a radial polynomial does not hold; write a map");
  const ratio = unitOf({ normalisation, sensor, focalLength }) / focalLength;
  const { x20: k1, x40: k2, k3 } = found;
  return {
    normalisation,
    direction: "drawn from ideal",
    coefficients: { 2: k1 * ratio ** 2, 4: k2 * ratio ** 4, 6: k3 * ratio ** 6 },
    sensor,
    focalLength,
  };
}
