import type { FilterProfile, LensProfile, Profile } from "../core/profile/profiles";

/**
 * The invented glass of the demo production, computed from a small optical model. Nothing here was measured on real glass,
 * and every profile says so.
 */
const ORIGIN = { kind: "computed" as const, by: "Pale Halo demo", how: "from a small optical model" };

const HEIGHTS = [0, 2, 4, 6, 8, 10, 12, 14, 16, 18];
const FREQUENCIES = [0, 5, 10, 15, 20, 30, 40, 50, 60, 80];
const round = (x: number, digits = 4) => Number(x.toFixed(digits));

interface LensModel {
  focalLength: number;
  stops: number[];
  /** Spatial frequency (lp/mm) at which contrast on the axis falls to 1/e, at each stop. */
  axisFrequency: number[];
  /** Share of that frequency left at the corner, sagittal and meridional, at each stop. */
  cornerSagittal: number[];
  cornerMeridional: number[];
  /** Stops lost in the corner to mechanical vignetting, at each stop. */
  cornerLoss: number[];
  imageHeight: number;
}

function mtf(model: LensModel): LensProfile["mtf"] {
  return model.stops.map((stop, i) => {
    const rows = (corner: number) =>
      HEIGHTS.map((h) => {
        const t = Math.min(1, h / model.imageHeight);
        const f0 = model.axisFrequency[i]! * (1 - (1 - corner) * t ** 2.2);
        return FREQUENCIES.map((f) => round(Math.exp(-((f / f0) ** 1.25))));
      });
    return { focalLength: model.focalLength, stop, heights: HEIGHTS, frequencies: FREQUENCIES, sagittal: rows(model.cornerSagittal[i]!), meridional: rows(model.cornerMeridional[i]!), origin: ORIGIN, uncertainty: 0.02 };
  });
}

function illumination(model: LensModel): LensProfile["illumination"] {
  return model.stops.map((stop, i) => ({
    focalLength: model.focalLength, stop, heights: HEIGHTS,
    relative: HEIGHTS.map((h) => {
      const cosine4 = (1 + (h / model.focalLength) ** 2) ** -2;
      return round(cosine4 * 2 ** (-model.cornerLoss[i]! * Math.min(1.3, h / model.imageHeight) ** 3));
    }),
    origin: ORIGIN, uncertainty: 0.01,
  }));
}

const lateral = (focalLength: number, red: number, blue: number, imageHeight: number): NonNullable<LensProfile["lateralColour"]>[number] => ({
  focalLength, heights: HEIGHTS,
  red: HEIGHTS.map((h) => round(red * ((h / imageHeight) * 0.7 + 0.3 * (h / imageHeight) ** 3), 3)),
  blue: HEIGHTS.map((h) => round(blue * ((h / imageHeight) * 0.7 + 0.3 * (h / imageHeight) ** 3), 3)),
  origin: ORIGIN, uncertainty: 0.5,
});

const wavelengths = Array.from({ length: 33 }, (_, i) => 380 + 10 * i);

/** Glass that absorbs towards the violet and coatings that pass most at `peak`. */
const spectral = (edge: number, width: number, peak: number, ripple: number): NonNullable<LensProfile["transmission"]> => ({
  wavelengths,
  values: wavelengths.map((nm) => round((0.94 / (1 + Math.exp(-(nm - edge) / width))) * (1 - ripple * ((nm - peak) / 200) ** 2))),
  origin: ORIGIN, uncertainty: 0.01,
});

const orrinVale50: LensProfile = (() => {
  const model: LensModel = {
    focalLength: 50, stops: [1.4, 2, 2.8, 4, 5.6, 8], imageHeight: 18,
    axisFrequency: [52, 66, 82, 96, 104, 106],
    cornerSagittal: [0.42, 0.5, 0.6, 0.7, 0.78, 0.82],
    cornerMeridional: [0.26, 0.33, 0.44, 0.56, 0.68, 0.75],
    cornerLoss: [1.6, 1.05, 0.5, 0.18, 0.05, 0.02],
  };
  return {
    format: "pale-halo-lens", version: 1, id: "orrin-vale-50", name: "Orrin Vale 50", set: "Orrin Vale", squeeze: 1, imageCircle: 43.3,
    focalLengths: [50], stops: model.stops,
    notes: "Soft and warm. Corners clean up two stops down.",
    mtf: mtf(model),
    distortion: [{ focalLength: 50, model: "radial-tangential", coefficients: { k1: -0.16, k2: 0.09, k3: 0, p1: 0.0004, p2: -0.0003 }, origin: ORIGIN }],
    lateralColour: [lateral(50, 9, -14, 18)],
    illumination: illumination(model),
    transmission: spectral(398, 17, 600, 0.06),
    veil: { fraction: 1.6, origin: ORIGIN },
    pupil: { blades: 9, roundness: 0.8, catEye: [1, 0.98, 0.94, 0.87, 0.78, 0.7], rim: 0.12, origin: ORIGIN },
    origin: ORIGIN,
  };
})();

