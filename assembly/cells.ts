// Spreads wider than a pyramid's cells can carry: every cell of a small level takes from every other.

import { add, clear, mul, splat } from "./simd";

/**
 * dst = sum + weight * (rows * src * columns'): `columns` is width by width and `rows` height by height, row i holding
 * what cell i takes from each. A `sum` of 0 is left out.
 */
export function mixCells(
  src: usize,
  sum: usize,
  dst: usize,
  width: i32,
  height: i32,
  columns: usize,
  rows: usize,
  weight: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const stride = (<usize>width) << 4;
  const w = v128.load(weight);
  for (let y = y0; y < y1; y++) {
    clear(scratch, stride);
    for (let j = 0; j < height; j++) {
      const share = splat(load<f32>(rows + ((<usize>(y * height + j)) << 2)));
      const row = src + <usize>j * stride;
      for (let o: usize = 0; o < stride; o += 16)
        v128.store(scratch + o, add(v128.load(scratch + o), mul(v128.load(row + o), share)));
    }
    const to = <usize>y * stride;
    for (let x = 0; x < width; x++) {
      let light = splat(0);
      for (let i = 0; i < width; i++)
        light = add(
          light,
          mul(v128.load(scratch + ((<usize>i) << 4)), splat(load<f32>(columns + ((<usize>(x * width + i)) << 2)))),
        );
      const o = to + ((<usize>x) << 4);
      light = mul(light, w);
      v128.store(dst + o, sum ? add(light, v128.load(sum + o)) : light);
    }
  }
}
