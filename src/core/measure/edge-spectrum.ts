/** The spectrum of an edge's profile. */
import { OVERSAMPLING, type Profile } from "./profile";
import { type Tail, tailTransform } from "./surroundings";

/** The share of the window that tapers at each end. */
const TAPER = 0.2;
/** Flat, and falling to nothing by a cosine at the ends: a bell would narrow a soft edge. */
function tapered(i: number, count: number): number {
  const out = Math.min(i + 0.5, count - i - 0.5) / (TAPER * count);
  return out >= 1 ? 1 : 0.5 - 0.5 * Math.cos(Math.PI * out);
}

/** What the line's place, the bins and the window leave of error without any noise, as measured on computed edges. */
const SYSTEMATIC = 0.0005;
const FREQUENCIES = Array.from({ length: 51 }, (_, i) => i / 100);

export interface Spectrum {
  /** Cycles/px along the edge's normal, ascending. */
  frequencies: number[];
  contrast: number[];
  /** Standard error of each: of the pixels' noise, carried through, and of the method. */
  uncertainty: number[];
}

/**
 * Contrast of a profile's derivative, divided by what the differences and the bins take by themselves. The noise's own
 * power, by which a transform's magnitude is always too large, is taken off. `tail`: what lies beyond the profile.
 */
export function spectrumOf({ light, variance }: Profile, tail: Tail | null = null): Spectrum {
  const n = light.length;
  const weights = Float64Array.from({ length: n + 1 }, (_, i) => (i === 0 || i === n ? 0 : tapered(i - 1, n - 1)));
  /** The transform as weights of the bins themselves: sums by parts. */
  const kernel = (f: number) => {
    const turn = (i: number) => (2 * Math.PI * f * (i - n / 2)) / OVERSAMPLING;
    const [re, im] = [new Float64Array(n), new Float64Array(n)];
    for (let i = 0; i < n; i++) {
      re[i] = weights[i]! * Math.cos(turn(i)) - weights[i + 1]! * Math.cos(turn(i + 1));
      im[i] = -weights[i]! * Math.sin(turn(i)) + weights[i + 1]! * Math.sin(turn(i + 1));
    }
    return { re, im };
  };
  const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, value, i) => sum + value * b[i]!, 0);
  const whole = kernel(0).re;
  /** What the window keeps of the slope at a distance (px) from the edge. */
  const shareAt = (distance: number) => {
    const i = n / 2 + distance * OVERSAMPLING;
    return i >= n - 1 ? 0 : tapered(i - 1, n - 1);
  };
  const tailAt = (f: number) => (tail ? tailTransform(tail.size, f, shareAt) : 0);
  const total = dot(whole, light) + tailAt(0);
  const tailError = tail ? Math.abs(tail.error / tail.size) * Math.abs(tailAt(0) / total) : 0;
  const own = (f: number) =>
    f === 0 ? 1 : (Math.sin((Math.PI * f) / OVERSAMPLING) / ((Math.PI * f) / OVERSAMPLING)) ** 2;
  const measured = FREQUENCIES.map((f) => {
    if (f === 0) return { contrast: 1, error: 0 };
    const { re, im } = kernel(f);
    const [a, b] = [(dot(re, light) + tailAt(f)) / total, dot(im, light) / total];
    const magnitude = Math.hypot(a, b);
    let [power, along] = [0, 0];
    for (let i = 0; i < n; i++) {
      power += variance[i]! * (re[i]! ** 2 + im[i]! ** 2);
      along += variance[i]! * ((a * re[i]! + b * im[i]!) / magnitude - magnitude * whole[i]!) ** 2;
    }
    return {
      contrast: Math.sqrt(Math.max(0, magnitude ** 2 - power / total ** 2)) / own(f),
      error: Math.hypot(Math.sqrt(along) / Math.abs(total), SYSTEMATIC, magnitude * tailError) / own(f),
    };
  });
  return {
    frequencies: FREQUENCIES,
    contrast: measured.map(({ contrast }) => contrast),
    uncertainty: measured.map(({ error }) => error),
  };
}
