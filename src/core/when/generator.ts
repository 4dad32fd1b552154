import { z } from "zod";
import type { Track } from "../track/track";
import type { CurvePoints } from "../maths/curve";
import { MAX_FRAME } from "../frame/ranges";

/** What may be timed: a number, three (a colour, or one a channel), or the points of a curve together. */
export type Kind = "number" | "triple" | "points";
export type TimedValue = number | readonly [number, number, number] | CurvePoints;

/** A frame of a shot, as what moves values sees it. */
export interface Moment {
  frame: number;
  /** Frames a second. */
  frameRate: number;
  /** The look's tracks, by id. */
  tracks?: ReadonlyMap<string, Track>;
}

/** A number that a generator is set by: its control and its schema follow from it. */
export interface GeneratorParameter {
  label: string;
  help: string;
  /** Empty: the unit of what is timed. */
  unit: string;
  min: number;
  max: number;
  step: number;
  default: number;
  whole?: true;
}

/** One way in which a value changes over time: plain data under its own name in a look, and how it is read. */
export interface Generator<Data> {
  label: string;
  summary: string;
  schema: z.ZodType<Data>;
  /** The few numbers it is set by, where it has such. */
  parameters: Readonly<Record<string, GeneratorParameter>>;
  /** Data to begin from where something is `value` at `frame`. */
  begin(value: TimedValue, frame: number): Data;
  /** The value at a moment. `base`: what it would be without it. */
  value(data: Data, base: unknown, moment: Moment): unknown;
  kind(data: Data): Kind;
  /** The numbers that something is given outright, which must lie in its range. */
  numbers(data: Data): readonly number[];
}

/** Nothing here is measured in more than this; a parameter's own range is narrower. */
const MAX_VALUE = 1e6;
export const numberSchema = z.number().min(-MAX_VALUE).max(MAX_VALUE);
export const frameSchema = z.number().int().min(-MAX_FRAME).max(MAX_FRAME);

/** The schema of a generator's parameter. */
export const parameterSchema = ({ min, max, help, unit, whole }: GeneratorParameter) => {
  const number = z.number().min(min).max(max);
  return (whole ? number.int() : number).describe(unit ? `${help} (${unit})` : help);
};
