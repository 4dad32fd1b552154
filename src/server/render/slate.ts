/** A slate burnt into frames that are looked at: a line of words on a dark band at the foot. */
import sharp from "sharp";
import type { Encoding } from "../../core/colour/encodings";
import { slateOfFrame } from "../../core/slate/slate";
import { timeCodeText } from "../../core/frame/time-code";
import type { Picture } from "../../formats/format";
import { drawnLetters, escaped } from "../letters/letters";
import { isLinearFile } from "./output";

/** Of the frame's height. */
const BAND = 1 / 18;
const MIN_BAND_PX = 12;
/** Of the band's height. */
const LETTERS = 0.5;
/** Of the band's height, before the first letter and behind the last. */
const MARGIN = 0.5;
/** What is left of the picture under the words, and the code value they have. */
const [DIMMED, WHITE] = [0.3, 0.85];

/** Whether a file shows its pictures to people: light, and what another program goes on with, stay as they are. */
export const takesSlate = (output: string, encoding: Encoding | null): boolean =>
  !isLinearFile(output) && (!encoding || encoding.family === "display");

/** How much of each pixel a line of words covers, 0 to 255, at most `width` px wide. */
async function coverage(text: string, size: number, width: number, squeeze: number) {
  const drawn = await drawnLetters(escaped(text), size).toBuffer({ resolveWithObject: true });
  const wide = Math.max(1, Math.min(width, Math.round(drawn.info.width / squeeze)));
  return sharp(drawn.data)
    .resize({ width: wide, height: drawn.info.height, fit: "fill" })
    .extractChannel(0)
    .raw()
    .toBuffer({ resolveWithObject: true });
}

export interface SlateFrame {
  frame: number;
  /** As the file says it; counted from the frame's number where it says none. */
  timeCode?: string;
  framesPerSecond: number;
  /** Width of a pixel over its height. */
  pixelAspect?: number;
}

/** Burns a frame's slate into its code values, in place. */
export async function burnIn(picture: Picture, slate: string, at: SlateFrame): Promise<void> {
  const { width, height, data } = picture;
  const { frame, framesPerSecond, pixelAspect = 1 } = at;
  const timeCode = at.timeCode ?? timeCodeText({ frames: Math.max(0, frame - 1), drop: false }, framesPerSecond);
  const band = Math.min(height, Math.max(MIN_BAND_PX, Math.round(height * BAND)));
  const margin = Math.round(band * MARGIN);
  const room = Math.max(1, width - 2 * margin);
  const words = await coverage(slateOfFrame(slate, { frame, timeCode }), Math.round(band * LETTERS), room, pixelAspect);
  const top = height - band;
  const firstRow = top + Math.round((band - words.info.height) / 2);
  for (let y = top; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = 4 * (y * width + x);
      const [column, row] = [x - margin, y - firstRow];
      const isInside = column >= 0 && column < words.info.width && row >= 0 && row < words.info.height;
      const cover = isInside ? words.data[row * words.info.width + column]! / 255 : 0;
      for (let c = 0; c < 3; c++) data[at + c] = data[at + c]! * DIMMED * (1 - cover) + WHITE * cover;
      data[at + 3] = 1;
    }
}
