// The bicubic (Catmull-Rom) fetch of the warp: of one pixel at any place and shrinkage, and of four pixels of a plane.

import { loadPixel, originOf, pitchOf, planeOf } from "./planes";
import { add, integers, mirror, mul, splat, storeTurned, sub, withAlpha } from "./simd";

/** Catmull-Rom weight at distance |d|, four lanes. */
// @ts-ignore: decorator
@inline export function cubic(distance: v128): v128 {
  const d = f32x4.abs(distance);
  const near = add(splat(1), mul(mul(d, d), sub(mul(splat(1.5), d), splat(2.5))));
  const far = add(splat(2), mul(d, add(splat(-4), mul(d, sub(splat(2.5), mul(splat(0.5), d))))));
  const inside = v128.bitselect(near, far, f32x4.lt(d, splat(1)));
  return v128.and(inside, f32x4.lt(d, splat(2)));
}

/**
 * The general fetch of one pixel, lanes R, G, B and alpha at places near one another: any place and any shrinkage
 * (`scaleX`, `scaleY` >= 1 source px an output px). The cubic is widened where the picture shrinks, so that nothing
 * aliases, and the surround is mirrored or black.
 */
function fetchNear(
  planes: usize,
  width: i32,
  height: i32,
  px: v128,
  py: v128,
  scaleX: f32,
  scaleY: f32,
  black: i32,
): v128 {
  const plane = planeOf(width, height);
  const pitch = pitchOf(width);
  const origin = originOf(planes, width);
  const minX = min(min(f32x4.extract_lane(px, 0), f32x4.extract_lane(px, 1)), f32x4.extract_lane(px, 2));
  const maxX = max(max(f32x4.extract_lane(px, 0), f32x4.extract_lane(px, 1)), f32x4.extract_lane(px, 2));
  const minY = min(min(f32x4.extract_lane(py, 0), f32x4.extract_lane(py, 1)), f32x4.extract_lane(py, 2));
  const maxY = max(max(f32x4.extract_lane(py, 0), f32x4.extract_lane(py, 1)), f32x4.extract_lane(py, 2));
  const x0 = <i32>ceil(minX - 2 * scaleX);
  const x1 = <i32>floor(maxX + 2 * scaleX);
  const y0 = <i32>ceil(minY - 2 * scaleY);
  const y1 = <i32>floor(maxY + 2 * scaleY);
  const inverseX = splat(1 / scaleX);
  const inverseY = splat(1 / scaleY);
  let sum = splat(0);
  let weightX = splat(0);
  let weightY = splat(0);
  let floorLight = splat(Infinity);
  const nearX = splat(scaleX);
  const nearY = splat(scaleY);
  for (let x = x0; x <= x1; x++) weightX = add(weightX, cubic(mul(sub(splat(<f32>x), px), inverseX)));
  for (let y = y0; y <= y1; y++) {
    const dy = sub(splat(<f32>y), py);
    const wy = cubic(mul(dy, inverseY));
    weightY = add(weightY, wy);
    if (black && (y < 0 || y >= height)) {
      floorLight = splat(0);
      continue;
    }
    const row = origin + <usize>mirror(y, height) * pitch;
    let line = splat(0);
    const closeY = f32x4.lt(f32x4.abs(dy), nearY);
    for (let x = x0; x <= x1; x++) {
      if (black && (x < 0 || x >= width)) {
        floorLight = splat(0);
        continue;
      }
      const v = loadPixel(row + ((<usize>mirror(x, width)) << 2), plane);
      const dx = sub(splat(<f32>x), px);
      line = add(line, mul(v, cubic(mul(dx, inverseX))));
      const close = v128.and(closeY, f32x4.lt(f32x4.abs(dx), nearX));
      floorLight = f32x4.pmin(floorLight, v128.bitselect(v, splat(Infinity), close));
    }
    sum = add(sum, mul(line, wy));
  }
  return limitUndershoot(f32x4.div(sum, mul(weightX, weightY)), floorLight);
}

