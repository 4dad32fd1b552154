import type { LensProfile } from "../../core/profile/profiles";
import { illumination, lateral, type LensModel, mtf, ORIGIN, round, spectral } from "./model";

const orrinVale50: LensProfile = (() => {
  const model: LensModel = {
    focalLength: 50,
    stops: [1.4, 2, 2.8, 4, 5.6, 8],
    imageHeight: 18,
    axisFrequency: [52, 66, 82, 96, 104, 106],
    cornerSagittal: [0.42, 0.5, 0.6, 0.7, 0.78, 0.82],
    cornerMeridional: [0.26, 0.33, 0.44, 0.56, 0.68, 0.75],
    cornerLoss: [1.6, 1.05, 0.5, 0.18, 0.05, 0.02],
  };
  return {
    format: "pale-halo-lens",
    version: 1,
    id: "orrin-vale-50",
    name: "Orrin Vale 50",
    set: "Orrin Vale",
    squeeze: 1,
    imageCircle: 43.3,
    focalLengths: [50],
    stops: model.stops,
    notes: "Soft and warm. Corners clean up two stops down.",
    mtf: mtf(model),
    distortion: [
      {
        focalLength: 50,
        model: "radial-tangential",
        coefficients: { k1: -0.16, k2: 0.09, k3: 0, p1: 0.0004, p2: -0.0003 },
        origin: ORIGIN,
      },
    ],
    lateralColour: [lateral(50, 9, -14, 18)],
    illumination: illumination(model),
    transmission: spectral(398, 17, 600, 0.06),
    veil: { fraction: 1.6, origin: ORIGIN },
    pupil: { blades: 9, roundness: 0.8, catEye: [1, 0.98, 0.94, 0.87, 0.78, 0.7], rim: 0.12, origin: ORIGIN },
    origin: ORIGIN,
  };
})();

/** Barrel of a squeezing lens: strongest along the squeeze, flattening towards the corners. */
const cylindrical = (k: number) => ({
  model: "anamorphic" as const,
  coefficients: {
    x20: k,
    x02: round(0.62 * k, 4),
    x40: round(1.1 * k * k, 4),
    x22: round(1.5 * k * k, 4),
    x04: round(0.4 * k * k, 4),
    y20: round(0.34 * k, 4),
    y02: round(0.55 * k, 4),
    y40: round(0.3 * k * k, 4),
    y22: round(0.8 * k * k, 4),
    y04: round(0.5 * k * k, 4),
  },
});

const haskScope40: LensProfile = (() => {
  const model: LensModel = {
    focalLength: 40,
    stops: [2.3, 2.8, 4, 5.6, 8],
    imageHeight: 16,
    axisFrequency: [44, 52, 64, 74, 80],
    cornerSagittal: [0.34, 0.4, 0.52, 0.62, 0.7],
    cornerMeridional: [0.2, 0.26, 0.38, 0.5, 0.6],
    cornerLoss: [1.9, 1.4, 0.7, 0.3, 0.12],
  };
  return {
    format: "pale-halo-lens",
    version: 1,
    id: "hask-scope-40",
    name: "Hask Scope 40",
    set: "Hask Scope",
    squeeze: 2,
    imageCircle: 31.1,
    focalLengths: [40],
    stops: model.stops,
    notes: "Two-times anamorphic: barrel distortion, blue lines through lamps.",
    mtf: mtf(model),
    distortion: [{ focalLength: 40, ...cylindrical(-0.32), origin: ORIGIN }],
    lateralColour: [lateral(40, 16, -22, 16)],
    illumination: illumination(model),
    transmission: spectral(388, 13, 530, 0.1),
    veil: { fraction: 2.4, origin: ORIGIN },
    streak: { length: [9, 12, 18], tail: 0.4, thickness: 0.11, gain: 9, tint: [0.42, 0.82, 1.9], origin: ORIGIN },
    pupil: { blades: 11, roundness: 0.9, catEye: [1, 0.96, 0.9, 0.8, 0.68, 0.55], rim: 0.2, origin: ORIGIN },
    origin: ORIGIN,
  };
})();

