import type { LensProfile } from "../../core/profile/profiles";

/**
 * The invented glass of the demo production, computed from a small optical model. Nothing here was measured on real
 * glass, and every profile says so.
 */
export const ORIGIN = { kind: "computed" as const, by: "Pale Halo demo", how: "from a small optical model" };

const HEIGHTS = [0, 2, 4, 6, 8, 10, 12, 14, 16, 18];
const FREQUENCIES = [0, 5, 10, 15, 20, 30, 40, 50, 60, 80];
export const round = (x: number, digits = 4) => Number(x.toFixed(digits));

export interface LensModel {
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

export function mtf(model: LensModel): LensProfile["mtf"] {
  return model.stops.map((stop, i) => {
    const rows = (corner: number) =>
      HEIGHTS.map((h) => {
        const t = Math.min(1, h / model.imageHeight);
        const f0 = model.axisFrequency[i]! * (1 - (1 - corner) * t ** 2.2);
        return FREQUENCIES.map((f) => round(Math.exp(-((f / f0) ** 1.25))));
      });
    return {
      focalLength: model.focalLength,
      stop,
      heights: HEIGHTS,
      frequencies: FREQUENCIES,
      sagittal: rows(model.cornerSagittal[i]!),
      meridional: rows(model.cornerMeridional[i]!),
      origin: ORIGIN,
      uncertainty: 0.02,
    };
  });
}

export function illumination(model: LensModel): LensProfile["illumination"] {
  return model.stops.map((stop, i) => ({
    focalLength: model.focalLength,
    stop,
    heights: HEIGHTS,
    relative: HEIGHTS.map((h) => {
      const cosine4 = (1 + (h / model.focalLength) ** 2) ** -2;
      return round(cosine4 * 2 ** (-model.cornerLoss[i]! * Math.min(1.3, h / model.imageHeight) ** 3));
    }),
    origin: ORIGIN,
    uncertainty: 0.01,
  }));
}

export const lateral = (
  focalLength: number,
  red: number,
  blue: number,
  imageHeight: number,
): NonNullable<LensProfile["lateralColour"]>[number] => ({
  focalLength,
  heights: HEIGHTS,
  red: HEIGHTS.map((h) => round(red * ((h / imageHeight) * 0.7 + 0.3 * (h / imageHeight) ** 3), 3)),
  blue: HEIGHTS.map((h) => round(blue * ((h / imageHeight) * 0.7 + 0.3 * (h / imageHeight) ** 3), 3)),
  origin: ORIGIN,
  uncertainty: 0.5,
});

const wavelengths = Array.from({ length: 33 }, (_, i) => 380 + 10 * i);

/** Glass that absorbs towards the violet and coatings that pass most at `peak`. */
export const spectral = (
  edge: number,
  width: number,
  peak: number,
  ripple: number,
): NonNullable<LensProfile["transmission"]> => ({
  wavelengths,
  values: wavelengths.map((nm) =>
    round((0.94 / (1 + Math.exp(-(nm - edge) / width))) * (1 - ripple * ((nm - peak) / 200) ** 2)),
  ),
  origin: ORIGIN,
  uncertainty: 0.01,
});
