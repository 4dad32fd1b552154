/**
 * Monotone cubic interpolation (Fritsch and Carlson, 1980): no overshoot between samples; held outside them.
 * `xs` ascending, at least one sample.
 */
export function monotoneCubic(xs: readonly number[], ys: readonly number[]): (x: number) => number {
  const n = xs.length;
  if (n === 1) return () => ys[0]!;
  const slopes = Array.from({ length: n - 1 }, (_, i) => (ys[i + 1]! - ys[i]!) / (xs[i + 1]! - xs[i]!));
  const tangents = Array.from({ length: n }, (_, i) => {
    if (i === 0) return slopes[0]!;
    if (i === n - 1) return slopes[n - 2]!;
    const a = slopes[i - 1]!;
    const b = slopes[i]!;
    if (a * b <= 0) return 0;
    const before = xs[i]! - xs[i - 1]!;
    const after = xs[i + 1]! - xs[i]!;
    return (3 * (before + after)) / ((2 * after + before) / a + (after + 2 * before) / b);
  });
  for (const end of [0, n - 1]) {
    const slope = slopes[end ? n - 2 : 0]!;
    if (tangents[end]! * slope <= 0) tangents[end] = 0;
    else if (Math.abs(tangents[end]!) > 3 * Math.abs(slope)) tangents[end] = 3 * slope;
  }
  return (x) => {
    if (x <= xs[0]!) return ys[0]!;
    if (x >= xs[n - 1]!) return ys[n - 1]!;
    let low = 0;
    let high = n - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (xs[middle]! <= x) low = middle;
      else high = middle;
    }
    const h = xs[high]! - xs[low]!;
    const t = (x - xs[low]!) / h;
    const u = 1 - t;
    return (
      ys[low]! * (1 + 2 * t) * u * u +
      tangents[low]! * h * t * u * u +
      ys[high]! * t * t * (3 - 2 * t) -
      tangents[high]! * h * t * t * u
    );
  };
}

export const clamp = (x: number, low: number, high: number) => Math.min(high, Math.max(low, x));
export const lerp = (a: number, b: number, t: number) => a + (b - a) * t;
