import { open } from "node:fs/promises";
import { framesIn, type Ranges } from "../../core/frame/ranges";
import type { LensRow } from "../../core/when/lens-data";
import { readHeaders } from "../../formats/exr/header";
import type { RecordedLens } from "../../formats/format";
import { placeOf, type Source } from "./source";

/** As much of a file as holds its header, bytes. */
const HEADER_BYTES = 2 ** 18;

/** What a frame's own header says of its lens; nothing where it is no EXR, or says nothing. */
async function recordedIn(path: string): Promise<RecordedLens | undefined> {
  if (!/\.exr$/i.test(path)) return undefined;
  const file = await open(path).catch(() => null);
  if (!file) return undefined;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEADER_BYTES), 0, HEADER_BYTES, 0);
    return readHeaders(path, buffer.subarray(0, bytesRead)).parts[0]!.lens;
  } catch {
    // A header that cannot be read is told where the frame is asked for.
    return undefined;
  } finally {
    await file.close();
  }
}

/** How the lens was set on each frame, by the footage's own headers; and the sensor, by the first that says. */
export async function recordedLenses(
  source: Source,
  frames: Ranges,
): Promise<{ rows: LensRow[]; sensor: { width: number; height: number } | null }> {
  const rows: LensRow[] = [];
  let sensor: { width: number; height: number } | null = null;
  for (const frame of framesIn(frames)) {
    const found = await recordedIn(placeOf(source.pattern, frame).path);
    if (!found) continue;
    const { sensor: own, ...lens } = found;
    sensor ??= own ?? null;
    if (Object.keys(lens).length) rows.push({ frame, ...lens });
  }
  return { rows, sensor };
}