/** What tells one lens from another; the tables follow from it. */
interface LensSheet {
  id: string;
  name: string;
  set: string;
  notes: string;
  focalLength: number;
  stops: number[];
  squeeze?: number;
  imageHeight: number;
  /** Frequency (lp/mm) at which contrast on the axis falls to 1/e, wide open and stopped down. */
  axis: [number, number];
  /** Share of it left in the corner, sagittal and meridional, wide open and stopped down. */
  sagittal: [number, number];
  meridional: [number, number];
  /** Stops lost in the corner, wide open. */
  loss: number;
  distortion: Partial<{ k1: number; k2: number; k3: number; p1: number; p2: number }> | ReturnType<typeof cylindrical>;
  lateral: [number, number];
  /** Where the glass begins to pass violet, and where its coatings pass most, nm. */
  violet: number;
  peak: number;
  veil: number;
  pupil: NonNullable<LensProfile["pupil"]>;
  ghosts?: [factor: number, gain: number, defocus: number, tint: [number, number, number]][];
  streak?: LensProfile["streak"];
  swirl?: LensProfile["swirl"];
}

/** How much of what a lens does wide open is left at a stop: it cleans up over two stops and a half. */
const openness = (stop: number, widest: number) => Math.max(0, 1 - (2 * Math.log2(stop / widest)) / 2.5) ** 1.3;

function lensOf({
  id,
  name,
  set,
  notes,
  focalLength,
  stops,
  squeeze = 1,
  imageHeight,
  axis,
  sagittal,
  meridional,
  loss,
  distortion,
  lateral: colour,
  violet,
  peak,
  veil,
  pupil,
  ghosts,
  streak,
  swirl,
}: LensSheet): LensProfile {
  const at = ([open, closed]: [number, number]) =>
    stops.map((stop) => round(closed + (open - closed) * openness(stop, stops[0]!)));
  const model: LensModel = {
    focalLength,
    stops,
    imageHeight,
    axisFrequency: at(axis),
    cornerSagittal: at(sagittal),
    cornerMeridional: at(meridional),
    cornerLoss: stops.map((stop) => round(loss * openness(stop, stops[0]!) + 0.02)),
  };
  return {
    format: "pale-halo-lens",
    version: 1,
    id,
    name,
    set,
    squeeze,
    imageCircle: round(imageHeight * 2.15, 1),
    focalLengths: [focalLength],
    stops,
    notes,
    mtf: mtf(model),
    distortion: [
      {
        focalLength,
        ...("model" in distortion
          ? distortion
          : {
              model: "radial-tangential" as const,
              coefficients: { k1: 0, k2: 0, k3: 0, p1: 0, p2: 0, ...distortion },
            }),
        origin: ORIGIN,
      },
    ],
    lateralColour: [lateral(focalLength, ...colour, imageHeight)],
    illumination: illumination(model),
    transmission: spectral(violet, 15, peak, 0.08),
    veil: { fraction: veil, origin: ORIGIN },
    pupil: { ...pupil, origin: ORIGIN },
    ...(ghosts
      ? { ghosts: ghosts.map(([factor, gain, defocus, tint]) => ({ factor, gain, defocus, tint, origin: ORIGIN })) }
      : {}),
    ...(streak ? { streak: { ...streak, origin: ORIGIN } } : {}),
    ...(swirl ? { swirl: { ...swirl, origin: ORIGIN } } : {}),
    origin: ORIGIN,
  };
}

const spherical = [1.4, 2, 2.8, 4, 5.6, 8];
const warmGhosts: LensSheet["ghosts"] = [
  [-0.55, 0.151, 240, [1, 0.75, 0.5]],
  [-1.1, 0.363, 420, [0.7, 0.9, 0.6]],
  [0.4, 0.064, 180, [1, 0.6, 0.35]],
  [1.7, 0.434, 700, [0.6, 0.7, 1]],
];
const blueGhosts: LensSheet["ghosts"] = [
  [-0.8, 0.384, 260, [0.4, 0.7, 1.4]],
  [-1.6, 0.768, 600, [0.5, 1, 1.2]],
  [0.6, 0.126, 200, [0.9, 0.6, 1.3]],
  [-0.3, 0.045, 140, [0.35, 0.6, 1.3]],
  [2.2, 0.484, 900, [0.5, 0.7, 1.2]],
];

const orrin = (focalLength: number, sheet: Partial<LensSheet>): LensProfile =>
  lensOf({
    id: `orrin-vale-${focalLength}`,
    name: `Orrin Vale ${focalLength}`,
    set: "Orrin Vale",
    notes: "Soft and warm. Corners clean up two stops down.",
    focalLength,
    stops: spherical,
    imageHeight: 18,
    axis: [54, 104],
    sagittal: [0.42, 0.82],
    meridional: [0.26, 0.75],
    loss: 1.6,
    distortion: { k1: -0.12 },
    lateral: [9, -14],
    violet: 398,
    peak: 600,
    veil: 1.6,
    pupil: { blades: 9, roundness: 0.8, catEye: [1, 0.98, 0.94, 0.87, 0.78, 0.7], rim: 0.12 },
    ghosts: warmGhosts,
    ...sheet,
  });

