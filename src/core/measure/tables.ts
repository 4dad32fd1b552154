/** What was measured in a chart, as rows of a profile's tables: rounded, with its uncertainty. */
import type { DistortionModel, DistortionTable } from "../profile/distortion";
import type { Grade } from "../profile/filter";
import type { Channel, Chart } from "./chart";
import type { FoundEdge } from "./edges/edges";
import { type ContrastRows, contrastRows } from "./edges/rows";
import { measureFlat } from "./flat";
import { type GridMeasurement, measureGrid } from "./grid";
import type { PupilMeasurement } from "./lamps/pupil";
import type { Streak } from "./lamps/streak";
import type { Veil } from "./lamps/veil";
import type { FilterMeasurement } from "./pair";
import { MeasureError, type Plane } from "./plane";

/** Significant digits of a measured number: beyond what any chart is sure of. */
const DIGITS = 5;
const COEFFICIENT_DECIMALS = 6;
const rounded = (values: readonly number[]) => values.map((value) => Number(value.toPrecision(DIGITS)));
const sureTo = (value: number) => Number(value.toPrecision(2));

export type GridModel = DistortionModel;

/** Where a chart was measured: only what the tables need of it. */
export type ChartPlace = Pick<Chart, "axisX" | "axisY" | "pitch">;

/** Contrast over the frame. `withoutAperture`: the pixel's own share is divided out, as a lens's table wants it. */
export function contrastTable(
  edges: FoundEdge[],
  { axisX, axisY, pitch }: ChartPlace,
  focalLength: number,
  stop: number,
  withoutAperture = true,
) {
  const rows: ContrastRows = contrastRows(edges, { axisX, axisY, pitch }, withoutAperture);
  const { heights, frequencies, sagittal, meridional, uncertainty } = rows;
  const table = { focalLength, stop, heights, frequencies, sagittal, meridional, uncertainty };
  return { table, filled: rows.filled, errors: rows.errors };
}

/**
 * Light of an even field that was shot twice, the camera turned by 180° between: what the lamp's unevenness adds on one
 * side it takes away on the other, so that a mean of the two has none of it.
 */
export function turnedMean(one: Plane, other: Plane, mean: (a: number, b: number) => number): Plane {
  if (one.width !== other.width || one.height !== other.height) throw new MeasureError("the two frames differ in size");
  const { width, height } = one;
  const total = ({ data }: Plane) => {
    let sum = 0;
    for (let i = 0; i < data.length; i++) sum += data[i]!;
    return sum;
  };
  // Either frame may have been exposed a little more than the other.
  const level = total(one) / total(other);
  const data = Float64Array.from({ length: width * height }, (_, i) =>
    mean(Math.max(0, one.data[i]!), Math.max(0, other.data[i]! * level)),
  );
  return { width, height, data };
}

/** What rings and their middles leave of error without any noise, as a share of the light. */
const FLAT_SYSTEMATIC = 6e-4;

/** Light against the axis over image height: a row of `illumination`. One chart, or two turned by 180°. */
export function illuminationTable(charts: readonly Chart[], focalLength: number, stop: number) {
  const [one, other] = charts.map(({ channels }) => channels.green);
  const half = (a: number, b: number) => (a + b) / 2;
  const measured = measureFlat(other ? turnedMean(one!, other, half) : one!);
  // Lamps fall off unevenly themselves: two ways to take the mean differ by what neither can know.
  const geometric = other ? measureFlat(turnedMean(one!, other, (a, b) => Math.sqrt(a * b))) : measured;
  const { radii, relative, uncertainty } = measured;
  const { pitch } = charts[0]!;
  const sure = uncertainty.map((error, i) =>
    Math.hypot(error, FLAT_SYSTEMATIC, (relative[i]! - geometric.relative[i]!) / 2),
  );
  return {
    focalLength,
    stop,
    heights: [0, ...rounded(radii.map((radius) => radius * pitch))],
    relative: [1, ...rounded(relative)],
    uncertainty: sureTo(Math.max(...sure)),
  };
}

