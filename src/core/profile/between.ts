/** A lens at a focal length that was not measured, from two of a set: every table between theirs, and said to be so. */
import { lerp, monotoneCubic } from "../maths/interpolate";
import { COEFFICIENTS, type DistortionTable, distortionTable } from "./distortion";
import { contrastOf, distortionAt, illuminationAt, lateralColourAt, type LensProfile } from "./lens";
import { slugOf } from "./slug";

/** Two profiles that have nothing between them, and why. */
export class BetweenProblem extends Error {}

const DECIMALS = 5;
const rounded = (value: number) => Number(value.toFixed(DECIMALS));

const union = (...lists: readonly (readonly number[])[]) => [...new Set(lists.flat())].sort((a, b) => a - b);

/** What both have, no further out than either reaches. */
const shared = (a: readonly number[], b: readonly number[]) => {
  const reach = Math.min(a.at(-1)!, b.at(-1)!);
  const least = Math.max(a[0]!, b[0]!);
  return union(a, b).filter((value) => value >= least && value <= reach);
};

const focalLengthsOf = ({
  focalLengths = [],
  mtf = [],
  distortion = [],
  illumination = [],
  lateralColour = [],
}: LensProfile) =>
  union(
    focalLengths,
    ...[mtf, distortion, illumination, lateralColour].map((tables) => tables.map((t) => t.focalLength)),
  );

/** Stops of two kinds of table that both lenses were measured at, or lie between those of each. */
const stopsOf = (a: readonly { stop: number }[], b: readonly { stop: number }[]) =>
  shared(union(a.map(({ stop }) => stop)), union(b.map(({ stop }) => stop)));

type Tables = Partial<LensProfile>;

/**
 * The lens at a focal length (mm) between two profiles' own. What only one of them has is left out. Throws
 * BetweenProblem.
 */
export function lensBetween(one: LensProfile, other: LensProfile, focalLength: number, name?: string): LensProfile {
  const [a, b] = [one, other].toSorted((p, q) => focalLengthsOf(p)[0]! - focalLengthsOf(q)[0]!) as [
    LensProfile,
    LensProfile,
  ];
  const [from, to] = [
    focalLengthsOf(a).findLast((f) => f <= focalLength),
    focalLengthsOf(b).find((f) => f >= focalLength),
  ];
  if (!from || !to || !(from < focalLength && focalLength < to))
    throw new BetweenProblem(
      `${focalLength} mm does not lie between ${a.name} (${focalLengthsOf(a).join(", ")} mm) and ${b.name} (${focalLengthsOf(b).join(", ")} mm)`,
    );
  if (a.squeeze !== b.squeeze)
    throw new BetweenProblem(
      `${a.name} squeezes by ${a.squeeze} and ${b.name} by ${b.squeeze}; there is no lens between`,
    );
  const part = Math.log(focalLength / from) / Math.log(to / from);
  const both = mergedTables(a, b);
  const called = name ?? `${a.set ?? a.name} ${Number(focalLength.toFixed(1))}, computed`;
  const origin = {
    kind: "computed" as const,
    how: `between ${a.name} at ${from} mm and ${b.name} at ${to} mm, linear over the logarithm of the focal length`,
  };
  const marked = <T extends object>(table: T): T => ({ ...table, origin });
  const stops = a.stops && b.stops ? shared(a.stops, b.stops) : [];
  return {
    format: "pale-halo-lens",
    version: 1,
    id: slugOf(called, "between"),
    name: called,
    ...(a.set && a.set === b.set ? { set: a.set } : {}),
    squeeze: a.squeeze,
    ...(a.imageCircle && b.imageCircle ? { imageCircle: Math.min(a.imageCircle, b.imageCircle) } : {}),
    focalLengths: [focalLength],
    ...(stops.length ? { stops } : {}),
    ...curvesBetween(a, b, both, focalLength, marked),
    ...numbersBetween(a, b, part, marked),
    origin,
  };
}

/** A lens with the tables of both, between which the profile's own interpolation goes. */
const mergedTables = (a: LensProfile, b: LensProfile): LensProfile => ({
  ...a,
  mtf: [...(a.mtf ?? []), ...(b.mtf ?? [])],
  distortion: [...(a.distortion ?? []), ...(b.distortion ?? [])],
  lateralColour: [...(a.lateralColour ?? []), ...(b.lateralColour ?? [])],
  illumination: [...(a.illumination ?? []), ...(b.illumination ?? [])],
});

type Marked = <T extends object>(table: T) => T;

/** The distortion between two: of one model where both are of it; null where no model holds it. */
function distortionBetween(both: LensProfile, focalLength: number): DistortionTable | null {
  const { x20, x40, k3, p1, p2, ...found } = distortionAt(both, focalLength)!;
  if (both.distortion!.every(({ model }) => model === "radial-tangential"))
    return distortionTable("radial-tangential", focalLength, [x20, x40, k3, p1, p2].map(rounded));
  if (k3 || p1 || p2) return null;
  const values = { x20, x40, ...found } as Record<string, number>;
  return distortionTable(
    "anamorphic",
    focalLength,
    COEFFICIENTS.anamorphic.map((name) => rounded(values[name]!)),
  );
}

