// A part of a picture, as it is.

import { copy } from "./simd";

/** The rows and columns of src from (`left`, `top`) on that dst has. `width` is src's. */
export function crop(
  src: usize,
  dst: usize,
  width: i32,
  outWidth: i32,
  left: i32,
  top: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const bytes = (<usize>outWidth) << 4;
  for (let y = y0; y < y1; y++) copy(dst + <usize>y * bytes, src + ((<usize>((y + top) * width + left)) << 4), bytes);
}
