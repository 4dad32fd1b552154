/** What frames of charts say of a lens or a filter, and the profile that they come to. Plain data throughout. */
import type { Grade } from "../profile/filter";
import { filterSchema, type FilterProfile, lensSchema, type LensProfile } from "../profile/profiles";
import type { Chart } from "./chart";
import { type FoundEdge, measureEdges, type RefusedEdge } from "./edges/edges";
import type { ContrastRows } from "./edges/rows";
import type { GridDot } from "./grid";
import { type LampsMeasurement, measureLamps } from "./lamps/reading";
import { type FilterMeasurement, measurePair } from "./pair";
import { MeasureError } from "./plane";
import {
  type ChartPlace,
  contrastTable,
  gradeOf,
  gridOf,
  type GridModel,
  gridTables,
  illuminationTable,
  pupilTable,
  streakTable,
  veilTable,
} from "./tables";
import { measureTransmission, type TransmissionTable } from "./transmission";

/** What was shot, with what. Focal lengths in mm, stops as T-stops. */
export type ReadingOrder =
  | { kind: "edges"; focalLength: number; stop: number }
  | { kind: "flat"; focalLength: number; stop: number }
  /** Without a model the dots say which one they bear out. */
  | { kind: "grid"; focalLength: number; model?: GridModel }
  | { kind: "pair"; focalLength: number; grade: string }
  | { kind: "point"; focalLength: number }
  | { kind: "transmission"; focalLength: number };
export type ReadingKind = ReadingOrder["kind"];

export interface EdgesReading {
  kind: "edges";
  focalLength: number;
  stop: number;
  place: ChartPlace;
  edges: FoundEdge[];
  refused: RefusedEdge[];
  table: ReturnType<typeof contrastTable>["table"];
  /** Heights (mm) at which a direction has no edge of its own. */
  filled: ContrastRows["filled"];
  /** Standard errors of the table's contrasts, a row a height. */
  errors: number[][];
}
export interface FlatReading {
  kind: "flat";
  focalLength: number;
  stop: number;
  /** Shot twice, the camera turned by 180° between. */
  turned: boolean;
  table: ReturnType<typeof illuminationTable>;
}
export interface GridReading extends ReturnType<typeof gridTables> {
  kind: "grid";
  focalLength: number;
  model: GridModel;
  dots: GridDot[];
  leftOut: number;
  /** Root mean square distance of the dots from the model, px. */
  residual: number;
}
export interface PairReading {
  kind: "pair";
  focalLength: number;
  grade: Grade;
  measured: FilterMeasurement;
}
export interface PointReading extends LampsMeasurement {
  kind: "point";
  focalLength: number;
}
export interface TransmissionReading {
  kind: "transmission";
  focalLength: number;
  table: TransmissionTable;
}
export type Reading = EdgesReading | FlatReading | GridReading | PairReading | PointReading | TransmissionReading;

/** How many pictures a reading takes, and what each is. */
export const PICTURES: Record<ReadingKind, { least: number; names: readonly string[] }> = {
  edges: { least: 1, names: ["the chart"] },
  flat: { least: 1, names: ["the field", "the field, camera turned by 180°"] },
  grid: { least: 1, names: ["the grid"] },
  pair: { least: 2, names: ["without the filter", "with the filter"] },
  point: { least: 1, names: ["the lamps"] },
  transmission: { least: 2, names: ["without the glass", "with the glass"] },
};

/**
 * Measures pictures of a chart. `tell`: how much is done, 0 to 1. Throws MeasureError that says what is wrong with them.
 */
