// A picture's channels and its alpha as planes of their own, each with a surround, so that what reads around a pixel has
// no special case at the edges.

import { clear, mirror, splat, storeTurned } from "./simd";

/** Samples of surround around a plane; src/core/spread/resample.ts makes room for them. */
export const SURROUND: i32 = 8;

/** Bytes of a row of a plane. */
// @ts-ignore: decorator
@inline export function pitchOf(width: i32): usize {
  return (<usize>(width + 2 * SURROUND)) << 2;
}

/** Bytes of a plane with its surround. */
// @ts-ignore: decorator
@inline export function planeOf(width: i32, height: i32): usize {
  return pitchOf(width) * <usize>(height + 2 * SURROUND);
}

/**
 * The picture's channels and its alpha as planes of their own, one after another, each with its surround: mirrored or
 * black. Rows are the planes'.
 */
export function split(
  src: usize,
  planes: usize,
  width: i32,
  height: i32,
  black: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const plane = planeOf(width, height);
  const pitch = pitchOf(width);
  for (let y = y0; y < y1; y++) {
    const line = planes + <usize>y * pitch;
    const row = y - SURROUND;
    if (black && (row < 0 || row >= height)) {
      for (let c: usize = 0; c < 4; c++) clear(line + c * plane, pitch);
      continue;
    }
    const from = src + ((<usize>(mirror(row, height) * width)) << 4);
    let at = from;
    let to = line + (SURROUND << 2);
    let x = 0;
    for (; x + 4 <= width; x += 4, at += 64, to += 16) {
      storeTurned(to, plane, v128.load(at), v128.load(at, 16), v128.load(at, 32), v128.load(at, 48));
    }
    for (; x < width; x++) storePixel(line, plane, x, v128.load(from + ((<usize>x) << 4)));
    for (let k = 1; k <= SURROUND; k++) {
      storePixel(line, plane, -k, black ? splat(0) : v128.load(from + ((<usize>mirror(-k, width)) << 4)));
      storePixel(
        line,
        plane,
        width - 1 + k,
        black ? splat(0) : v128.load(from + ((<usize>mirror(width - 1 + k, width)) << 4)),
      );
    }
  }
}

/** Where the first pixel of a plane lies. */
// @ts-ignore: decorator
@inline export function originOf(planes: usize, width: i32): usize {
  return planes + <usize>SURROUND * pitchOf(width) + ((<usize>SURROUND) << 2);
}

/** One pixel of all planes, from where it lies in the first. */
// @ts-ignore: decorator
@inline export function loadPixel(at: usize, plane: usize): v128 {
  const red = v128.load32_zero(at);
  const green = v128.load32_lane(at + plane, red, 1);
  const blue = v128.load32_lane(at + 2 * plane, green, 2);
  return v128.load32_lane(at + 3 * plane, blue, 3);
}

/** One pixel's lanes into a line of each plane. */
// @ts-ignore: decorator
@inline function storePixel(line: usize, plane: usize, x: i32, pixel: v128): void {
  const to = line + ((<usize>(x + SURROUND)) << 2);
  v128.store32_lane(to, pixel, 0);
  v128.store32_lane(to + plane, pixel, 1);
  v128.store32_lane(to + 2 * plane, pixel, 2);
  v128.store32_lane(to + 3 * plane, pixel, 3);
}
