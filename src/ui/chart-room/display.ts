/** Light at which a chart's picture is white: so much of its pixels are darker. */
const WHITE_SHARE = 0.995;
const WHITE_CODE = 0.92;
const SAMPLED = 4096;
/** A night scene stays one. */
const MAX_GAIN = 4;

/** sRGB's transfer function, of light from 0 to 1 (IEC 61966-2-1). */
const codeOf = (light: number) => (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);
const STEPS = 4096;
const TABLE = Uint8ClampedArray.from({ length: STEPS + 1 }, (_, i) => 255 * codeOf(i / STEPS));

/** Light (RGBA) as code values of a display, exposed so that its light parts are near white. */
export function displayCodes(data: Float32Array, pixels: number): Uint8ClampedArray<ArrayBuffer> {
  const step = Math.max(1, Math.floor(pixels / SAMPLED));
  const lights: number[] = [];
  for (let i = 0; i < pixels; i += step) lights.push(data[4 * i + 1]!);
  lights.sort((a, b) => a - b);
  const white = Math.max(1e-6, lights[Math.floor(WHITE_SHARE * (lights.length - 1))]!);
  const gain = Math.min(MAX_GAIN, WHITE_CODE / white) * STEPS;
  const out = new Uint8ClampedArray(4 * pixels);
  for (let i = 0; i < 4 * pixels; i += 4) {
    for (let c = 0; c < 3; c++) out[i + c] = TABLE[Math.min(STEPS, Math.max(0, Math.round(data[i + c]! * gain)))]!;
    out[i + 3] = 255;
  }
  return out;
}
