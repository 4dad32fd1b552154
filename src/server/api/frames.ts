import { join } from "node:path";
import sharp from "sharp";
import { conversion, AP1, REC709 } from "../../core/colour/primaries";
import { SRGB } from "../../core/colour/transfer";
import { encodingByName } from "../../core/colour/encodings";
import type { Frame } from "../../core/engine/engine";
import { decodeImage } from "../../core/image/image";
import { apply } from "../../core/maths/matrix";
import { softTone } from "../../core/view/view";
import { loadImage } from "../../formats/formats";
import { FileError } from "../../formats/error";
import type { Footage, Shot } from "../../store/queries";
import { fileOf, parsePattern } from "../footage/sequence";
import { dataRoot } from "../root";
import { notFound, Refusal } from "./respond";

/** Decoded frames kept: enough to scrub back and forth, few enough to stay small. */
const KEPT_BYTES = 512 * 2 ** 20;
const kept = new Map<string, Frame>();

export function frameFileOf(footage: Footage, frame: number): string {
  if (!footage.frames.includes(frame)) throw notFound(`Frame ${frame}`);
  return fileOf(parsePattern(join(dataRoot(), footage.folder, footage.pattern)), frame);
}

/** A frame in working light at 1/`divide` of its size, by area. */
export async function workingFrame(shot: Shot, footage: Footage, frame: number, divide: number): Promise<Frame> {
  const key = [footage.id, shot.encoding, frame, divide].join(" ");
  let found = kept.get(key);
  if (found) {
    kept.delete(key);
    kept.set(key, found);
    return found;
  }
  if (divide > 1) found = shrink(await workingFrame(shot, footage, frame, 1), divide);
  else {
    try {
      found = decodeImage(await loadImage(frameFileOf(footage, frame)), encodingByName(shot.encoding)).frame;
    } catch (error) {
      if (error instanceof FileError && error.reason.startsWith("there is no")) throw new Refusal(425, `Frame ${frame} is still being computed`);
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
const THUMBNAILS_KEPT = 256;

/** A small JPEG of a frame as it came in, through the soft view (plain for display-referred footage). */
export async function thumbnail(shot: Shot, footage: Footage, frame: number): Promise<Buffer> {
  const key = [footage.id, shot.encoding, frame].join(" ");
  const found = thumbnails.get(key);
  if (found) return found;
  const { width, height, data } = await workingFrame(shot, footage, frame, Math.max(1, Math.floor(footage.width / THUMBNAIL_WIDTH)));
  const toDisplay = conversion(AP1, REC709);
  const plain = encodingByName(shot.encoding).displayReferred;
  const bytes = Buffer.alloc(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const light = [data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!].map((value) => (plain ? value : softTone(value))) as [number, number, number];
    apply(toDisplay, light).forEach((value, c) => (bytes[i * 3 + c] = Math.min(255, Math.max(0, Math.round(255 * SRGB.toCode(Math.max(0, value)))))));
  }
  const jpeg = await sharp(bytes, { raw: { width, height, channels: 3 } }).jpeg({ quality: 88 }).toBuffer();
  if (thumbnails.size >= THUMBNAILS_KEPT) thumbnails.delete(thumbnails.keys().next().value!);
  thumbnails.set(key, jpeg);
  return jpeg;
}
