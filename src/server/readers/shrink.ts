import type { Frame } from "../../core/image/image";

/** Mean over squares of `divide` pixels, into `out`; what is left over at the right and below belongs to no square. */
export function shrinkInto({ width, data }: Frame, divide: number, { width: w, height: h, data: out }: Frame): void {
  const share = 1 / (divide * divide);
  const row = width * 4;
  let to = 0;
  for (let y = 0; y < h; y++) {
    let left = y * divide * row;
    for (let x = 0; x < w; x++, left += divide * 4, to += 4) {
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      for (let j = 0, line = left; j < divide; j++, line += row)
        for (let i = 0, from = line; i < divide; i++, from += 4) {
          r += data[from]!;
          g += data[from + 1]!;
          b += data[from + 2]!;
          a += data[from + 3]!;
        }
      out[to] = r * share;
      out[to + 1] = g * share;
      out[to + 2] = b * share;
      out[to + 3] = a * share;
    }
  }
}

/** A frame's size made smaller by a whole number, px. */
export const dividedSize = ({ width, height }: { width: number; height: number }, divide: number) => ({
  width: Math.max(1, Math.floor(width / divide)),
  height: Math.max(1, Math.floor(height / divide)),
});