/** A model of more coefficients is taken where it leaves less than this share of the simpler one's residual. */
const WORTH_MORE = 0.8;

/** A grid of dots measured with a model, or with the one that the dots bear out. Throws MeasureError. */
export function gridOf(
  { channels, pitch, axisX, axisY }: Chart,
  focalLength: number,
  model?: GridModel,
): GridMeasurement & { model: GridModel } {
  const read = (one: GridModel) => ({
    model: one,
    ...measureGrid({ planes: channels, pitchX: pitch, pitchY: pitch, axisX, axisY, focalLength, model: one }),
  });
  if (model) return read(model);
  const round = read("radial-tangential");
  let squeezed: ReturnType<typeof read>;
  try {
    squeezed = read("anamorphic");
  } catch (error) {
    // Too few dots for the larger model are enough for the smaller one.
    if (error instanceof MeasureError) return round;
    throw error;
  }
  return squeezed.residual < WORTH_MORE * round.residual ? squeezed : round;
}

/** Distortion and lateral colour of a measured grid. */
export function gridTables(found: GridMeasurement, focalLength: number, model: GridModel) {
  const { coefficients, lateral, residual } = found;
  return {
    distortion: {
      focalLength,
      model,
      coefficients: Object.fromEntries(
        Object.entries(coefficients).map(([name, value]) => [name, Number(value.toFixed(COEFFICIENT_DECIMALS))]),
      ),
      uncertainty: `${residual.toPrecision(2)} px from the model, root mean square`,
      // Its coefficients are those of the model that was fitted.
    } as DistortionTable & { uncertainty: string },
    lateralColour: {
      focalLength,
      heights: rounded(lateral.heights),
      red: rounded(lateral.red),
      blue: rounded(lateral.blue),
      uncertainty: sureTo(Math.max(...lateral.uncertainty)),
    },
  };
}

const MAX_GAIN_STOPS = 0.5;

/** A measured filter as a grade of a profile. */
export function gradeOf({ degrees, channels, uncertainty }: FilterMeasurement, grade: string): Grade {
  const { green } = channels;
  const spreadOf = (channel: Channel) => rounded(channels[channel].spread);
  return {
    grade,
    scatter: Number(Math.min(1, Math.max(0, green.scatter)).toPrecision(DIGITS)),
    absorption: 0,
    transmissionStops: Number(Math.min(MAX_GAIN_STOPS, Math.log2(green.transmission)).toPrecision(DIGITS)),
    spread: {
      degrees: rounded(degrees),
      red: spreadOf("red"),
      green: spreadOf("green"),
      blue: spreadOf("blue"),
    },
    uncertainty: sureTo(uncertainty.scatter),
  };
}

/** Bounds of a profile's veil, streak and pupil. */
const MAX_VEIL = 50;
const [MIN_THICKNESS, MAX_THICKNESS] = [0.02, 3];

export const veilTable = ({ fraction, uncertainty }: Veil) => ({
  fraction: Number(Math.min(MAX_VEIL, fraction).toPrecision(DIGITS)),
  uncertainty: sureTo(uncertainty),
});

const triple = (values: readonly number[]) => rounded(values) as [number, number, number];

export const streakTable = ({ length, tail, thickness, gain, tint, uncertainty }: Streak) => ({
  length: triple(length),
  tail: Number(tail.toPrecision(DIGITS)),
  thickness: Number(Math.min(MAX_THICKNESS, Math.max(MIN_THICKNESS, thickness)).toPrecision(DIGITS)),
  gain: Number(gain.toPrecision(DIGITS)),
  tint: triple(tint),
  uncertainty: sureTo(uncertainty),
});

export const pupilTable = ({ blades, roundness, catEye, rim, uncertainty }: PupilMeasurement) => ({
  blades,
  roundness: Number(roundness.toPrecision(DIGITS)),
  catEye: rounded(catEye),
  rim: Number(rim.toPrecision(DIGITS)),
  uncertainty: sureTo(uncertainty.catEye),
});
