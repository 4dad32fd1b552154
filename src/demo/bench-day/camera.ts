/** The camera that Bench day is shot with: its sensor, its noise, and its steps. */
import type { Frame } from "../../core/image/image";

export const CAMERA = {
  width: 1920,
  height: 1080,
  /** mm */
  sensor: { width: 24.96, height: 14.04 },
  pitch: 24.96 / 1920,
} as const;

/** Standard deviation of its noise against the light, and at least. */
const NOISE = 0.005;
const NOISE_FLOOR = 0.0004;
/** 12 bits of a logarithmic encoding. */
const STEPS = 4095;

/** Numbers from 0 to 1 that a seed makes: the same on every machine. */
export function numbersOf(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2 ** 32;
  };
}

const normal = (next: () => number) => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());

/** Code values as a camera records light in ACEScct, 0 to 1; and back (Academy S-2016-001). */
const toCode = (x: number) =>
  x <= 0.0078125 ? 10.5402377416545 * x + 0.0729055341958355 : (Math.log2(x) + 9.72) / 17.52;
const toLight = (y: number) =>
  y > 0.155251141552511 ? 2 ** (y * 17.52 - 9.72) : (y - 0.0729055341958355) / 10.5402377416545;

/** What the camera makes of light: noise of half a percent, in 12-bit steps. In place. */
export function recorded(frame: Frame, seed: number): Frame {
  const next = numbersOf(seed * 7919 + 17);
  const { data } = frame;
  for (let i = 0; i < data.length; i += 4)
    for (let c = 0; c < 3; c++) {
      const light = data[i + c]!;
      const noisy = light + normal(next) * Math.max(NOISE_FLOOR, NOISE * light);
      data[i + c] = toLight(Math.round(toCode(noisy) * STEPS) / STEPS);
    }
  return frame;
}