const haskScope40: LensProfile = (() => {
  const model: LensModel = {
    focalLength: 40, stops: [2.3, 2.8, 4, 5.6, 8], imageHeight: 16,
    axisFrequency: [44, 52, 64, 74, 80],
    cornerSagittal: [0.34, 0.4, 0.52, 0.62, 0.7],
    cornerMeridional: [0.2, 0.26, 0.38, 0.5, 0.6],
    cornerLoss: [1.9, 1.4, 0.7, 0.3, 0.12],
  };
  return {
    format: "pale-halo-lens", version: 1, id: "hask-scope-40", name: "Hask Scope 40", set: "Hask Scope", squeeze: 2, imageCircle: 31.1,
    focalLengths: [40], stops: model.stops,
    notes: "Two-times anamorphic: barrel distortion, blue lines through lamps.",
    mtf: mtf(model),
    distortion: [{ focalLength: 40, model: "radial-tangential", coefficients: { k1: -0.32, k2: 0.16, k3: 0, p1: -0.0006, p2: 0.0009 }, origin: ORIGIN }],
    lateralColour: [lateral(40, 16, -22, 16)],
    illumination: illumination(model),
    transmission: spectral(388, 13, 530, 0.1),
    veil: { fraction: 2.4, origin: ORIGIN },
    streak: { length: [9, 12, 18], tail: 0.4, thickness: 0.11, gain: 9, tint: [0.42, 0.82, 1.9], origin: ORIGIN },
    pupil: { blades: 11, roundness: 0.9, catEye: [1, 0.96, 0.9, 0.8, 0.68, 0.55], rim: 0.2, origin: ORIGIN },
    origin: ORIGIN,
  };
})();

const DEGREES = [0, ...Array.from({ length: 31 }, (_, i) => round(0.01 * 10 ** (i / 8.5), 5))];

/** A scatterer's spread: small features throw a wide tail, large ones a narrow core. Angles in degrees. */
const scatterer = (core: number, tail: number, share: number, exponent: number) =>
  DEGREES.map((t) => Number(((1 - share) * Math.exp(-t / core) / core ** 2 + share * (1 + (t / tail) ** 2) ** (-exponent / 2) / tail ** 2).toPrecision(5)));

interface GradeModel { grade: string; scatter: number; transmissionStops: number; core: number; tail: number }

const gradesOf = (models: GradeModel[], absorption: number, share: number, exponent: number, warmth: number): FilterProfile["grades"] =>
  models.map(({ grade, scatter, transmissionStops, core, tail }) => ({
    grade, scatter, absorption, transmissionStops,
    spread: {
      degrees: DEGREES,
      red: scatterer(core * (1 + warmth), tail * (1 + warmth), share, exponent),
      green: scatterer(core, tail, share, exponent),
      blue: scatterer(core * (1 - warmth), tail * (1 - 1.6 * warmth), share, exponent),
    },
    origin: ORIGIN, uncertainty: 0.03,
  }));

const milkglass: FilterProfile = {
  format: "pale-halo-filter", version: 1, id: "milkglass", name: "Milkglass",
  notes: "White diffusion: a soft core and a long pale tail.",
  grades: gradesOf(
    [
      { grade: "1/8", scatter: 0.1, transmissionStops: -0.05, core: 0.1, tail: 0.5 },
      { grade: "1/4", scatter: 0.18, transmissionStops: -0.1, core: 0.11, tail: 0.55 },
      { grade: "1/2", scatter: 0.29, transmissionStops: -0.17, core: 0.12, tail: 0.6 },
      { grade: "1", scatter: 0.43, transmissionStops: -0.28, core: 0.13, tail: 0.68 },
      { grade: "2", scatter: 0.58, transmissionStops: -0.42, core: 0.15, tail: 0.78 },
    ], 0, 0.5, 3, 0.02),
  origin: ORIGIN,
};

const hearth: FilterProfile = {
  format: "pale-halo-filter", version: 1, id: "hearth", name: "Hearth",
  notes: "Warm diffusion: red light travels further than blue.",
  grades: gradesOf(
    [
      { grade: "1/4", scatter: 0.15, transmissionStops: -0.15, core: 0.1, tail: 0.6 },
      { grade: "1/2", scatter: 0.25, transmissionStops: -0.25, core: 0.11, tail: 0.66 },
      { grade: "1", scatter: 0.38, transmissionStops: -0.4, core: 0.12, tail: 0.75 },
    ], 0.06, 0.55, 2.8, 0.16),
  origin: ORIGIN,
};

export const demoProfiles = (): Profile[] => [orrinVale50, haskScope40, milkglass, hearth];
