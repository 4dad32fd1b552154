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
    if (i < j) {
      [re[i], re[j]] = [re[j]!, re[i]!];
      [im[i], im[j]] = [im[j]!, im[i]!];
    }
  }
  for (let length = 2; length <= size; length <<= 1) {
    const [half, skip] = [length >> 1, size / length];
    for (let start = 0; start < size; start += length)
      for (let k = 0, t = 0; k < half; k++, t += skip) {
        const [c, s] = [cos[t]!, way * sin[t]!];
        const [a, b] = [start + k, start + k + half];
        const [x, y] = [re[b]! * c - im[b]! * s, re[b]! * s + im[b]! * c];
        re[b] = re[a]! - x;
        im[b] = im[a]! - y;
        re[a]! += x;
        im[a]! += y;
      }
  }
}

/** Transforms a square picture in place, by rows and then by columns. */
export function transform({ size, re, im }: Spectrum, way: -1 | 1): void {
  const cos = Float64Array.from({ length: size / 2 }, (_, i) => Math.cos((2 * Math.PI * i) / size));
  const sin = Float64Array.from({ length: size / 2 }, (_, i) => Math.sin((2 * Math.PI * i) / size));
  for (let row = 0; row < size; row++) {
    const [from, to] = [row * size, (row + 1) * size];
    transformLine(re.subarray(from, to), im.subarray(from, to), cos, sin, way);
  }
  const [a, b] = [new Float64Array(size), new Float64Array(size)];
  for (let column = 0; column < size; column++) {
    for (let row = 0; row < size; row++) {
      a[row] = re[row * size + column]!;
      b[row] = im[row * size + column]!;
    }
    transformLine(a, b, cos, sin, way);
    for (let row = 0; row < size; row++) {
      re[row * size + column] = a[row]!;
      im[row * size + column] = b[row]!;
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
  return out.re.map((value) => value / size ** 2);
}