/** Distortion, and tables over image height. */
function curvesBetween(a: LensProfile, b: LensProfile, both: LensProfile, focalLength: number, marked: Marked): Tables {
  const out: Tables = {};
  const heightsOf = (one: readonly { heights: number[] }[], two: readonly { heights: number[] }[]) =>
    shared(union(...one.map(({ heights }) => heights)), union(...two.map(({ heights }) => heights)));
  if (a.mtf?.length && b.mtf?.length) {
    const heights = heightsOf(a.mtf, b.mtf);
    const frequencies = shared(
      union(...a.mtf.map((table) => table.frequencies)),
      union(...b.mtf.map((table) => table.frequencies)),
    );
    out.mtf = stopsOf(a.mtf, b.mtf).map((stop) => {
      const rows = (direction: "sagittal" | "meridional") => {
        const contrast = contrastOf(both, focalLength, stop, direction)!;
        return heights.map((height) => frequencies.map((f) => rounded(contrast(f, height))));
      };
      return marked({
        focalLength,
        stop,
        heights,
        frequencies,
        sagittal: rows("sagittal"),
        meridional: rows("meridional"),
      });
    });
  }
  if (a.illumination?.length && b.illumination?.length) {
    const heights = heightsOf(a.illumination, b.illumination);
    out.illumination = stopsOf(a.illumination, b.illumination).map((stop) => {
      const light = illuminationAt(both, focalLength, stop)!;
      return marked({ focalLength, stop, heights, relative: heights.map((height) => rounded(light(height))) });
    });
  }
  if (a.lateralColour?.length && b.lateralColour?.length) {
    const heights = heightsOf(a.lateralColour, b.lateralColour);
    const channel = (which: "red" | "blue") =>
      heights.map((h) => rounded(lateralColourAt(both, focalLength, which)!(h)));
    out.lateralColour = [marked({ focalLength, heights, red: channel("red"), blue: channel("blue") })];
  }
  const distortion = a.distortion?.length && b.distortion?.length ? distortionBetween(both, focalLength) : null;
  if (distortion) out.distortion = [marked(distortion)];
  return out;
}

/** Transmission, veil, streak, pupil and swirl: numbers of the lens, `part` of the way from one to the other. */
function numbersBetween(a: LensProfile, b: LensProfile, part: number, marked: Marked): Tables {
  const out: Tables = {};
  const mix = (x: number, y: number) => rounded(lerp(x, y, part));
  const lists = (x: readonly number[], y: readonly number[]) => x.map((value, i) => mix(value, y[i] ?? value));
  const nearer = part < 0.5 ? a : b;
  if (a.transmission && b.transmission) {
    const wavelengths = shared(a.transmission.wavelengths, b.transmission.wavelengths);
    const [one, two] = [a.transmission, b.transmission].map((t) => monotoneCubic(t.wavelengths, t.values));
    out.transmission = marked({ wavelengths, values: wavelengths.map((nm) => mix(one!(nm), two!(nm))) });
  }
  if (a.veil && b.veil) out.veil = marked({ fraction: mix(a.veil.fraction, b.veil.fraction) });
  if (a.streak && b.streak) {
    const [x, y] = [a.streak, b.streak];
    out.streak = marked({
      length: lists(x.length, y.length) as typeof x.length,
      tail: mix(x.tail, y.tail),
      thickness: mix(x.thickness, y.thickness),
      gain: mix(x.gain, y.gain),
      tint: lists(x.tint, y.tint) as typeof x.tint,
    });
  }
  if (a.pupil && b.pupil) {
    const [x, y] = [a.pupil, b.pupil];
    out.pupil = marked({
      blades: nearer.pupil!.blades,
      roundness: mix(x.roundness, y.roundness),
      ...(x.catEye && y.catEye?.length === x.catEye.length ? { catEye: lists(x.catEye, y.catEye) } : {}),
      ...(x.rim !== undefined && y.rim !== undefined ? { rim: mix(x.rim, y.rim) } : {}),
    });
  }
  if (a.swirl && b.swirl)
    out.swirl = marked({
      degrees: mix(a.swirl.degrees, b.swirl.degrees),
      exponent: mix(a.swirl.exponent, b.swirl.exponent),
      innerRadius: mix(a.swirl.innerRadius ?? 0, b.swirl.innerRadius ?? 0),
    });
  if (a.ghosts?.length && a.ghosts.length === b.ghosts?.length)
    out.ghosts = nearer.ghosts!.map((ghost) => marked(ghost));
  return out;
}
