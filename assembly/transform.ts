// Operations of colour transforms (view tables): one pixel at a time, since tables are gathered.

import { add, mul, withAlpha } from "./simd";
import {
  CLAMP_HIGH,
  CLAMP_LOW,
  CUBE_LOW,
  CUBE_SCALE,
  CUBE_SIZE,
  CUBE_TABLE,
  CUBE_TRILINEAR,
  CURVES_FIRST,
  CURVES_LAST,
  CURVES_TABLE,
  CURVE_SHIFT,
  LINE_LOW,
  LINE_SCALE,
  LINE_SIZE,
  LINE_TABLE,
  OFFSET_FROM_BLUE,
  OFFSET_FROM_GREEN,
  OFFSET_FROM_RED,
  OFFSET_OFFSET,
} from "./records";

/** A 3x3 matrix as three columns, then what is added: four vectors. */
export function offsetRow(row: usize, width: i32, p: usize): void {
  const c0 = v128.load(p, OFFSET_FROM_RED);
  const c1 = v128.load(p, OFFSET_FROM_GREEN);
  const c2 = v128.load(p, OFFSET_FROM_BLUE);
  const offset = v128.load(p, OFFSET_OFFSET);
  const end = row + ((<usize>width) << 4);
  for (let at = row; at < end; at += 16) {
    const v = v128.load(at);
    let sum = add(offset, mul(v128.shuffle<f32>(v, v, 0, 0, 0, 0), c0));
    sum = add(sum, mul(v128.shuffle<f32>(v, v, 1, 1, 1, 1), c1));
    sum = add(sum, mul(v128.shuffle<f32>(v, v, 2, 2, 2, 2), c2));
    v128.store(at, withAlpha(sum, v));
  }
}

export function clampRow(row: usize, width: i32, p: usize): void {
  const low = v128.load32_splat(p, CLAMP_LOW);
  const high = v128.load32_splat(p, CLAMP_HIGH);
  const end = row + ((<usize>width) << 4);
  for (let at = row; at < end; at += 16) {
    const v = v128.load(at);
    v128.store(at, withAlpha(f32x4.pmin(high, f32x4.pmax(low, v)), v));
  }
}

/**
 * A curve a channel by the float's own bits, either sign; beyond its last entry it is straight. A channel's table:
 * value at zero, slopes beyond the branch above and the one below (out for light further from zero), branch above,
 * branch below.
 */
export function curvesRow(row: usize, width: i32, p: usize): void {
  const first = load<i32>(p, CURVES_FIRST);
  const last = load<i32>(p, CURVES_LAST);
  const table = p + <usize>load<i32>(p, CURVES_TABLE);
  const branch = (<usize>(last + 1)) << 2;
  const channel = <usize>12 + (branch << 1);
  const lowest = reinterpret<f32>(first << CURVE_SHIFT);
  const highest = reinterpret<f32>(((first + last) << CURVE_SHIFT) - 1);
  const end = reinterpret<f32>((first + last) << CURVE_SHIFT);
  const unit: f32 = <f32>1 / <f32>(1 << CURVE_SHIFT);
  for (let x = 0; x < width; x++) {
    let at = row + ((<usize>x) << 4);
    let own = table;
    for (let c = 0; c < 3; c++) {
      const v = load<f32>(at);
      const size = min(abs(v), highest);
      const side = own + 12 + (v < 0 ? branch : 0);
      let out: f32 = 0;
      if (size < lowest) {
        const zero = load<f32>(own);
        out = zero + (load<f32>(side) - zero) * (size / lowest);
      } else {
        const bits = reinterpret<i32>(size);
        const entry = side + ((<usize>((bits >> CURVE_SHIFT) - first)) << 2);
        const here = load<f32>(entry);
        out = here + (load<f32>(entry, 4) - here) * (<f32>(bits & ((1 << CURVE_SHIFT) - 1)) * unit);
        if (abs(v) > end) out += load<f32>(own + (v < 0 ? 8 : 4)) * (abs(v) - end);
      }
      store<f32>(at, max(-BRIGHTEST, min(BRIGHTEST, out)));
      at += 4;
      own += channel;
    }
  }
}

/** The brightest light there is, as assembly/simd.ts has it. */
const BRIGHTEST: f32 = 1099511627776.0;

/** Place of a value in a table's domain, held inside it; `scale` in entries a unit. */
// @ts-ignore: decorator
@inline function placed(v: f32, low: f32, scale: f32, last: f32): f32 {
  return min(last, max(<f32>0, (v - low) * scale));
}

