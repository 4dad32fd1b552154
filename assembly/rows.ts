// Rows of a frame with what stands around them: mirrored about the frame's edge, which on levels of the pyramid may lie
// within the last cell, or black. Long rows are read where they lie, and only their ends are brought.

import { keyRow, keyTakes } from "./key";
import { add, copy, mul, splat, sub } from "./simd";

export const PAD: i32 = 8; // pixels of surround kept on each side of a row

/** Where the mirror of a frame whose edge lies at `edge` cells (perhaps within the last cell) shows index `i`. */
// @ts-ignore: decorator
@inline function reflected(i: i32, n: i32, edge: f32): f32 {
  let at = <f32>i;
  if (at < 0) at = <f32>-1.0 - at;
  if (at >= <f32>n) at = <f32>2.0 * edge - <f32>1.0 - at;
  if (at < 0) at = <f32>-1.0 - at;
  return min(max(at, <f32>0.0), <f32>(n - 1));
}

/**
 * Brings row `y` of a frame into scratch with its surround: mirrored, or black where `black` is set. On levels of the
 * pyramid the frame's edge may lie inside the last cell; what is mirrored about it is taken between cells. `key` 0
 * takes all light.
 */
export function bringRow(
  source: usize,
  width: i32,
  height: i32,
  edgeX: f32,
  edgeY: f32,
  y: i32,
  row: usize,
  black: i32,
  key: usize,
): void {
  const start = row + (PAD << 4);
  const stride = (<usize>width) << 4;
  const place = reflected(y, height, edgeY);
  const first = <i32>place;
  const share = place - <f32>first;
  const a = source + <usize>first * stride;
  if (share == 0) copy(start, a, stride);
  else {
    const t = splat(share);
    for (let o: usize = 0; o < stride; o += 16) {
      const v = v128.load(a + o);
      v128.store(start + o, add(v, mul(sub(v128.load(a + stride + o), v), t)));
    }
  }
  if (key) keyRow(start, width, key);
  const zero = splat(0);
  for (let i = 1; i <= PAD; i++) {
    v128.store(start - ((<usize>i) << 4), black ? zero : between(start, reflected(-i, width, edgeX)));
    v128.store(
      start + ((<usize>(width - 1 + i)) << 4),
      black ? zero : between(start, reflected(width - 1 + i, width, edgeX)),
    );
  }
}

/** Rows at least this long are filtered where they lie, but for their ends. */
const LONG: i32 = 4 * PAD;

/** Where row `y` lies in a frame, or 0 where it has to be made: between two rows, keyed, or short. */
// @ts-ignore: decorator
@inline export function rowInPlace(source: usize, width: i32, height: i32, edgeY: f32, y: i32, key: usize): usize {
  const place = reflected(y, height, edgeY);
  const first = <i32>place;
  return key || width < LONG || <f32>first != place ? 0 : source + ((<usize>first * <usize>width) << 4);
}

/** Bytes of a strip: the surround of one end of a row, and twice as many of its own pixels. */
export const STRIP: usize = 48 * <usize>PAD;

/** The ends of a row with their surround: the left one at `ends`, the right one a strip on. */
export function bringEnds(row: usize, width: i32, edgeX: f32, ends: usize, black: i32): void {
  const left = ends + (PAD << 4);
  const right = ends + STRIP;
  copy(left, row, PAD << 5);
  copy(right, row + ((<usize>(width - 2 * PAD)) << 4), PAD << 5);
  const zero = splat(0);
  for (let i = 1; i <= PAD; i++) {
    v128.store(left - ((<usize>i) << 4), black ? zero : between(row, reflected(-i, width, edgeX)));
    v128.store(
      right + ((<usize>(2 * PAD - 1 + i)) << 4),
      black ? zero : between(row, reflected(width - 1 + i, width, edgeX)),
    );
  }
}

/**
 * Whether a row of a frame, found as `bringRow` finds it, is black all along, or holds no light that the key takes. A
 * row between two is not asked.
 */
export function isDark(source: usize, width: i32, height: i32, edgeY: f32, y: i32, key: usize): bool {
  const place = reflected(y, height, edgeY);
  const row = <i32>place;
  if (<f32>row != place) return false;
  const at = source + ((<usize>row * <usize>width) << 4);
  return key ? !keyTakes(at, width, key) : isBlack(at, width);
}

/** Whether a row is black all along; the first light ends the search. */
export function isBlack(at: usize, width: i32): bool {
  const end = at + ((<usize>width) << 4);
  let o = at;
  for (; o + 64 <= end; o += 64)
    if (v128.any_true(v128.or(v128.or(v128.load(o), v128.load(o, 16)), v128.or(v128.load(o, 32), v128.load(o, 48)))))
      return false;
  for (; o < end; o += 16) if (v128.any_true(v128.load(o))) return false;
  return true;
}

/** The pixel at a place of a row, between neighbours. */
// @ts-ignore: decorator
@inline function between(start: usize, place: f32): v128 {
  const i = <i32>place;
  const t = place - <f32>i;
  const v = v128.load(start + ((<usize>i) << 4));
  return t == 0 ? v : add(v, mul(sub(v128.load(start + ((<usize>(i + 1)) << 4)), v), splat(t)));
}
