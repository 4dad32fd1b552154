import { z } from "zod";
import type { Parameter, ParameterValue, Values } from "../elements/definition";
import type { CurvePoints } from "../maths/curve";
import { clamp } from "../maths/interpolate";
import type { AreaNumber } from "../where/definition";
import { POINTS, WHERE_NUMBERS } from "../where/numbers";
import { AREAS } from "../where/registry";
import { type AreaKind, type Where, whereData } from "../where/schema";

export interface Range {
  min: number;
  max: number;
}

/** Bounds on strength of one element, and of the look over all of them. */
export const MAX_STRENGTH = 10;
export const MAX_OVERALL = 2;

/** Least length, stop and distance: more than nothing. */
const LEAST = 1e-3;

/** The numbers of a look itself that may be timed, and where they go from and to: mm, T-stop and m. */
export const LOOK_RANGES: Readonly<Record<string, Range>> = {
  strength: { min: 0, max: MAX_OVERALL },
  "lens.focalLength": { min: LEAST, max: 1000 },
  "lens.stop": { min: LEAST, max: 128 },
  "lens.focusDistance": { min: LEAST, max: 1e6 },
};

/** The lens's numbers as they are set by hand: usual lenses and distances. */
export const LENS_NUMBERS = {
  focalLength: { label: "Focal length", unit: "mm", min: 8, max: 300, step: 1 },
  stop: { label: "Stop", unit: "T-stop", min: 1, max: 32, step: 0.1 },
  focusDistance: { label: "Focus", unit: "m", min: 0.2, max: 500, step: 0.1 },
} as const;

/** Those of every element, beside its parameters. */
export const elementRanges = (negative = false): Readonly<Record<string, Range>> => ({
  strength: { min: negative ? -MAX_STRENGTH : 0, max: MAX_STRENGTH },
  mix: { min: 0, max: 1 },
});

/** The range a number of a parameter is held to; null for what is no number. */
export function rangeOf(parameter: Parameter): Range | null {
  if (parameter.type === "number" || parameter.type === "triple") return { min: parameter.min, max: parameter.max };
  return parameter.type === "colour" ? { min: 0, max: MAX_COLOUR } : null;
}

/** Light of a colour that is set, against mid-grey's scale. */
export const MAX_COLOUR = 16;

/** A number within a range; what is no number at all becomes its lower end. */
export const within = (value: number, min: number, max: number) => (Number.isNaN(value) ? min : clamp(value, min, max));

function clampedValue(value: ParameterValue, parameter: Parameter | undefined): ParameterValue {
  if (parameter?.type === "curve")
    return (value as CurvePoints).map(([x, y]) => [
      within(x, parameter.x.min, parameter.x.max),
      within(y, parameter.y.min, parameter.y.max),
    ]);
  const range = parameter && rangeOf(parameter);
  if (!range) return value;
  const hold = (number: number) => within(number, range.min, range.max);
  if (typeof value === "number") return hold(value);
  return Array.isArray(value) ? (value.map(hold) as unknown as ParameterValue) : value;
}

/** Parameters held to the ranges of their definitions. */
export const clampedParameters = (values: Values, parameters: Record<string, Parameter>): Values =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, clampedValue(value, parameters[name])]));

/** Numbers of plain data held to the bounds its schema gives them; everything else stays. */
export function clampedTo(schema: z.core.$ZodType, value: unknown): unknown {
  if (schema instanceof z.ZodDefault || schema instanceof z.ZodOptional) return clampedTo(schema.unwrap(), value);
  if (schema instanceof z.ZodNumber && typeof value === "number")
    return within(value, schema.minValue ?? -Infinity, schema.maxValue ?? Infinity);
  if (schema instanceof z.ZodArray && Array.isArray(value)) return value.map((item) => clampedTo(schema.element, item));
  if (schema instanceof z.ZodTuple && Array.isArray(value))
    return value.map((item, i) => clampedTo(schema.def.items[i]!, item));
  if (schema instanceof z.ZodUnion) {
    const kind = (value as { kind?: string }).kind;
    const option = schema.options.find((entry) => entry instanceof z.ZodObject && kindIn(entry) === kind);
    return option ? clampedTo(option, value) : value;
  }
  if (schema instanceof z.ZodObject && typeof value === "object" && value !== null) {
    const { shape } = schema;
    return Object.fromEntries(
      Object.entries(value).map(([name, item]) => [name, shape[name] ? clampedTo(shape[name], item) : item]),
    );
  }
  return value;
}

/** The range of a number, or of the numbers of points, of an area's kind; null for what has none. */
export function areaRange(kind: AreaKind, name: string): Range | null {
  const ofAll: Record<string, AreaNumber> = { points: POINTS, strength: WHERE_NUMBERS.strength };
  const found = AREAS[kind].numbers[name] ?? ofAll[name];
  return found ? { min: found.min, max: found.max } : null;
}

const kindIn = ({ shape }: z.ZodObject) => (shape.kind instanceof z.ZodLiteral ? shape.kind.value : undefined);

/** Least distance between where a key's matte is empty and where it is full. */
const MIN_STEP = 1e-3;

/** An area held to its bounds, and its pairs kept in order: low below high, black below white. */
export function clampedWhere(where: Where): Where {
  const clamped = clampedTo(whereData, where) as Where;
  const areas = clamped.areas.map((area) => {
    if (area.kind !== "key") return area;
    const black = Math.min(area.black, 1 - MIN_STEP);
    return { ...area, high: Math.max(area.low, area.high), black, white: Math.max(area.white, black + MIN_STEP) };
  });
  return { ...clamped, areas };
}