export function lineRow(row: usize, width: i32, p: usize): void {
  const size = load<i32>(p, LINE_SIZE);
  const table = p + <usize>load<i32>(p, LINE_TABLE);
  const last = <f32>(size - 1);
  for (let x = 0; x < width; x++) {
    const at = row + ((<usize>x) << 4);
    for (let c: usize = 0; c < 12; c += 4) {
      const place = placed(load<f32>(at + c), load<f32>(p + c, LINE_LOW), load<f32>(p + c, LINE_SCALE), last);
      const cell = min(<i32>place, size - 2);
      const entry = table + <usize>(cell * 12) + c;
      const here = load<f32>(entry);
      store<f32>(at + c, here + (load<f32>(entry, 12) - here) * (place - <f32>cell));
    }
  }
}

// @ts-ignore: decorator
@inline function mix(a: f32, b: f32, t: f32): f32 {
  return a + (b - a) * t;
}

/** Between eight entries, along blue, then green, then red. */
function trilinear(p0: usize, stepR: usize, stepG: usize, stepB: usize, r: f32, g: f32, b: f32): f32 {
  const p1 = p0 + stepG;
  const p2 = p0 + stepR;
  const p3 = p2 + stepG;
  const near = mix(mix(load<f32>(p0), load<f32>(p0 + stepB), b), mix(load<f32>(p1), load<f32>(p1 + stepB), b), g);
  const far = mix(mix(load<f32>(p2), load<f32>(p2 + stepB), b), mix(load<f32>(p3), load<f32>(p3 + stepB), b), g);
  return mix(near, far, r);
}

/** Tetrahedral interpolation: along the axis of the largest fraction first; trilinear where the word at 40 is set. */
export function cubeRow(row: usize, width: i32, p: usize): void {
  const size = load<i32>(p, CUBE_SIZE);
  const table = p + <usize>load<i32>(p, CUBE_TABLE);
  const last = <f32>(size - 1);
  const isTrilinear = load<i32>(p, CUBE_TRILINEAR) != 0;
  const stepR = <usize>(size * size * 12);
  const stepG = <usize>(size * 12);
  const stepB: usize = 12;
  for (let x = 0; x < width; x++) {
    const at = row + ((<usize>x) << 4);
    const pr = placed(load<f32>(at), load<f32>(p, CUBE_LOW), load<f32>(p, CUBE_SCALE), last);
    const pg = placed(load<f32>(at, 4), load<f32>(p + 4, CUBE_LOW), load<f32>(p + 4, CUBE_SCALE), last);
    const pb = placed(load<f32>(at, 8), load<f32>(p + 8, CUBE_LOW), load<f32>(p + 8, CUBE_SCALE), last);
    const cr = min(<i32>pr, size - 2);
    const cg = min(<i32>pg, size - 2);
    const cb = min(<i32>pb, size - 2);
    const r = pr - <f32>cr;
    const g = pg - <f32>cg;
    const b = pb - <f32>cb;
    const p0 = table + <usize>cr * stepR + <usize>cg * stepG + <usize>cb * stepB;
    if (isTrilinear) {
      for (let c: usize = 0; c < 12; c += 4) store<f32>(at + c, trilinear(p0 + c, stepR, stepG, stepB, r, g, b));
      continue;
    }
    let p1: usize = p0;
    let p2: usize = p0;
    let f1: f32 = 0;
    let f2: f32 = 0;
    let f3: f32 = 0;
    if (r >= g) {
      if (g >= b) {
        f1 = r;
        f2 = g;
        f3 = b;
        p1 += stepR;
        p2 = p1 + stepG;
      } else if (r >= b) {
        f1 = r;
        f2 = b;
        f3 = g;
        p1 += stepR;
        p2 = p1 + stepB;
      } else {
        f1 = b;
        f2 = r;
        f3 = g;
        p1 += stepB;
        p2 = p1 + stepR;
      }
    } else if (b >= g) {
      f1 = b;
      f2 = g;
      f3 = r;
      p1 += stepB;
      p2 = p1 + stepG;
    } else if (b >= r) {
      f1 = g;
      f2 = b;
      f3 = r;
      p1 += stepG;
      p2 = p1 + stepB;
    } else {
      f1 = g;
      f2 = r;
      f3 = b;
      p1 += stepG;
      p2 = p1 + stepR;
    }
    const p3 = p0 + stepR + stepG + stepB;
    for (let c: usize = 0; c < 12; c += 4) {
      const v0 = load<f32>(p0 + c);
      const v1 = load<f32>(p1 + c);
      const v2 = load<f32>(p2 + c);
      store<f32>(at + c, v0 + f1 * (v1 - v0) + f2 * (v2 - v1) + f3 * (load<f32>(p3 + c) - v2));
    }
  }
}