export function readingOf(
  order: ReadingOrder,
  charts: readonly Chart[],
  tell: (share: number) => void = () => {},
): Reading {
  const { focalLength } = order;
  const [first, second] = charts;
  if (charts.length < PICTURES[order.kind].least)
    throw new MeasureError(`a ${order.kind} needs ${PICTURES[order.kind].least} pictures; ${charts.length} are given`);
  switch (order.kind) {
    case "edges": {
      const { edges, refused } = measureEdges(first!.channels.green, tell);
      const { axisX, axisY, pitch } = first!;
      const place = { axisX, axisY, pitch };
      const { table, filled, errors } = contrastTable(edges, place, focalLength, order.stop);
      return { kind: "edges", focalLength, stop: order.stop, place, edges, refused, table, filled, errors };
    }
    case "flat": {
      const table = illuminationTable(charts, focalLength, order.stop);
      return { kind: "flat", focalLength, stop: order.stop, turned: Boolean(second), table };
    }
    case "grid": {
      const { model, dots, leftOut, residual, ...found } = gridOf(first!, focalLength, order.model);
      const tables = gridTables({ dots, leftOut, residual, ...found }, focalLength, model);
      return { kind: "grid", focalLength, model, dots, leftOut, residual, ...tables };
    }
    case "pair": {
      const measured = measurePair(first!, second!, focalLength, tell);
      return { kind: "pair", focalLength, grade: gradeOf(measured, order.grade), measured };
    }
    case "point":
      return { kind: "point", focalLength, ...measureLamps(first!, tell) };
    case "transmission":
      return { kind: "transmission", focalLength, table: measureTransmission(first!, second!) };
  }
}

/** The same reading under another focal length or stop; null where that changes what is measured. */
export function relabelled(reading: Reading, order: ReadingOrder): Reading | null {
  const { focalLength } = order;
  if (reading.kind === "edges" && order.kind === "edges") {
    const { stop } = order;
    return { ...reading, focalLength, stop, table: { ...reading.table, focalLength, stop } };
  }
  if (reading.kind === "flat" && order.kind === "flat") {
    const { stop } = order;
    return { ...reading, focalLength, stop, table: { ...reading.table, focalLength, stop } };
  }
  if (reading.kind === order.kind && (reading.kind === "point" || reading.kind === "transmission"))
    return { ...reading, focalLength };
  if (reading.kind === "pair" && order.kind === "pair" && reading.focalLength === focalLength)
    return { ...reading, grade: { ...reading.grade, grade: order.grade } };
  return null;
}

/** An edge's middle within this distance, px, is the edge that was meant. */
const SAME_EDGE = 6;

/** The same reading without the edges at these places (px of the chart). Throws MeasureError where none is left. */
export function withoutEdges(reading: EdgesReading, places: readonly (readonly [number, number])[]): EdgesReading {
  const edges = reading.edges.filter(({ x, y }) => !places.some(([px, py]) => Math.hypot(px - x, py - y) < SAME_EDGE));
  const { focalLength, stop, place } = reading;
  return { ...reading, edges, ...contrastTable(edges, place, focalLength, stop) };
}

/** What a profile is called, and who measured it. */
export interface ProfileHead {
  id: string;
  name: string;
  set?: string;
  by?: string;
  when?: string;
}
export interface LensHead extends ProfileHead {
  squeeze: number;
  /** mm */
  imageCircle?: number;
}

const originOf = ({ by, when }: ProfileHead, how: string) => ({
  kind: "measured" as const,
  how,
  ...(by ? { by } : {}),
  ...(when ? { when } : {}),
});

interface Tabled {
  focalLength: number;
  stop?: number;
}
const ordered = <T extends Tabled>(tables: T[]): T[] | undefined =>
  tables.length ? tables.toSorted((a, b) => a.focalLength - b.focalLength || (a.stop ?? 0) - (b.stop ?? 0)) : undefined;

/** Throws MeasureError where two frames say the same thing of one focal length and stop. */
function refuseTwice(kind: string, tables: readonly Tabled[]): void {
  const seen = new Set<string>();
  for (const { focalLength, stop } of tables) {
    const at = `${focalLength} mm${stop === undefined ? "" : ` at T${stop}`}`;
    if (seen.has(at)) throw new MeasureError(`two frames measure ${kind} at ${at}; leave one of them out`);
    seen.add(at);
  }
}

const checked = <T>(result: { success: true; data: T } | { success: false; error: { issues: Problem[] } }): T => {
  if (result.success) return result.data;
  const { path, message } = result.error.issues[0]!;
  throw new MeasureError(`what was measured is no profile: ${path.join(".")} ${message}`);
};
interface Problem {
  path: PropertyKey[];
  message: string;
}

/** What a profile says once of a lens: the only one of these, where there is one. Throws MeasureError. */
function oneOf<T>(what: string, found: readonly (T | null)[]): T | undefined {
  const said = found.filter((one) => one !== null);
  if (said.length > 1) throw new MeasureError(`two frames measure the ${what}; leave one of them out`);
  return said[0];
}

