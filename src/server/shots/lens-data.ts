import { open } from "node:fs/promises";
import { clipped, countOf, firstOf, framesIn, lastOf, type Ranges } from "../../core/frame/ranges";
import { type LensRow, MAX_LENS_ROWS } from "../../core/when/lens-data";
import { readHeaders } from "../../formats/exr/header";
import type { RecordedLens } from "../../formats/format";
import { Gate, type Deadline } from "../waiting/gate";
import { Refusal } from "../errors/errors";
import { fileAt, type Source } from "../footage/source";

/** As much of a file as holds its header, bytes. */
const HEADER_BYTES = 2 ** 18;

/** What a frame's own header says of its lens; nothing where it is no EXR, or says nothing. */
async function recordedIn(path: string, head: Buffer): Promise<RecordedLens | undefined> {
  const file = await open(path).catch(() => null);
  if (!file) return undefined;
  try {
    const { buffer, bytesRead } = await file.read(head, 0, HEADER_BYTES, 0);
    return readHeaders(path, buffer.subarray(0, bytesRead)).parts[0]!.lens;
  } catch {
    // A header that cannot be read is told where the frame is asked for.
    return undefined;
  } finally {
    await file.close();
  }
}

/** One shot's headers after another's: they are many small reads. */
const reading = new Gate(1);

/**
 * How the lens was set on each frame, by the footage's own headers; and the sensor, by the first that says. Frames that
 * are not there are not looked for. Throws what the signal says where nobody waits for it any more.
 */
export async function recordedLenses(
  source: Source,
  frames: Ranges,
  deadline: Deadline,
): Promise<{ rows: LensRow[]; sensor: { width: number; height: number } | null }> {
  const there = clipped(source.frames, firstOf(frames), lastOf(frames));
  if (!/\.exr$/i.test(fileAt(source.pattern, firstOf(source.frames)).path)) return { rows: [], sensor: null };
  if (countOf(there) > MAX_LENS_ROWS)
    throw new Refusal(
      "unreadable",
      `The shot has ${countOf(there)} frames; the headers of up to ${MAX_LENS_ROWS} are read`,
    );
  const done = await reading.enter(1, deadline);
  try {
    return await readAll(source, there, deadline.signal);
  } finally {
    done();
  }
}

async function readAll(source: Source, frames: Ranges, signal?: AbortSignal) {
  const rows: LensRow[] = [];
  let sensor: { width: number; height: number } | null = null;
  const head = Buffer.alloc(HEADER_BYTES);
  for (const frame of framesIn(frames)) {
    signal?.throwIfAborted();
    const found = await recordedIn(fileAt(source.pattern, frame).path, head);
    if (!found) continue;
    const { sensor: own, ...lens } = found;
    sensor ??= own ?? null;
    if (Object.keys(lens).length) rows.push({ frame, ...lens });
  }
  return { rows, sensor };
}
