import type { LensProfile } from "./lens";

/** What a lens's tables cover; outside it nothing is made up, the nearest measurement is held. */
export interface Reach {
  /** mm, ascending */
  focalLengths: number[];
  /** T-stops, ascending */
  stops: number[];
  /** Image height (mm) to which every table by height goes; infinite where there is none. */
  height: number;
}

const ascending = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);

export function measuredReach({
  mtf = [],
  distortion = [],
  lateralColour = [],
  illumination = [],
}: LensProfile): Reach {
  return {
    focalLengths: ascending(
      [...mtf, ...distortion, ...lateralColour, ...illumination].map((table) => table.focalLength),
    ),
    stops: ascending([...mtf, ...illumination].map((table) => table.stop)),
    height: Math.min(...[...mtf, ...lateralColour, ...illumination].map(({ heights }) => heights.at(-1)!)),
  };
}

const isOutside = (value: number, measured: number[]) =>
  measured.length > 0 && (value < measured[0]! || value > measured.at(-1)!);
const span = (measured: number[], unit: (value: number) => string) =>
  measured.length > 1 ? `${unit(measured[0]!)} to ${unit(measured.at(-1)!)}` : unit(measured[0]!);

/**
 * Where a lens is used outside what was measured of it, in words; `corner` is the image height of the frame's corner,
 * mm.
 */
export function heldMeasurements(
  lens: LensProfile,
  { focalLength, stop, corner }: { focalLength: number; stop: number; corner: number },
): { focalLength?: string; stop?: string; height?: string } {
  const { focalLengths, stops, height } = measuredReach(lens);
  const held = "the nearest measurement is held";
  return {
    ...(isOutside(focalLength, focalLengths)
      ? {
          focalLength: `${focalLength} mm is outside what was measured (${span(focalLengths, (mm) => `${mm} mm`)}); ${held}.`,
        }
      : {}),
    ...(isOutside(stop, stops)
      ? { stop: `T${stop} is outside what was measured (${span(stops, (t) => `T${t}`)}); ${held}.` }
      : {}),
    ...(corner > height
      ? {
          height: `The frame’s corner is ${corner.toFixed(1)} mm from the axis, measured is to ${height} mm; ${held} beyond.`,
        }
      : {}),
  };
}