/**
 * Channels further apart than this, px, are fetched each by itself: together they cost the square of their distance.
 */
const APART: f32 = 3;

// @ts-ignore: decorator
@inline function rangeOf(p: v128): f32 {
  const r = f32x4.extract_lane(p, 0);
  const g = f32x4.extract_lane(p, 1);
  const b = f32x4.extract_lane(p, 2);
  return max(max(r, g), b) - min(min(r, g), b);
}

/** The general fetch of one pixel wherever its channels lie; alpha is fetched where green is. */
export function fetchOuter(
  planes: usize,
  width: i32,
  height: i32,
  px: v128,
  py: v128,
  sx: f32,
  sy: f32,
  black: i32,
): v128 {
  let out: v128;
  if (max(rangeOf(px), rangeOf(py)) <= APART) out = fetchNear(planes, width, height, px, py, sx, sy, black);
  else {
    const r = fetchNear(
      planes,
      width,
      height,
      v128.shuffle<f32>(px, px, 0, 0, 0, 0),
      v128.shuffle<f32>(py, py, 0, 0, 0, 0),
      sx,
      sy,
      black,
    );
    const g = fetchNear(
      planes,
      width,
      height,
      v128.shuffle<f32>(px, px, 1, 1, 1, 1),
      v128.shuffle<f32>(py, py, 1, 1, 1, 1),
      sx,
      sy,
      black,
    );
    const b = fetchNear(
      planes,
      width,
      height,
      v128.shuffle<f32>(px, px, 2, 2, 2, 2),
      v128.shuffle<f32>(py, py, 2, 2, 2, 2),
      sx,
      sy,
      black,
    );
    out = v128.shuffle<f32>(v128.shuffle<f32>(r, g, 0, 5, 2, 7), b, 0, 1, 6, 3);
  }
  return withAlpha(out, coverage(out));
}

/** A cubic's alpha as coverage: within 0 and 1, and what rounding took off an opaque picture given back. */
// @ts-ignore: decorator
@inline export function coverage(alpha: v128): v128 {
  const held = f32x4.pmax(splat(0), f32x4.pmin(splat(1), alpha));
  return v128.bitselect(splat(1), held, f32x4.gt(held, splat(OPAQUE)));
}
const OPAQUE: f32 = 0.999998;

/**
 * A cubic's negative lobe beside a lamp three hundred times brighter than what is around it would dig a black ring. The
 * result is held to three quarters of the darkest of the nearest samples; ordinary texture never reaches that.
 */
// @ts-ignore: decorator
@inline function limitUndershoot(value: v128, darkest: v128): v128 {
  return f32x4.pmax(value, f32x4.pmin(darkest, mul(darkest, splat(0.75))));
}

// Catmull-Rom weights at an offset t in [0, 1), with u = t (1 - t) / 2: -u (1 - t), 1 - t + u (2 - 3 t), t + u (3 t -
// 1), -u t; the two outer ones without their sign. @ts-ignore: decorator
@inline function outer0(t: v128): v128 {
  return mul(half(t), sub(splat(1), t));
}
// @ts-ignore: decorator
@inline function outer3(t: v128): v128 {
  return mul(half(t), t);
}
// @ts-ignore: decorator
@inline function half(t: v128): v128 {
  return mul(mul(t, splat(0.5)), sub(splat(1), t));
}
// @ts-ignore: decorator
@inline function inner1(t: v128, w0: v128, w3: v128): v128 {
  return sub(add(sub(splat(1), t), add(w0, w0)), w3);
}
// @ts-ignore: decorator
@inline function inner2(t: v128, w0: v128, w3: v128): v128 {
  return sub(add(t, add(w3, w3)), w0);
}

/** Four taps weighed; the weights of the outer ones are taken off. */
// @ts-ignore: decorator
@inline function line(a: v128, b: v128, c: v128, d: v128, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return sub(add(mul(b, w1), mul(c, w2)), add(mul(a, w0), mul(d, w3)));
}

