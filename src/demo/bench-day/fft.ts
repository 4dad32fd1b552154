/** The Fourier transform of pictures whose sides are powers of two, in double precision (Cooley and Tukey, 1965). */
export interface Spectrum {
  size: number;
  re: Float64Array;
  im: Float64Array;
}

/** Transforms a line in place. `way`: -1 forward, 1 back, not normalised. */
function transformLine(re: Float64Array, im: Float64Array, cos: Float64Array, sin: Float64Array, way: number): void {
  const size = re.length;
  for (let i = 1, j = 0; i < size; i++) {
    let bit = size >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i >= j) continue;
    const [real, imaginary] = [re[i]!, im[i]!];
    re[i] = re[j]!;
    im[i] = im[j]!;
    re[j] = real;
    im[j] = imaginary;
  }
  for (let half = 1; half < size; half <<= 1) {
    const skip = size / half / 2;
    // By the factor first: it is read once for all that it turns.
    for (let k = 0; k < half; k++) {
      const c = cos[k * skip]!;
      const s = way * sin[k * skip]!;
      for (let a = k; a < size; a += 2 * half) {
        const b = a + half;
        const x = re[b]! * c - im[b]! * s;
        const y = re[b]! * s + im[b]! * c;
        re[b] = re[a]! - x;
        im[b] = im[a]! - y;
        re[a]! += x;
        im[a]! += y;
      }
    }
  }
}

/** Columns that are gathered together: as many samples as lie in one line of a processor's cache. */
const TOGETHER = 8;

/** Transforms a square picture in place, by rows and then by columns. */
export function transform({ size, re, im }: Spectrum, way: -1 | 1): void {
  const cos = Float64Array.from({ length: size / 2 }, (_, i) => Math.cos((2 * Math.PI * i) / size));
  const sin = Float64Array.from({ length: size / 2 }, (_, i) => Math.sin((2 * Math.PI * i) / size));
  for (let row = 0; row < size; row++) {
    const [from, to] = [row * size, (row + 1) * size];
    transformLine(re.subarray(from, to), im.subarray(from, to), cos, sin, way);
  }
  const lines = Array.from({ length: TOGETHER }, () => [new Float64Array(size), new Float64Array(size)] as const);
  for (let first = 0; first < size; first += TOGETHER) {
    const columns = Math.min(TOGETHER, size - first);
    for (let row = 0; row < size; row++)
      for (let c = 0; c < columns; c++) {
        lines[c]![0][row] = re[row * size + first + c]!;
        lines[c]![1][row] = im[row * size + first + c]!;
      }
    for (let c = 0; c < columns; c++) transformLine(...lines[c]!, cos, sin, way);
    for (let row = 0; row < size; row++)
      for (let c = 0; c < columns; c++) {
        re[row * size + first + c] = lines[c]![0][row]!;
        im[row * size + first + c] = lines[c]![1][row]!;
      }
  }
}

/**
 * Two real pictures convolved, round about their edges: `signal` in the real part and `kernel` (its middle at the first
 * sample) in the imaginary part of one spectrum. The result is in the real part.
 */
export function convolved(both: Spectrum): Float64Array {
  transform(both, -1);
  const { size, re, im } = both;
  const out: Spectrum = { size, re: new Float64Array(re.length), im: new Float64Array(re.length) };
  for (let row = 0; row < size; row++)
    for (let column = 0; column < size; column++) {
      const i = row * size + column;
      const j = ((size - row) % size) * size + ((size - column) % size);
      // A real picture's spectrum is its own mirror's conjugate: the two are told apart by it.
      const [signalRe, signalIm] = [(re[i]! + re[j]!) / 2, (im[i]! - im[j]!) / 2];
      const [kernelRe, kernelIm] = [(im[i]! + im[j]!) / 2, (re[j]! - re[i]!) / 2];
      out.re[i] = signalRe * kernelRe - signalIm * kernelIm;
      out.im[i] = signalRe * kernelIm + signalIm * kernelRe;
    }
  transform(out, 1);
  for (let i = 0; i < out.re.length; i++) out.re[i]! /= size ** 2;
  return out.re;
}
