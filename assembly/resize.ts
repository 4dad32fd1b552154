// The change of size, across and down by tables of weights.

import { add, mul, splat } from "./simd";

/**
 * Each output pixel is a weighted sum of the source's: `across` and `down` (src/core/maths/taps.ts) hold how many
 * weights a place has, then for each place of the output the first place of the source and the weights from there on.
 * Rows are summed first.
 */
export function resize(
  src: usize,
  dst: usize,
  width: i32,
  outWidth: i32,
  across: usize,
  down: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const countX = <i32>load<f32>(across);
  const countY = <i32>load<f32>(down);
  const stepX = (<usize>(countX + 1)) << 2;
  const stepY = (<usize>(countY + 1)) << 2;
  const pitch = (<usize>width) << 4;
  for (let y = y0; y < y1; y++) {
    const entry = down + 4 + <usize>y * stepY;
    const rows = src + <usize>load<f32>(entry) * pitch;
    for (let o: usize = 0; o < pitch; o += 16) {
      let sum = splat(0);
      for (let k = 0, at = rows + o, weight = entry + 4; k < countY; k++, at += pitch, weight += 4)
        sum = add(sum, mul(v128.load(at), v128.load32_splat(weight)));
      v128.store(scratch + o, sum);
    }
    const to = dst + <usize>(y * outWidth) * 16;
    for (let x = 0; x < outWidth; x++) {
      const place = across + 4 + <usize>x * stepX;
      let sum = splat(0);
      for (
        let k = 0, at = scratch + ((<usize>load<f32>(place)) << 4), weight = place + 4;
        k < countX;
        k++, at += 16, weight += 4
      )
        sum = add(sum, mul(v128.load(at), v128.load32_splat(weight)));
      v128.store(to + ((<usize>x) << 4), sum);
    }
  }
}
