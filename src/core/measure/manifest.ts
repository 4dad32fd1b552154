/** Measured frames that one lens profile is made of. */
import { z } from "zod";
import type { LensProfile } from "../profile/lens";
import type { Chart } from "./chart";
import { measureEdges } from "./edges/edges";
import { contrastRows } from "./edges/rows";
import { measureFlat } from "./flat";
import { measureGrid } from "./grid";
import { MeasureError, type Plane } from "./plane";

const MAX_FRAMES = 200;
const millimetres = z.number().positive().max(5000);
const file = z.string().min(1).max(1000);
const stop = z.number().positive().max(128).describe("T-stop");
const region = z
  .object({ left: z.number().int(), top: z.number().int(), width: z.number().int(), height: z.number().int() })
  .strict();

const frameSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("edges"), file, focalLength: millimetres, stop, region: region.optional() }).strict(),
  z
    .object({
      kind: z.literal("flat"),
      file: file.optional(),
      files: z.array(file).min(1).max(2).optional().describe("two with the camera turned by 180° between them"),
      focalLength: millimetres,
      stop,
    })
    .strict()
    .refine(({ file: one, files }) => Boolean(one) !== Boolean(files), "names a file, or one or two files"),
  z
    .object({
      kind: z.literal("grid"),
      file,
      focalLength: millimetres,
      stop: stop.optional(),
      model: z.enum(["radial-tangential", "anamorphic"]).default("radial-tangential"),
      region: region.optional(),
    })
    .strict(),
]);
export type MeasuredFrame = z.infer<typeof frameSchema>;

/** What a lens was measured with: its frames, and what goes into its profile as it stands. */
export const manifestSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9][a-z0-9-]{0,63}$/, "lower-case letters, digits and hyphens"),
    name: z.string().min(1).max(120),
    set: z.string().max(120).optional(),
    squeeze: z.number().min(0.25).max(4).default(1),
    imageCircle: z.number().positive().max(500).optional().describe("mm"),
    sensor: z.object({ width: millimetres, height: millimetres }).strict().describe("mm"),
    encoding: z.string().max(120).optional().describe("of all frames; else what each says of itself"),
    by: z.string().max(200).optional(),
    when: z.string().max(200).optional(),
    frames: z.array(frameSchema).min(1).max(MAX_FRAMES),
  })
  .strict();
export type Manifest = z.infer<typeof manifestSchema>;

/** The files of a frame, in order. */
export const filesOf = (frame: MeasuredFrame): string[] =>
  "files" in frame && frame.files ? frame.files : [(frame as { file: string }).file];

const rounded = (values: readonly number[], digits = 5) => values.map((value) => Number(value.toPrecision(digits)));

/** Contrast over the frame, without the pixel's own share: a row of `mtf`. */
export function contrastTable({ channels, pitch, axisX, axisY }: Chart, focalLength: number, stopOf: number) {
  const { edges } = measureEdges(channels.green);
  const rows = contrastRows(edges, { axisX, axisY, pitch }, true);
  const { heights, frequencies, sagittal, meridional, uncertainty } = rows;
  return { focalLength, stop: stopOf, heights, frequencies, sagittal, meridional, uncertainty, edges: edges.length };
}

/**
 * Light of an even field that was shot twice, the camera turned by 180° between: what the lamp's unevenness adds on one
 * side it takes away on the other, so that the geometric mean has none of it.
 */
function turnedMean(one: Plane, other: Plane): Plane {
  if (one.width !== other.width || one.height !== other.height) throw new MeasureError("the two frames differ in size");
  const { width, height } = one;
  const data = Float64Array.from({ length: width * height }, (_, i) =>
    Math.sqrt(Math.max(0, one.data[i]! * other.data[i]!)),
  );
  return { width, height, data };
}

