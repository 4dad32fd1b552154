import sharp from "sharp";
import { conversion, AP1, REC709 } from "../../core/colour/primaries";
import { SRGB } from "../../core/colour/transfer/display";
import type { Frame } from "../../core/engine/engine";
import { decodeImage, depthFrame } from "../../core/image/image";
import { softTone } from "../../core/view/view";
import { FileError } from "../../formats/error";
import type { Database } from "../../store/database";
import type { Footage, Shot } from "../../store/queries";
import { encodingNamed, type NamedEncoding } from "../colour/library";
import { choiceFor, framesOfShot, sourceOf } from "../footage/shot";
import { loadFrame } from "../footage/source";
import { notFound, Refusal } from "./respond";

/** Decoded frames kept: enough to scrub back and forth, few enough to stay small. */
const KEPT_BYTES = 512 * 2 ** 20;
const kept = new Map<string, Working>();

/** A shot with what its frames mean: its own encoding, or another one looked at before it is chosen. */
export interface Seen {
  shot: Shot;
  footage: Footage;
  encoded: NamedEncoding;
}

export async function seen(
  db: Database,
  { shot, footage }: { shot: Shot; footage: Footage },
  encoding?: string | null,
): Promise<Seen> {
  return { shot, footage, encoded: await encodingNamed(db, encoding || shot.encoding) };
}

/** Light, or distance along the axis (m, in every lane). */
export type PlaneName = "light" | "depth";

/** A frame with what is told of it. */
export interface Working extends Frame {
  hasDepth: boolean;
}

/** A frame in working light, or its depth, at 1/`divide` of its size, by area. */
export async function workingFrame(
  from: Seen,
  frame: number,
  divide: number,
  plane: PlaneName = "light",
): Promise<Working> {
  const { shot, footage, encoded } = from;
  if (!framesOfShot(footage, { ...shot, firstFrame: null, lastFrame: null }).includes(frame))
    throw notFound(`Frame ${frame}`);
  const key = [footage.id, encoded.revision, shot.gaps, shot.depthChannel, frame, divide, plane].join(" ");
  let found = kept.get(key);
  if (found) {
    kept.delete(key);
    kept.set(key, found);
    return found;
  }
  if (divide > 1) {
    const whole = await workingFrame(from, frame, 1, plane);
    found = { ...shrink(whole, divide), hasDepth: whole.hasDepth };
  } else {
    try {
      const image = await loadFrame(sourceOf(footage), frame, choiceFor(shot, footage), shot.gaps);
      found = {
        ...(plane === "depth" ? depthFrame(image) : decodeImage(image, encoded.encoding).frame),
        hasDepth: image.z !== undefined,
      };
    } catch (error) {
      if (error instanceof FileError && error.reason.startsWith("there is no"))
        throw new Refusal(425, `Frame ${frame} is still being computed`);
      throw error;
    }
  }
  kept.set(key, found);
  let bytes = [...kept.values()].reduce((sum, { data }) => sum + data.byteLength, 0);
  for (const [old, { data }] of kept) {
    if (bytes <= KEPT_BYTES || old === key) break;
    kept.delete(old);
    bytes -= data.byteLength;
  }
  return found;
}

/** Sizes a frame is sent in, as parts of its own. */
export const DIVISORS = [1, 2, 4];

/** A frame as it is sent: RGBA float32, little-endian, rows from the top; its size in the headers. */
export const frameResponse = ({ width, height, data, hasDepth }: Working) =>
  new Response(new Uint8Array(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength), {
    headers: {
      "content-type": "application/octet-stream",
      "x-width": String(width),
      "x-height": String(height),
      "x-depth": hasDepth ? "yes" : "no",
      "cache-control": "no-store",
    },
  });

/** Mean over squares of `divide` pixels; what is left over at the right and below belongs to the last squares. */
function shrink({ width, height, data }: Frame, divide: number): Frame {
  const w = Math.max(1, Math.floor(width / divide));
  const h = Math.max(1, Math.floor(height / divide));
  const out = new Float32Array(w * h * 4);
  const share = 1 / (divide * divide);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const at = (y * w + x) * 4;
      for (let j = 0; j < divide; j++) {
        let from = ((y * divide + j) * width + x * divide) * 4;
        for (let i = 0; i < divide; i++, from += 4) {
          out[at]! += data[from]! * share;
          out[at + 1]! += data[from + 1]! * share;
          out[at + 2]! += data[from + 2]! * share;
          out[at + 3]! += data[from + 3]! * share;
        }
      }
    }
  }
  return { width: w, height: h, data: out };
}

const THUMBNAIL_WIDTH = 400;
const thumbnails = new Map<string, Buffer>();
const THUMBNAILS_KEPT = 1024;
const toDisplay = conversion(AP1, REC709);

/** Display code values of the soft view by stops, finely enough for a small picture. */
const TONE_STEPS = 4096;
const LEAST_STOPS = -16;
const STOPS = 32;
const toneTable = Float32Array.from({ length: TONE_STEPS + 1 }, (_, i) =>
  softTone(0.18 * 2 ** (LEAST_STOPS + (STOPS * i) / TONE_STEPS)),
);
const tone = (light: number) =>
  light <= 0
    ? 0
    : toneTable[
        Math.min(TONE_STEPS, Math.max(0, Math.round(((Math.log2(light / 0.18) - LEAST_STOPS) / STOPS) * TONE_STEPS)))
      ]!;

/** RGB bytes of a frame as it came in, through the soft view (plain for display-referred footage), for an sRGB display. */
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

/** A small JPEG of a frame; `width` about so many pixels. */
export async function thumbnail(from: Seen, frame: number, wanted = THUMBNAIL_WIDTH): Promise<Buffer> {
  const { shot, footage, encoded } = from;
  const key = [footage.id, encoded.revision, shot.gaps, frame, wanted].join(" ");
  const found = thumbnails.get(key);
  if (found) return found;
  const small = await workingFrame(from, frame, Math.max(1, Math.floor(footage.width / wanted)));
  const { width, height } = small;
  const jpeg = await sharp(displayBytes(small, encoded.encoding.family === "display"), {
    raw: { width, height, channels: 3 },
  })
    .jpeg({ quality: 88 })
    .toBuffer();
  if (thumbnails.size >= THUMBNAILS_KEPT) thumbnails.delete(thumbnails.keys().next().value!);
  thumbnails.set(key, jpeg);
  return jpeg;
}
