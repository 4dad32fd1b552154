import type { Matrix3, Triple } from "../../maths/matrix";
import { LUMINANCE_709 } from "../primaries";
import { type LogParams, logTransfer } from "../transfer/log";

/**
 * A colour transform as a list of steps, as `.cube` and CLF (Academy S-2014-006) files hold it. Values are normalised:
 * 0 to 1 over the range of whole numbers. Plain data; tables are interleaved RGB.
 */
export interface Transform {
  name: string;
  steps: TransformStep[];
}

export type TransformStep =
  | { kind: "matrix"; matrix: Matrix3; offset: Triple }
  /** `size` entries a channel between `low` and `high`; linear between them, held outside. */
  | { kind: "lut1d"; size: number; low: Triple; high: Triple; table: Float32Array }
  /** Entries for the 65536 half floats, by their bits. */
  | { kind: "lutHalf"; table: Float32Array }
  /** `size` entries a side, blue fastest; tetrahedral between them unless said otherwise, held outside. */
  | { kind: "lut3d"; size: number; low: Triple; high: Triple; table: Float32Array; isTrilinear?: boolean }
  /** Scale and offset, then held within `low` and `high` where they are given. */
  | { kind: "range"; scale: number; offset: number; low?: number; high?: number }
  | { kind: "log"; toLog: boolean; channels: readonly [LogParams, LogParams, LogParams] }
  | { kind: "exponent"; style: ExponentStyle; exponent: Triple; offset: Triple }
  /** ASC CDL v1.2; `clamps`: held within 0 to 1 before the power and at the end. */
  | {
      kind: "cdl";
      slope: Triple;
      offset: Triple;
      power: Triple;
      saturation: number;
      clamps: boolean;
      inverse: boolean;
    };

export const EXPONENT_STYLES = [
  "basicFwd",
  "basicRev",
  "basicMirrorFwd",
  "basicMirrorRev",
  "basicPassThruFwd",
  "basicPassThruRev",
  "monCurveFwd",
  "monCurveRev",
  "monCurveMirrorFwd",
  "monCurveMirrorRev",
] as const;
export type ExponentStyle = (typeof EXPONENT_STYLES)[number];

/** A step on one channel at a time, or null for one that needs all three. */
export function channelCurves(step: TransformStep): ((value: number) => number)[] | null {
  if (step.kind === "log")
    return step.channels.map((params) => (step.toLog ? logTransfer(params).toCode : logTransfer(params).toLight));
  if (step.kind === "exponent")
    return [0, 1, 2].map((c) => exponentCurve(step.style, step.exponent[c]!, step.offset[c]!));
  if (step.kind === "lutHalf") return [0, 1, 2].map((c) => (value: number) => halfEntry(step.table, c, value));
  return null;
}

function exponentCurve(style: ExponentStyle, exponent: number, offset: number): (value: number) => number {
  const mirrored = (curve: (value: number) => number) => (value: number) => (value < 0 ? -curve(-value) : curve(value));
  const power = (p: number) => (value: number) => Math.max(0, value) ** p;
  const passing = (p: number) => (value: number) => (value < 0 ? value : value ** p);
  const forward = monCurve(exponent, offset);
  const reverse = monCurveInverse(exponent, offset);
  switch (style) {
    case "basicFwd":
      return power(exponent);
    case "basicRev":
      return power(1 / exponent);
    case "basicMirrorFwd":
      return mirrored(power(exponent));
    case "basicMirrorRev":
      return mirrored(power(1 / exponent));
    case "basicPassThruFwd":
      return passing(exponent);
    case "basicPassThruRev":
      return passing(1 / exponent);
    case "monCurveFwd":
      return forward;
    case "monCurveRev":
      return reverse;
    case "monCurveMirrorFwd":
      return mirrored(forward);
    case "monCurveMirrorRev":
      return mirrored(reverse);
  }
}

/** The break and slope of a power with an offset and a straight toe that meets it smoothly (S-2014-006, monCurve). */
function monCurveToe(exponent: number, offset: number) {
  const start = offset / (exponent - 1);
  const slope = ((exponent - 1) / offset) * ((offset * exponent) / ((exponent - 1) * (1 + offset))) ** exponent;
  return { start, slope };
}

function monCurve(exponent: number, offset: number) {
  const { start, slope } = monCurveToe(exponent, offset);
  return (value: number) => (value >= start ? ((value + offset) / (1 + offset)) ** exponent : value * slope);
}

function monCurveInverse(exponent: number, offset: number) {
  const { start, slope } = monCurveToe(exponent, offset);
  const at = start * slope;
  return (value: number) => (value >= at ? (1 + offset) * value ** (1 / exponent) - offset : value / slope);
}

const halfOf = new Uint32Array(1);
const floatOf = new Float32Array(halfOf.buffer);

/** The table's value at a float: linear between the two halves around it. */
function halfEntry(table: Float32Array, channel: number, value: number): number {
  const magnitude = Math.min(Math.abs(value), 65504);
  floatOf[0] = magnitude;
  const exponent = Math.max(-14, (halfOf[0]! >>> 23) - 127);
  const position =
    exponent <= -14 && magnitude < 2 ** -14
      ? magnitude * 2 ** 24
      : (exponent + 14) * 1024 + (magnitude / 2 ** exponent) * 1024;
  const cell = Math.min(Math.floor(position), 0x7bfe);
  const sign = value < 0 ? 0x8000 : 0;
  const here = table[(sign + cell) * 3 + channel]!;
  const next = table[(sign + cell + 1) * 3 + channel]!;
  return here + (next - here) * (position - cell);
}