/**
 * Bytes of scratch that four pixels take: what is summed of them, and the samples around them where they are not
 * neighbours.
 */
export const FOUR_BYTES: usize = 48 + 256;

/**
 * Four pixels inside a plane at offsets tx, ty from the first of their four taps; tap i of row j stands at p + j pitch
 * + i step. What is summed passes through `sums` (48 bytes): a compiler that brings every load forward would run out of
 * registers otherwise.
 */
// @ts-ignore: decorator
@inline export function weighFour(p: usize, pitch: usize, step: usize, tx: v128, ty: v128, sums: usize): v128 {
  const a0 = outer0(tx);
  const a3 = outer3(tx);
  const a1 = inner1(tx, a0, a3);
  const a2 = inner2(tx, a0, a3);
  const b0 = outer0(ty);
  const b3 = outer3(ty);
  v128.store(
    sums,
    mul(line(v128.load(p), v128.load(p + step), v128.load(p + 2 * step), v128.load(p + 3 * step), a0, a1, a2, a3), b0),
  );
  p += pitch;
  const m11 = v128.load(p + step);
  const m12 = v128.load(p + 2 * step);
  v128.store(sums, mul(line(v128.load(p), m11, m12, v128.load(p + 3 * step), a0, a1, a2, a3), inner1(ty, b0, b3)), 16);
  p += pitch;
  const m21 = v128.load(p + step);
  const m22 = v128.load(p + 2 * step);
  v128.store(sums, f32x4.pmin(f32x4.pmin(m11, m12), f32x4.pmin(m21, m22)), 32);
  const lower = mul(line(v128.load(p), m21, m22, v128.load(p + 3 * step), a0, a1, a2, a3), inner2(ty, b0, b3));
  v128.store(sums, add(v128.load(sums, 16), lower), 16);
  p += pitch;
  const edges = add(
    v128.load(sums),
    mul(line(v128.load(p), v128.load(p + step), v128.load(p + 2 * step), v128.load(p + 3 * step), a0, a1, a2, a3), b3),
  );
  return limitUndershoot(sub(v128.load(sums, 16), edges), v128.load(sums, 32));
}

/**
 * Four pixels of one channel inside its plane, each at its own place: `x`, `y` px from the sample at `origin`. `pitch`:
 * bytes from row to row. `scratch`: FOUR_BYTES.
 */
export function fetchFour(origin: usize, pitch: usize, x: v128, y: v128, scratch: usize): v128 {
  const floorX = f32x4.floor(x);
  const floorY = f32x4.floor(y);
  const tx = sub(x, floorX);
  const ty = sub(y, floorY);
  const cells = samplesAt(floorX, floorY, pitch);
  const first = i32x4.extract_lane(cells, 0);
  const corner = origin - pitch - 4;
  // Where the picture is neither stretched nor squeezed within the four, they are neighbours, and so are their taps.
  if (i32x4.all_true(i32x4.eq(cells, i32x4.add(i32x4.splat(first), i32x4(0, 4, 8, 12)))))
    return weighFour(corner + <usize>first, pitch, 4, tx, ty, scratch);
  const gathered = scratch + 48;
  for (let j: usize = 0; j < 4; j++) {
    const row = corner + j * pitch;
    const a = v128.load(row + <usize>first);
    const b = v128.load(row + <usize>i32x4.extract_lane(cells, 1));
    const c = v128.load(row + <usize>i32x4.extract_lane(cells, 2));
    const d = v128.load(row + <usize>i32x4.extract_lane(cells, 3));
    storeTurned(gathered + (j << 6), 16, a, b, c, d);
  }
  return weighFour(gathered, 64, 16, tx, ty, scratch);
}

/** How many bytes after a plane's origin the samples at four whole places stand. */
// @ts-ignore: decorator
@inline function samplesAt(x: v128, y: v128, pitch: usize): v128 {
  return i32x4.add(i32x4.mul(integers(y), i32x4.splat(<i32>pitch)), i32x4.shl(integers(x), 2));
}
