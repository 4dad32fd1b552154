import type { CurvePoints } from "../maths/curve";
import type { Handle } from "../handles/handle";
import type { PlanBuilder } from "../engine/plan";
import type { PointOperation } from "../engine/pointwise";
import type { FrameContext } from "../frame/context";
import type { LensProfile } from "../profile/profiles";
import type { GeometryTerms } from "./geometry";

/** Where on the light path an element sits. */
export const STATIONS = ["front", "lens", "film", "print"] as const;
export type Station = (typeof STATIONS)[number];
/** Stations as they are called. */
export const STATION_LABELS: Record<Station, string> = {
  front: "Matte box",
  lens: "Lens",
  film: "Film",
  print: "Print",
};

interface Common {
  label: string;
  /** What it does, in the trade's language, one sentence. */
  help: string;
  /** Heading it stands under. */
  group?: string;
  /** It has a say only while other parameters have these values. */
  relevantWith?: Readonly<Record<string, readonly string[]>>;
}

/** An axis a curve is drawn on, and how far it goes. */
export interface CurveAxis {
  label: string;
  unit: string;
  min: number;
  max: number;
}

/** A parameter is data: its control, its JSON schema and its line in `bin/halo elements` follow from it. */
export type Parameter =
  | (Common & {
      type: "number";
      unit: string;
      min: number;
      max: number;
      step: number;
      default: number;
      logarithmic?: true;
    })
  | (Common & {
      type: "triple";
      unit: string;
      min: number;
      max: number;
      step: number;
      default: readonly [number, number, number];
      parts?: readonly [string, string, string];
      /** Three factors that tint: set on a disc of colours. */
      tints?: true;
    })
  | (Common & { type: "colour"; default: readonly [number, number, number] })
  /** Points of a monotone spline that is drawn by hand, by ascending x. */
  | (Common & {
      type: "curve";
      x: CurveAxis;
      y: CurveAxis;
      default: CurvePoints;
      /** Curves to begin from. */
      presets?: readonly { name: string; points: CurvePoints }[];
    })
  | (Common & { type: "choice"; options: Record<string, string>; default: string })
  | (Common & { type: "toggle"; default: boolean })
  | (Common & { type: "filter"; default: string })
  | (Common & { type: "grade"; default: string })
  /** One of the look's tracks, by its id; none where it is empty. */
  | (Common & { type: "track"; default: string })
  /** Another shot; nothing where it is empty. */
  | (Common & { type: "footage"; default: string });

/** Whether a parameter has a say, the others being as they are. */
export const isRelevant = ({ relevantWith = {} }: Pick<Common, "relevantWith">, values: Values): boolean =>
  Object.entries(relevantWith).every(([name, allowed]) => allowed.includes(String(values[name])));

export type ParameterValue = number | string | boolean | readonly [number, number, number] | CurvePoints;
export type Values = Record<string, ParameterValue>;

type ValueOf<P> = P extends { type: "number" }
  ? number
  : P extends { type: "triple" | "colour" }
    ? readonly [number, number, number]
    : P extends { type: "curve" }
      ? CurvePoints
      : P extends { type: "choice"; options: infer O }
        ? keyof O & string
        : P extends { type: "toggle" }
          ? boolean
          : string;

/** The values that parameters take, by their definitions. */
export type ValuesOf<P> = { [K in keyof P]: ValueOf<P[K]> };

/** An element of a look, resolved: every parameter has a value. */
export interface ElementState<V = Values> {
  id: string;
  kind: string;
  strength: number;
  mix: number;
  values: V;
}

/** A curve of a response plot: measured (strength 1) or applied. */
export interface Trace {
  name: string;
  colour: "red" | "green" | "blue" | "grey";
  kind: "measured" | "applied";
  x: number[];
  y: number[];
}

export interface Grip {
  label: string;
  x: number;
  y: number;
  set: (x: number, y: number) => Readonly<Record<string, number>>;
}

export interface Response {
  title: string;
  x: { label: string; unit: string; logarithmic?: boolean };
  y: { label: string; unit: string; logarithmic?: boolean };
  traces: Trace[];
  /** Places on the plot that are dragged: what they are, and the values that follow from where they are dragged to. */
  grips?: readonly Grip[];
  /** A line on how exact the computation is, where that is known from the compile step. */
  note?: string;
}

/** How an element changes the frame: one of three kinds of work, which the compile step fuses with its like. */
export type Work<V = Values> =
  | {
      kind: "buffers";
      plan(builder: PlanBuilder, input: number, state: ElementState<V>, context: FrameContext): number;
    }
  | { kind: "point"; program(state: ElementState<V>, context: FrameContext): PointOperation[] }
  | { kind: "geometry"; terms(state: ElementState<V>, context: FrameContext): GeometryTerms };