const hask = (focalLength: number, sheet: Partial<LensSheet>): LensProfile =>
  lensOf({
    id: `hask-scope-${focalLength}`,
    name: `Hask Scope ${focalLength}`,
    set: "Hask Scope",
    notes: "Two-times anamorphic: barrel distortion, blue lines through lamps, oval cat’s eyes.",
    focalLength,
    stops: [2.3, 2.8, 4, 5.6, 8],
    squeeze: 2,
    imageHeight: 16,
    axis: [44, 80],
    sagittal: [0.34, 0.7],
    meridional: [0.2, 0.6],
    loss: 1.9,
    distortion: cylindrical(-0.3),
    lateral: [16, -22],
    violet: 388,
    peak: 530,
    veil: 2.4,
    pupil: { blades: 11, roundness: 0.9, catEye: [1, 0.96, 0.9, 0.8, 0.68, 0.55], rim: 0.2 },
    ghosts: blueGhosts,
    streak: { length: [9, 12, 18], tail: 0.4, thickness: 0.11, gain: 9, tint: [0.42, 0.82, 1.9] },
    ...sheet,
  });

export const demoLenses = (): LensProfile[] => [
  orrin(25, {
    axis: [48, 98],
    sagittal: [0.36, 0.78],
    meridional: [0.22, 0.7],
    loss: 2,
    distortion: { k1: -0.075, k2: 0.012, p1: 0.0003 },
    lateral: [13, -19],
    veil: 2.1,
  }),
  orrin(35, {
    axis: [50, 102],
    sagittal: [0.4, 0.8],
    meridional: [0.24, 0.73],
    loss: 1.8,
    distortion: { k1: -0.1, k2: 0.03, p2: 0.0002 },
    lateral: [11, -16],
    veil: 1.8,
  }),
  { ...orrinVale50, ghosts: orrin(50, {}).ghosts },
  orrin(85, {
    stops: [1.5, 2, 2.8, 4, 5.6, 8],
    axis: [58, 108],
    sagittal: [0.5, 0.86],
    meridional: [0.36, 0.8],
    loss: 1.1,
    distortion: { k1: 0.09, k2: -0.05 },
    lateral: [5, -8],
    veil: 1.3,
  }),
  { ...haskScope40, ghosts: hask(40, {}).ghosts },
  hask(60, {
    axis: [48, 84],
    sagittal: [0.4, 0.74],
    meridional: [0.26, 0.64],
    loss: 1.5,
    distortion: cylindrical(-0.34),
    lateral: [12, -17],
  }),
  hask(90, {
    axis: [52, 88],
    sagittal: [0.48, 0.8],
    meridional: [0.34, 0.7],
    loss: 1.1,
    distortion: cylindrical(-0.24),
    lateral: [8, -12],
    veil: 2,
  }),
  lensOf({
    id: "merrow-85",
    name: "Merrow 85",
    set: "Merrow",
    notes: "An old portrait lens: a sharp middle, and a background that turns about it.",
    focalLength: 85,
    stops: [1.6, 2, 2.8, 4, 5.6, 8],
    imageHeight: 18,
    axis: [60, 96],
    sagittal: [0.3, 0.7],
    meridional: [0.12, 0.52],
    loss: 2.3,
    distortion: { k1: 0.14, k2: -0.2 },
    lateral: [4, -7],
    violet: 404,
    peak: 610,
    veil: 2.8,
    pupil: { blades: 15, roundness: 1, catEye: [1, 0.92, 0.78, 0.62, 0.46, 0.34], rim: 0.45 },
    ghosts: [
      [-0.7, 0.6, 380, [1, 0.8, 0.55]],
      [0.5, 0.5, 300, [0.9, 0.75, 1]],
    ],
    swirl: { degrees: 4.5, exponent: 1.8, innerRadius: 18 },
  }),
  lensOf({
    id: "plainglass-50",
    name: "Plainglass 50",
    set: "Plainglass",
    notes: "The clean reference: what it does is barely there.",
    focalLength: 50,
    stops: [1.8, 2, 2.8, 4, 5.6, 8],
    imageHeight: 20,
    axis: [150, 190],
    sagittal: [0.86, 0.95],
    meridional: [0.8, 0.92],
    loss: 0.5,
    distortion: { k1: -0.012 },
    lateral: [1.2, -1.6],
    violet: 376,
    peak: 560,
    veil: 0.4,
    pupil: { blades: 11, roundness: 0.95, catEye: [1, 1, 0.98, 0.95, 0.9, 0.86], rim: 0 },
    ghosts: [[-0.9, 0.06, 420, [0.7, 1, 0.8]]],
  }),
];
