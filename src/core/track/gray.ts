import { MID_GREY } from "../colour/grey";

/** A picture of one number a pixel, rows from the top. */
export interface Gray {
  width: number;
  height: number;
  data: Float32Array;
}

/** Part of a larger picture: where its upper left pixel lies there, and that picture's size. */
export interface GrayPart extends Gray {
  left: number;
  top: number;
  frame: { width: number; height: number };
}

/** AP1 luminance weights, near enough to find things by. */
const WEIGHTS = [0.27, 0.67, 0.06] as const;

/**
 * A part of a frame (RGBA working light) as it is followed: luminance on a scale on which a stop is nearly a step, from
 * shadows up, so that a lamp does not outweigh all else. What lies outside the frame repeats its edge.
 */
export function grayPart(
  frame: { width: number; height: number; data: Float32Array },
  left: number,
  top: number,
  width: number,
  height: number,
): GrayPart {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = Math.min(frame.height - 1, Math.max(0, top + y)) * frame.width;
    for (let x = 0; x < width; x++) {
      const at = (row + Math.min(frame.width - 1, Math.max(0, left + x))) * 4;
      const light = WEIGHTS[0] * frame.data[at]! + WEIGHTS[1] * frame.data[at + 1]! + WEIGHTS[2] * frame.data[at + 2]!;
      data[y * width + x] = Math.log2(1 + Math.max(0, light) / MID_GREY);
    }
  }
  return { width, height, data, left, top, frame: { width: frame.width, height: frame.height } };
}

/** Weights of [1 4 6 4 1] / 16 (Burt and Adelson, 1983). */
const TAPS = [1 / 16, 4 / 16, 6 / 16, 4 / 16, 1 / 16] as const;

/** Blurred by the binomial filter, edges repeated. */
export function blurred({ width, height, data }: Gray): Gray {
  const across = new Float32Array(data.length);
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -2; k <= 2; k++) sum += TAPS[k + 2]! * data[y * width + Math.min(width - 1, Math.max(0, x + k))]!;
      across[y * width + x] = sum;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -2; k <= 2; k++) sum += TAPS[k + 2]! * across[Math.min(height - 1, Math.max(0, y + k)) * width + x]!;
      out[y * width + x] = sum;
    }
  return { width, height, data: out };
}

/** Half the size: every second pixel of a blurred picture. */
export function halvedGray(gray: Gray): Gray {
  const { width, height, data } = blurred(gray);
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) out[y * w + x] = data[2 * y * width + 2 * x]!;
  return { width: w, height: h, data: out };
}
