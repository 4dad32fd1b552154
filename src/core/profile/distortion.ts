import { z } from "zod";

const coefficient = z.number().min(-100).max(100).default(0);

/** Brown's radial-tangential model, on coordinates divided by focal length. */
export const radialTangential = z
  .object({ k1: coefficient, k2: coefficient, k3: coefficient, p1: coefficient, p2: coefficient })
  .strict();

/** Powers of x and of y of each term of an anamorphic model's two even polynomials. */
const POWERS = { 20: [2, 0], "02": [0, 2], 40: [4, 0], 22: [2, 2], "04": [0, 4] } as const;

/**
 * An anamorphic lens bends x and y each by an even polynomial of its own: x·(1 + x20·x² + x02·y² + ...), y likewise.
 */
export const anamorphic = z
  .object({
    x20: coefficient,
    x02: coefficient,
    x40: coefficient,
    x22: coefficient,
    x04: coefficient,
    y20: coefficient,
    y02: coefficient,
    y40: coefficient,
    y22: coefficient,
    y04: coefficient,
  })
  .strict();

/**
 * Both models as one: the displacement of x is x·Σ x_ij·x^i·y^j + the radial sixth power + the tangential terms; of y
 * likewise.
 */
export type Distortion = z.output<typeof anamorphic> & Pick<z.output<typeof radialTangential>, "k3" | "p1" | "p2">;

export type DistortionTable =
  | { focalLength: number; model: "radial-tangential"; coefficients: z.output<typeof radialTangential> }
  | { focalLength: number; model: "anamorphic"; coefficients: z.output<typeof anamorphic> };

export type DistortionModel = DistortionTable["model"];

/** The coefficients of each model, in the order in which lists hold them. */
export const COEFFICIENTS: Record<DistortionModel, readonly string[]> = {
  "radial-tangential": Object.keys(radialTangential.shape),
  anamorphic: Object.keys(anamorphic.shape),
};

/** A table of a model with its coefficients in the order of COEFFICIENTS. */
export const distortionTable = (
  model: DistortionModel,
  focalLength: number,
  values: readonly number[],
): DistortionTable =>
  ({
    focalLength,
    model,
    coefficients: Object.fromEntries(COEFFICIENTS[model].map((name, k) => [name, values[k]!])),
  }) as DistortionTable;

/** What each coefficient of a model does alone, one each. */
export const coefficientBasis = (model: DistortionModel): Distortion[] =>
  COEFFICIENTS[model].map((_, k) =>
    distortionOf(
      distortionTable(
        model,
        1,
        COEFFICIENTS[model].map((_, l) => Number(k === l)),
      ),
    ),
  );

/** k1·r² + k2·r⁴ written out in x and y. */
const evenOf = (axis: "x" | "y", k1: number, k2: number) =>
  Object.fromEntries(
    Object.entries(POWERS).map(([name, [i, j]]) => [`${axis}${name}`, i + j === 2 ? k1 : i === j ? 2 * k2 : k2]),
  );

export function distortionOf({ model, coefficients }: DistortionTable): Distortion {
  if (model === "anamorphic") return { ...coefficients, k3: 0, p1: 0, p2: 0 };
  const { k1, k2, k3, p1, p2 } = coefficients;
  return { ...evenOf("x", k1, k2), ...evenOf("y", k1, k2), k3, p1, p2 } as Distortion;
}

export const UNDISTORTED: Distortion = distortionOf({
  focalLength: 1,
  model: "anamorphic",
  coefficients: anamorphic.parse({}),
});

/** The order in which the kernel reads them. */
export const coefficientsOf = (d: Distortion): number[] => [
  d.x20,
  d.x02,
  d.x40,
  d.x22,
  d.x04,
  d.y20,
  d.y02,
  d.y40,
  d.y22,
  d.y04,
  d.k3,
  d.p1,
  d.p2,
];

/** Ideal point (focal lengths from the axis) to the distorted one, displacement scaled by s. */
export function distorted(d: Distortion, s: number, x: number, y: number): [number, number] {
  const [x2, y2] = [x * x, y * y];
  const r2 = x2 + y2;
  const sixth = d.k3 * r2 * r2 * r2;
  const alongX = d.x20 * x2 + d.x02 * y2 + d.x40 * x2 * x2 + d.x22 * x2 * y2 + d.x04 * y2 * y2 + sixth;
  const alongY = d.y20 * x2 + d.y02 * y2 + d.y40 * x2 * x2 + d.y22 * x2 * y2 + d.y04 * y2 * y2 + sixth;
  return [
    x + s * (x * alongX + 2 * d.p1 * x * y + d.p2 * (r2 + 2 * x2)),
    y + s * (y * alongY + d.p1 * (r2 + 2 * y2) + 2 * d.p2 * x * y),
  ];
}

/** A distortion of which only a share is there. */
export const partOfDistortion = (distortion: Distortion, share: number): Distortion =>
  Object.fromEntries(Object.entries(distortion).map(([name, value]) => [name, value * share])) as Distortion;