/** What a lens's tables go by. */
export type LensAxis = "focalLength" | "stop" | "height";

/**
 * What becomes of a ray: it leaves as many, is joined by others, goes back and forth, no longer meets its point, is
 * bent, parts by colour, is weakened at the edge, changes its tone, comes back from the film, or breaks up.
 */
export const PASSAGES = [
  "scatters",
  "adds",
  "mirrors",
  "blurs",
  "bends",
  "splits",
  "dims",
  "tints",
  "returns",
  "grains",
] as const;
export type Passage = (typeof PASSAGES)[number];

/** Checks that `verify` knows, by what they measure. */
export type CheckName =
  "scatter" | "veil" | "streak" | "distortion" | "lateralColour" | "contrast" | "illumination" | "transmission";

export interface ElementDefinition<V = Values> {
  kind: string;
  label: string;
  station: Station;
  /** Its section on the light path, in a box of 40 by 64: SVG paths of its outline, and of what is drawn on it. */
  drawing: { outline: string; detail?: string };
  summary: string;
  /** What to look at, and how it is overdone. */
  advice: string;
  /** What strength multiplies. */
  strengthLaw: string;
  /** Where its formula comes from: publications and open standards. */
  source: string;
  /** What becomes of light that passes it, for its drawing. */
  passes: Passage;
  /** Strengths below 0 mean something: the opposite. */
  negative?: true;
  parameters: Record<keyof V & string, Parameter>;
  /**
   * What of it lies in the picture and is dragged there; some not while a parameter has such a value, with which they
   * say nothing.
   */
  handles?: readonly (Handle & { unless?: Readonly<Partial<V>> })[];
  /** Parameters of an earlier version of the element, as this one has them. */
  fromEarlier?: (params: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>>;
  /** Values that follow from light picked in the picture, as it comes to the element. */
  picks?: { label: string; take: (light: readonly [number, number, number]) => Partial<V> };
  /** Named sets of values to begin from. */
  presets?: readonly { name: string; values: Partial<V> }[];
  /** Its highlight key, where it has one; null where the key has no say as the parameters are. */
  key?: (state: ElementState<V>) => HighlightKey | null;
  /** Where what its key takes counts, by values of its own: a program that makes it a matte; null for everywhere. */
  keyMatte?: (state: ElementState<V>, context: FrameContext) => PointOperation[] | null;
  /** What it makes of a pixel follows from that pixel alone, wherever it lies: a table of colours can hold it. */
  isTonal?: true;
  /**
   * A part of a tonal element that is none: what it is called, whether it has it as it stands, and values with which it
   * has not.
   */
  beyondTone?: { label: string; has: (values: V) => boolean; without: Readonly<Partial<V>> };
  /** Its result differs from frame to frame of the same pixels: it is random by frame, or looks at other frames. */
  changesWithFrame?: true;
  /** It takes what stands before it on the path at other frames, too, */
  takesPathBefore?: true;
  /** at these, by their numbers. */
  framesBeside?: (state: ElementState<V>, context: FrameContext) => number[];
  /** Values that the lens profile measured, in place of the defaults. */
  fromLens?: (lens: LensProfile) => Partial<V>;
  /** What of the lens's tables it reads by, which may lie outside what was measured. */
  reads?: readonly LensAxis[];
  /**
   * What a chart through it is held against its profile by, and values of what the profile says nothing of, left out of
   * it.
   */
  check?: { name: CheckName; without?: Readonly<Partial<V>> };
  /** Whether how far things are has a say in it as it stands. */
  usesDepth?: (state: ElementState<V>) => boolean;
  /** What of it goes in and out as a file of its own: an ASC CDL correction. */
  exchanges?: "cdl";
  /** Quiet, specific words about it as it stands, beside what is said of every element. */
  cautions?: (state: ElementState<V>, context: FrameContext) => string[];
  /** Why the element can do nothing here (a missing table), or null. */
  missing?: (state: ElementState<V>, context: FrameContext) => string | null;
  /** Work, or what decides it where that depends on the parameters. */
  work: Work<V> | ((state: ElementState<V>) => Work<V>);
  response(state: ElementState<V>, context: FrameContext): Response;
}

export interface HighlightKey {
  channel: "luminance" | "maximum" | "each" | "red" | "green" | "blue";
  /** Stops from mid-grey. */
  threshold: number;
  /** Width of the knee, stops. */
  knee: number;
  /** Light above which no more is taken, stops from mid-grey. */
  limit: number;
}

export const workOf = (definition: ElementDefinition, state: ElementState): Work =>
  typeof definition.work === "function" ? definition.work(state) : definition.work;

/** Lets a registry hold definitions of different values; each is checked against its own parameters before use. */
export function define<V>(definition: ElementDefinition<V>): ElementDefinition {
  return definition as unknown as ElementDefinition;
}
