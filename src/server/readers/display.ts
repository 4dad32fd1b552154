import { lightAt, stopsOf } from "../../core/colour/grey";
import sharp from "sharp";
import { AP1, conversion, REC709 } from "../../core/colour/primaries";
import { SRGB } from "../../core/colour/transfer/display";
import { softTone } from "../../core/view/view";
import type { Frame } from "../../core/image/image";

const toDisplay = conversion(AP1, REC709);

/** Display code values of the soft view by stops, finely enough for a small picture. */
const TONE_STEPS = 4096;
const MIN_STOPS = -16;
const STOPS = 32;
const toneTable = Float32Array.from({ length: TONE_STEPS + 1 }, (_, i) =>
  softTone(lightAt(MIN_STOPS + (STOPS * i) / TONE_STEPS)),
);

function tone(light: number): number {
  if (light <= 0) return 0;
  const step = Math.round(((stopsOf(light) - MIN_STOPS) / STOPS) * TONE_STEPS);
  return toneTable[Math.min(TONE_STEPS, Math.max(0, step))]!;
}

/**
 * RGB bytes of a frame as it came in, through the soft view (plain for display-referred footage), for an sRGB display.
 */
export function displayBytes({ width, height, data }: Frame, plain: boolean): Buffer {
  const bytes = Buffer.alloc(width * height * 3);
  const m = toDisplay;
  for (let i = 0; i < width * height; i++) {
    let [r, g, b] = [data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!];
    if (!plain) [r, g, b] = [tone(r), tone(g), tone(b)];
    for (let c = 0; c < 3; c++) {
      const light = m[c * 3]! * r + m[c * 3 + 1]! * g + m[c * 3 + 2]! * b;
      bytes[i * 3 + c] = Math.min(255, Math.max(0, Math.round(255 * SRGB.toCode(Math.max(0, light)))));
    }
  }
  return bytes;
}

const JPEG_QUALITY = 88;

export async function jpegOf(frame: Frame, plain: boolean): Promise<Uint8Array<ArrayBuffer>> {
  const { width, height } = frame;
  const image = sharp(displayBytes(frame, plain), { raw: { width, height, channels: 3 } });
  return new Uint8Array(await image.jpeg({ quality: JPEG_QUALITY }).toBuffer());
}