/** Veil, streak, pupil and transmission, which are of the lens and not of one focal length or stop. */
function glassTables(
  head: ProfileHead,
  points: readonly PointReading[],
  transmissions: readonly TransmissionReading[],
): Partial<Pick<LensProfile, "veil" | "streak" | "pupil" | "transmission">> {
  const veil = oneOf(
    "veil",
    points.map((point) => point.veil),
  );
  const streak = oneOf(
    "streak",
    points.map((point) => point.streak),
  );
  const pupil = oneOf(
    "pupil",
    points.map((point) => point.pupil),
  );
  const transmission = oneOf(
    "transmission",
    transmissions.map(({ table }) => table),
  );
  const inFocus = originOf(head, "small lamps in the dark, in focus");
  return {
    ...(veil ? { veil: { ...veilTable(veil), origin: inFocus } } : {}),
    ...(streak ? { streak: { ...streakTable(streak), origin: inFocus } } : {}),
    ...(pupil
      ? { pupil: { ...pupilTable(pupil), origin: originOf(head, `${pupil.discs} small lamps out of focus`) } }
      : {}),
    ...(transmission
      ? { transmission: { ...transmission, origin: originOf(head, "an even field without and with it") } }
      : {}),
  };
}

/** The lens that readings come to. Throws MeasureError where they are not of one lens, or two say the same. */
export function lensOf(head: LensHead, readings: readonly Reading[]): LensProfile {
  const { id, name, set, squeeze, imageCircle } = head;
  const pick = <K extends ReadingKind>(kind: K) =>
    readings.filter((reading): reading is Extract<Reading, { kind: K }> => reading.kind === kind);
  if (pick("pair").length) throw new MeasureError("a pair measures a filter; the other charts measure a lens");
  if (!readings.length) throw new MeasureError("nothing has been measured yet");
  const edges = pick("edges");
  const flats = pick("flat");
  const grids = pick("grid");
  refuseTwice("contrast", edges);
  refuseTwice("illumination", flats);
  refuseTwice("distortion", grids);
  const glass = glassTables(head, pick("point"), pick("transmission"));
  const unique = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
  const stops = unique([...edges, ...flats].map(({ stop }) => stop));
  return checked(
    lensSchema.safeParse({
      format: "pale-halo-lens",
      version: 1,
      ...{ id, name, set, squeeze, imageCircle },
      focalLengths: unique(readings.map(({ focalLength }) => focalLength)),
      stops: stops.length ? stops : undefined,
      mtf: ordered(
        edges.map(({ table, edges: { length } }) => ({
          ...table,
          origin: originOf(head, `${length} slanted edges (ISO 12233)`),
        })),
      ),
      distortion: ordered(grids.map(({ distortion }) => ({ ...distortion, origin: originOf(head, "a grid of dots") }))),
      lateralColour: ordered(
        grids.map(({ lateralColour }) => ({ ...lateralColour, origin: originOf(head, "a grid of dots") })),
      ),
      illumination: ordered(
        flats.map(({ table, turned }) => ({
          ...table,
          origin: originOf(head, turned ? "an even field, shot twice and turned" : "an even field"),
        })),
      ),
      ...glass,
    }),
  );
}

/** The filter that pairs come to, a grade each. Throws MeasureError. */
export function filterOf(head: ProfileHead, readings: readonly Reading[]): FilterProfile {
  const { id, name, set } = head;
  const pairs = readings.filter(({ kind }) => kind === "pair") as PairReading[];
  if (pairs.length < readings.length) throw new MeasureError("a filter is measured by pairs of frames alone");
  const names = pairs.map(({ grade }) => grade.grade);
  const twice = names.find((grade, i) => names.indexOf(grade) < i);
  if (twice !== undefined) throw new MeasureError(`two pairs measure the grade ${twice}; leave one of them out`);
  return checked(
    filterSchema.safeParse({
      format: "pale-halo-filter",
      version: 1,
      ...{ id, name, set },
      grades: pairs.map(({ grade, focalLength, measured: { explained } }) => ({
        ...grade,
        origin: originOf(
          head,
          `one scene without and with it, at ${focalLength} mm; ${(100 * explained).toFixed(1)} % of what changed is explained`,
        ),
      })),
    }),
  );
}
