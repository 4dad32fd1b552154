// The change of size by area.

import { add, mul, splat } from "./simd";

/** Changes a frame's size by area: each output pixel is the mean of the source under it. */
export function resize(
  src: usize, dst: usize, width: i32, height: i32, outWidth: i32, outHeight: i32, scratch: usize, y0: i32, y1: i32,
): void {
  const scaleX = <f64>width / <f64>outWidth, scaleY = <f64>height / <f64>outHeight;
  const inverse = splat(<f32>(1 / (scaleX * scaleY)));
  const stride = <usize>width << 4;
  for (let y = y0; y < y1; y++) {
    const top = <f64>y * scaleY, bottom = min(<f64>(y + 1) * scaleY, <f64>height);
    for (let x = 0; x < outWidth; x++) {
      const left = <f64>x * scaleX, right = min(<f64>(x + 1) * scaleX, <f64>width);
      let sum = splat(0);
      for (let sy = <i32>top; <f64>sy < bottom; sy++) {
        const part = min(bottom, <f64>(sy + 1)) - max(top, <f64>sy);
        const row = src + <usize>sy * stride;
        for (let sx = <i32>left; <f64>sx < right; sx++) {
          const share = part * (min(right, <f64>(sx + 1)) - max(left, <f64>sx));
          sum = add(sum, mul(v128.load(row + (<usize>sx << 4)), splat(<f32>share)));
        }
      }
      v128.store(dst + (<usize>(y * outWidth + x) << 4), mul(sum, inverse));
    }
  }
}
