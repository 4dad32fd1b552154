import type { Frame } from "../../core/image/image";

/** Mean over squares of `divide` pixels, into `out`; what is left over at the right and below belongs to no square. */
export function shrinkInto({ width, data }: Frame, divide: number, { width: w, height: h, data: out }: Frame): void {
  const share = 1 / (divide * divide);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [r, g, b, a] = [0, 0, 0, 0];
      for (let j = 0; j < divide; j++) {
        let from = ((y * divide + j) * width + x * divide) * 4;
        for (let i = 0; i < divide; i++, from += 4) {
          r += data[from]!;
          g += data[from + 1]!;
          b += data[from + 2]!;
          a += data[from + 3]!;
        }
      }
      out.set([r * share, g * share, b * share, a * share], (y * w + x) * 4);
    }
  }
}

/** A frame's size made smaller by a whole number, px. */
export const dividedSize = ({ width, height }: { width: number; height: number }, divide: number) => ({
  width: Math.max(1, Math.floor(width / divide)),
  height: Math.max(1, Math.floor(height / divide)),
});