const clamped = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

function lut1d(
  { size, low, high, table }: Extract<TransformStep, { kind: "lut1d" }>,
  value: number,
  c: number,
): number {
  const position = clamped((value - low[c]!) / (high[c]! - low[c]!), 0, 1) * (size - 1);
  const cell = Math.min(Math.floor(position), size - 2);
  const here = table[cell * 3 + c]!;
  return here + (table[cell * 3 + 3 + c]! - here) * (position - cell);
}

/** Tetrahedral interpolation (Kasson, 1995): along the axis of the largest fraction first; or trilinear. */
function lut3d(
  { size, low, high, table, isTrilinear }: Extract<TransformStep, { kind: "lut3d" }>,
  rgb: number[],
): void {
  const step = [size * size * 3, size * 3, 3];
  let at = 0;
  const fraction = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    const position = clamped((rgb[c]! - low[c]!) / (high[c]! - low[c]!), 0, 1) * (size - 1);
    const cell = Math.min(Math.floor(position), size - 2);
    fraction[c] = position - cell;
    at += cell * step[c]!;
  }
  const [r, g, b] = fraction as [number, number, number];
  if (isTrilinear) {
    const between = (a: number, c: number, t: number) => a + (c - a) * t;
    const alongBlue = (from: number) => between(table[from]!, table[from + step[2]!]!, b);
    const alongGreen = (from: number) => between(alongBlue(from), alongBlue(from + step[1]!), g);
    for (let c = 0; c < 3; c++) rgb[c] = between(alongGreen(at + c), alongGreen(at + c + step[0]!), r);
    return;
  }
  const [first, middle, last] =
    r >= g
      ? g >= b
        ? [0, 1, 2]
        : r >= b
          ? [0, 2, 1]
          : [2, 0, 1]
      : b >= g
        ? [2, 1, 0]
        : b >= r
          ? [1, 2, 0]
          : [1, 0, 2];
  const p1 = at + step[first!]!;
  const p2 = p1 + step[middle!]!;
  const p3 = p2 + step[last!]!;
  for (let c = 0; c < 3; c++) {
    const v0 = table[at + c]!;
    const v1 = table[p1 + c]!;
    const v2 = table[p2 + c]!;
    rgb[c] =
      v0 + fraction[first!]! * (v1 - v0) + fraction[middle!]! * (v2 - v1) + fraction[last!]! * (table[p3 + c]! - v2);
  }
}

function cdl(
  { slope, offset, power, saturation, clamps, inverse }: Extract<TransformStep, { kind: "cdl" }>,
  rgb: number[],
): void {
  const hold = (value: number) => (clamps ? clamped(value, 0, 1) : value);
  const bend = (value: number, p: number) => (value < 0 ? value : value ** p);
  const saturate = (amount: number) => {
    const luma = rgb.reduce((sum, value, c) => sum + value * LUMINANCE_709[c]!, 0);
    for (let c = 0; c < 3; c++) rgb[c] = hold(luma + amount * (rgb[c]! - luma));
  };
  if (inverse) {
    for (let c = 0; c < 3; c++) rgb[c] = hold(rgb[c]!);
    saturate(1 / saturation);
    for (let c = 0; c < 3; c++) rgb[c] = hold((bend(rgb[c]!, 1 / power[c]!) - offset[c]!) / slope[c]!);
    return;
  }
  for (let c = 0; c < 3; c++) rgb[c] = bend(hold(rgb[c]! * slope[c]! + offset[c]!), power[c]!);
  saturate(saturation);
}

function worker(step: TransformStep): (rgb: number[]) => void {
  const curves = channelCurves(step);
  if (curves) return (rgb) => curves.forEach((curve, c) => (rgb[c] = curve(rgb[c]!)));
  switch (step.kind) {
    case "matrix": {
      const { matrix: m, offset } = step;
      return (rgb) => {
        const [r, g, b] = rgb as [number, number, number];
        for (let c = 0; c < 3; c++) rgb[c] = m[c * 3]! * r + m[c * 3 + 1]! * g + m[c * 3 + 2]! * b + offset[c]!;
      };
    }
    case "lut1d":
      return (rgb) => rgb.forEach((value, c) => (rgb[c] = lut1d(step, value, c)));
    case "lut3d":
      return (rgb) => lut3d(step, rgb);
    case "range":
      return (rgb) =>
        rgb.forEach(
          (value, c) =>
            (rgb[c] = clamped(value * step.scale + step.offset, step.low ?? -Infinity, step.high ?? Infinity)),
        );
    case "cdl":
      return (rgb) => cdl(step, rgb);
    default:
      throw new RangeError(`A transform has no step of the kind ${step.kind}`);
  }
}

/** A transform ready to be applied to many colours, in place. */
export function applier({ steps }: Transform): (rgb: number[]) => void {
  const works = steps.map(worker);
  return (rgb) => works.forEach((work) => work(rgb));
}

/** Largest tables taken in. */
export const MAX_CUBE = 129;
/** Steps a transform has at most. */
export const MAX_STEPS = 64;
export const MAX_LUT1D = 65536;