/** Light against the axis over image height: a row of `illumination`. One chart, or two turned by 180°. */
export function illuminationTable(charts: readonly Chart[], focalLength: number, stopOf: number) {
  const [one, other] = charts.map(({ channels }) => channels.green);
  const { radii, relative, uncertainty } = measureFlat(other ? turnedMean(one!, other) : one!);
  const { pitch } = charts[0]!;
  return {
    focalLength,
    stop: stopOf,
    heights: [0, ...rounded(radii.map((radius) => radius * pitch))],
    relative: [1, ...rounded(relative)],
    uncertainty: Number(Math.max(...uncertainty).toPrecision(2)),
  };
}

type GridModel = Parameters<typeof measureGrid>[0]["model"];

/** Distortion and lateral colour of a grid of dots. */
export function gridTables({ channels, pitch, axisX, axisY }: Chart, focalLength: number, model: GridModel) {
  const found = measureGrid({ planes: channels, pitchX: pitch, pitchY: pitch, axisX, axisY, focalLength, model });
  const { coefficients, lateral, residual } = found;
  return {
    distortion: {
      focalLength,
      model,
      coefficients: Object.fromEntries(
        Object.entries(coefficients).map(([name, value]) => [name, Number(value.toFixed(6))]),
      ),
      uncertainty: `${residual.toPrecision(2)} px from the model, root mean square`,
    },
    lateralColour: {
      focalLength,
      heights: rounded(lateral.heights),
      red: rounded(lateral.red),
      blue: rounded(lateral.blue),
      uncertainty: Number(Math.max(...lateral.uncertainty).toPrecision(2)),
    },
  };
}

const sorted = <T extends { focalLength: number; stop?: number }>(tables: T[]): T[] | undefined =>
  tables.length ? tables.toSorted((a, b) => a.focalLength - b.focalLength || (a.stop ?? 0) - (b.stop ?? 0)) : undefined;

/**
 * The profile that measured frames come to. `chartsOf`: the charts of a frame's files. Throws MeasureError that names
 * the frame which cannot be measured.
 */
export async function lensFrom(
  manifest: Manifest,
  chartsOf: (frame: MeasuredFrame) => Promise<Chart[]>,
): Promise<LensProfile> {
  const { id, name, set, squeeze, imageCircle, by, when } = manifest;
  const [mtf, illumination, distortion, lateralColour]: object[][] = [[], [], [], []];
  for (const frame of manifest.frames) {
    const origin = (how: string) => ({ kind: "measured", how, ...(by ? { by } : {}), ...(when ? { when } : {}) });
    try {
      const charts = await chartsOf(frame);
      if (frame.kind === "edges") {
        const { edges, ...table } = contrastTable(charts[0]!, frame.focalLength, frame.stop);
        mtf!.push({ ...table, origin: origin(`${edges} slanted edges (ISO 12233)`) });
      } else if (frame.kind === "flat") {
        const table = illuminationTable(charts, frame.focalLength, frame.stop);
        illumination!.push({
          ...table,
          origin: origin(charts[1] ? "an even field, shot twice and turned" : "an even field"),
        });
      } else {
        const tables = gridTables(charts[0]!, frame.focalLength, frame.model);
        distortion!.push({ ...tables.distortion, origin: origin("a grid of dots") });
        lateralColour!.push({ ...tables.lateralColour, origin: origin("a grid of dots") });
      }
    } catch (error) {
      if (!(error instanceof MeasureError)) throw error;
      throw new MeasureError(`${filesOf(frame).join(", ")}: ${error.message}`);
    }
  }
  const numbers = (of: (frame: MeasuredFrame) => number | undefined) =>
    [...new Set(manifest.frames.flatMap((frame) => of(frame) ?? []))].sort((a, b) => a - b);
  const stops = numbers(({ stop: own }) => own);
  return {
    format: "pale-halo-lens",
    version: 1,
    ...{ id, name, set, squeeze, imageCircle },
    focalLengths: numbers(({ focalLength }) => focalLength),
    stops: stops.length ? stops : undefined,
    mtf: sorted(mtf as never[]),
    distortion: sorted(distortion as never[]),
    lateralColour: sorted(lateralColour as never[]),
    illumination: sorted(illumination as never[]),
  } as LensProfile;
}
