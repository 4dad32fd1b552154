/** Samples from end to end of the spectrum when each channel is one of them. */
export const CHANNELS = 3;

/**
 * How much of each sample of the spectrum a channel takes, by its distance from the channel's middle (1: at the
 * neighbour's).
 */
export const SPECTRUM_SHAPES = {
  even: () => 1,
  linear: (apart: number) => 1 - Math.abs(apart),
  /** A raised cosine: the channels' parts sum to an even spectrum. */
  smooth: (apart: number) => (1 + Math.cos(Math.PI * apart)) / 2,
} as const;
export type SpectrumShape = keyof typeof SPECTRUM_SHAPES;

/** A place on the spectrum, from a channel's middle (1: at the neighbour's), and its share of the channel. */
interface SpectrumTap {
  offset: number;
  weight: number;
}

/** How a channel's part of the spectrum is sampled; `variance` is the taps'. */
export interface Spectrum {
  taps: SpectrumTap[];
  variance: number;
}

/** `samples`: from end to end of the spectrum, 3 to 16. */
export function spectrumOf(samples: number, shape: SpectrumShape = "smooth"): Spectrum {
  const half = Math.max(1, Math.round((samples + 1) / 4));
  const offsets = Array.from({ length: 2 * half - 1 }, (_, i) => (i + 1 - half) / half);
  const raw = offsets.map(SPECTRUM_SHAPES[shape]);
  const sum = raw.reduce((a, b) => a + b, 0);
  const taps = offsets.map((offset, i) => ({ offset, weight: raw[i]! / sum }));
  return { taps, variance: taps.reduce((total, { offset, weight }) => total + weight * offset ** 2, 0) };
}

/** As assembly/spectrum.ts reads it: how many taps, their variance, then offset and weight of each. */
export const packSpectrum = ({ taps, variance }: Spectrum): number[] => [
  taps.length,
  variance,
  ...taps.flatMap(({ offset, weight }) => [offset, weight]),
];

/** Red, green and blue on the spectrum. */
export const MIDDLES = [1, 0, -1] as const;
