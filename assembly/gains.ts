// Gains by image height: read from a table every few pixels, and linear between.

import { add, integers, mul, splat, sub } from "./simd";

/**
 * The kernels of contrast.ts read one record of floats: axis x, axis y (px), pitch x, pitch y (mm/px), table entries
 * per mm^2 of height squared, last entry, factor of second differences along x, the same along y, pitch x and y that
 * height is measured by, two of nothing; then the table: twelve floats an entry, mean_0..3, half_0..4, edge, one of
 * nothing, base. It is read every few pixels, and gains are linear between.
 */
const ENTRY_BYTES: usize = 48;
const TABLE: usize = 48;
export const GROUP: i32 = 4;

/** Bytes for what the table holds at either end of a group. */
export const GAINS: usize = 96;

/** Bytes of a row of figures, one a group and four to spare. */
// @ts-ignore: decorator
@inline export function figuresBytes(width: i32): usize {
  return <usize>(((width >> 2) + 8) << 2);
}

/**
 * Where each group of a row begins, and the last one ends: its entry's offset in the table, bytes, and the place
 * between that entry and the next.
 */
export function placesRow(record: usize, width: i32, y: i32, offsets: usize, fractions: usize): void {
  const dy = (<f32>y - load<f32>(record, 4)) * load<f32>(record, 36);
  const axisX = v128.load32_splat(record);
  const pitchX = v128.load32_splat(record, 32);
  const scale = v128.load32_splat(record, 16);
  const last = v128.load32_splat(record, 20);
  const dy2 = splat(dy * dy);
  for (let group = 0; group <= width / GROUP + 1; group += 4) {
    const dx = mul(sub(mul(add(splat(<f32>group), f32x4(0, 1, 2, 3)), splat(<f32>GROUP)), axisX), pitchX);
    const place = f32x4.pmin(mul(add(mul(dx, dx), dy2), scale), last);
    const entry = f32x4.floor(place);
    v128.store(offsets + ((<usize>group) << 2), i32x4.mul(integers(entry), i32x4.splat(<i32>ENTRY_BYTES)));
    v128.store(fractions + ((<usize>group) << 2), sub(place, entry));
  }
}

/** What the table holds where a group begins: three vectors in `out`. */
// @ts-ignore: decorator
@inline export function lookUp(record: usize, offsets: usize, fractions: usize, group: usize, out: usize): void {
  const t = v128.load32_splat(fractions + (group << 2));
  const entry = record + TABLE + <usize>load<i32>(offsets + (group << 2));
  const a = v128.load(entry);
  const b = v128.load(entry, 16);
  const c = v128.load(entry, 32);
  v128.store(out, add(a, mul(sub(v128.load(entry, 48), a), t)));
  v128.store(out, add(b, mul(sub(v128.load(entry, 64), b), t)), 16);
  v128.store(out, add(c, mul(sub(v128.load(entry, 80), c), t)), 32);
}

/**
 * Of each group's middle: cos 2phi, and sin 2phi times a quarter of the mean factor of second differences; phi is the
 * radius' direction.
 */
export function anglesRow(record: usize, width: i32, y: i32, cosines: usize, sines: usize): void {
  const dy = splat((<f32>y - load<f32>(record, 4)) * load<f32>(record, 12));
  const axisX = v128.load32_splat(record);
  const pitchX = v128.load32_splat(record, 8);
  const cross = splat(<f32>sqrt(load<f32>(record, 24) * load<f32>(record, 28)));
  const dy2 = mul(dy, dy);
  for (let group = 0; group < width / GROUP + 1; group += 4) {
    const x = add(mul(add(splat(<f32>group), f32x4(0, 1, 2, 3)), splat(<f32>GROUP)), splat(<f32>(GROUP - 1) * 0.5));
    const dx = mul(sub(x, axisX), pitchX);
    const dx2 = mul(dx, dx);
    const inverse = f32x4.div(splat(1), f32x4.pmax(splat(1e-9), add(dx2, dy2)));
    v128.store(cosines + ((<usize>group) << 2), mul(sub(dx2, dy2), inverse));
    v128.store(sines + ((<usize>group) << 2), mul(mul(mul(dx, dy), inverse), cross));
  }
}

// @ts-ignore: decorator
@inline export function lane(from: usize, index: usize): v128 {
  return v128.load32_splat(from + (index << 2));
}

/** What a gain changes by from pixel to pixel within a group. */
// @ts-ignore: decorator
@inline export function step(from: usize, to: usize, index: usize): v128 {
  return mul(sub(lane(to, index), lane(from, index)), splat(<f32>1.0 / <f32>GROUP));
}

/** What a gain is at `count` pixels from a group's beginning. */
// @ts-ignore: decorator
@inline export function gainAt(from: usize, to: usize, index: usize, count: i32): v128 {
  return add(lane(from, index), mul(step(from, to, index), splat(<f32>count)));
}
