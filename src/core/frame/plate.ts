import type { EncodingName } from "../colour/encodings";
import { countOf, frameAt, type Ranges } from "./ranges";
import { clamp } from "../maths/interpolate";
import type { Frame } from "../image/image";

/** What a plate does before its first frame and after its last. */
export type Ends = "hold" | "loop";
/** A plate is encoded as its footage says, or as a name does. */
export const OWN_ENCODING = "own";
export type PlateEncoding = typeof OWN_ENCODING | EncodingName;

/** The frame of a plate at an index counted from its first. */
export function plateFrame(frames: Ranges, index: number, ends: Ends): number {
  const count = countOf(frames);
  return frameAt(frames, ends === "loop" ? ((index % count) + count) % count : clamp(index, 0, count - 1))!;
}

/**
 * The middle of a frame, as much of it as has the shape of `width` by `height`: so a plate covers a frame of another
 * shape.
 */
export function middleOfShape(frame: Frame, width: number, height: number): Frame {
  const w = Math.min(frame.width, Math.max(1, Math.round((frame.height * width) / height)));
  const h = Math.min(frame.height, Math.max(1, Math.round((frame.width * height) / width)));
  if (w === frame.width && h === frame.height) return frame;
  const [left, top] = [(frame.width - w) >> 1, (frame.height - h) >> 1];
  const data = new Float32Array(w * h * 4);
  for (let y = 0; y < h; y++)
    data.set(
      frame.data.subarray(((top + y) * frame.width + left) * 4, ((top + y) * frame.width + left + w) * 4),
      y * w * 4,
    );
  return { width: w, height: h, data };
}
