import { basename } from "node:path";
import { LRUCache } from "lru-cache";
import { hasFrame } from "../../core/frame/ranges";
import { FileError } from "../../formats/error";
import { bytesOfSamples } from "../../core/image/samples";
import type { Database } from "../../store/database";
import type { Footage, Shot } from "../../store/queries";
import { encodingNamed, type NamedEncoding } from "../colour/library";
import { makerOf } from "../footage/making";
import { choiceFor, framesOfShot, sourceOf } from "../shots/shot";
import { placeFor } from "../footage/source";
import type { Deadline } from "../waiting/gate";
import { notFound, Refusal } from "../errors/errors";
import { readers } from "../readers/pool";
import { bodyOf, roomToSend } from "./sending";
import { dividedSize } from "../readers/shrink";
import type { Done, PlaneName, Sent, SharedFrame } from "../readers/tasks";

/** Read frames kept: enough to scrub back and forth, few enough to stay small, bytes. */
const KEPT_BYTES = 256 * 2 ** 20;
const wholes = new LRUCache<string, SharedFrame>({
  maxSize: KEPT_BYTES / 2,
  sizeCalculation: ({ data, codes }) => data.byteLength + (codes?.data.byteLength ?? 0),
});
/** Frames as they are sent. */
const ready = new LRUCache<string, Sent>({
  maxSize: KEPT_BYTES / 2,
  sizeCalculation: ({ samples }) => samples.data.byteLength,
});

/** A shot with what its frames mean: its own encoding, or another one looked at before it is chosen. */
export interface ShotAsRead {
  shot: Shot;
  footage: Footage;
  encoded: NamedEncoding;
}

export async function asRead(
  db: Database,
  { shot, footage }: { shot: Shot; footage: Footage },
  encoding?: string | null,
): Promise<ShotAsRead> {
  return { shot, footage, encoded: await encodingNamed(db, encoding || shot.encoding) };
}

export const PIXEL_BYTES = 16;
/** What reading a frame takes in memory, against what it is when read. */
export const READING = 3;

/** Where a frame of a shot is read from. Throws Refusal where there is none of that number. */
export function frameFileOf({ shot, footage }: ShotAsRead, frame: number) {
  if (!hasFrame(framesOfShot(footage, { ...shot, firstFrame: null, lastFrame: null }), frame))
    throw notFound(`Frame ${frame}`);
  return placeFor(sourceOf(footage), frame, choiceFor(shot, footage), shot.gaps);
}

/**
 * What went wrong with a frame whose file is not there: it is still being made, and comes next by now, or was removed.
 */
function asMade(error: unknown, frame: number, { id }: Footage): never {
  if (!(error instanceof FileError && error.reason.startsWith("there is no"))) throw error;
  throw makerOf(id)?.ask(frame)
    ? new Refusal("not-yet", `Frame ${frame} is still being computed`, { code: "still-computing" })
    : notFound(`Frame ${frame}`);
}

/** Frames whose files are being read, and by which request. */
const reading = new Map<string, { key: string; work: Promise<Done["frame"]> }>();

/** A frame in working light, or its depth, at 1/`divide` of its size, by area; as it is sent. */
async function workingFrame(
  from: ShotAsRead,
  frame: number,
  divide: number,
  plane: PlaneName,
  overscan: boolean,
  deadline: Deadline,
): Promise<Sent> {
  const { shot, footage, encoded } = from;
  const file = frameFileOf(from, frame);
  const base = [footage.id, encoded.order.revision, shot.gaps, shot.depthChannel, frame, plane].join(" ");
  const key = `${base} ${divide} ${overscan}`;
  const found = ready.get(key);
  if (found) return found;
  const weight = footage.width * footage.height * PIXEL_BYTES * READING;
  const read = (whole?: SharedFrame) =>
    readers().run(
      "frame",
      { file: file, encoding: encoded.order, plane, divide, overscan, whole },
      { key, name: basename(file.path), weight, ...deadline },
    );
  try {
    // A file is read once for all sizes it is asked for in; what went wrong with it is found again by this one itself.
    const now = reading.get(base);
    const other = now && now.key !== key ? await now.work.catch(() => undefined) : undefined;
    const work = read(other?.whole ?? wholes.get(base));
    if (!reading.has(base)) {
      reading.set(base, { key, work });
      work.finally(() => reading.delete(base)).catch(() => {});
    }
    const { whole, sent } = await work;
    if (whole) wholes.set(base, whole);
    ready.set(key, sent);
    return sent;
  } catch (error) {
    return asMade(error, frame, footage);
  }
}

/**
 * A frame as it is sent: `x-channels` samples a pixel, `x-samples` each, little-endian, rows from the top; its size in
 * the headers, and how many samples were no numbers and how many infinite. Before whole numbers comes their table of
 * light; `x-to-working` is the matrix after it. Piece by piece, so that no more than a few are in memory beside the
 * frame itself, which threads share.
 */
export function frameResponse({ samples, hasDepth, cleaned, overscan }: Sent, sent: () => void): Response {
  const { width, height, channels, depth, toWorking } = samples;
  const parts = bytesOfSamples(samples);
  const body = bodyOf(parts, sent);
  const headers = {
    "content-type": "application/octet-stream",
    "content-length": String(parts.reduce((sum, { length }) => sum + length, 0)),
    "x-width": String(width),
    "x-height": String(height),
    "x-channels": String(channels),
    "x-samples": depth,
    "x-depth": hasDepth ? "yes" : "no",
    ...(overscan ? { "x-overscan": JSON.stringify(overscan) } : {}),
    "x-cleaned": `${cleaned.notNumbers} ${cleaned.infinite}`,
    ...(toWorking ? { "x-to-working": JSON.stringify(toWorking) } : {}),
    "cache-control": "no-store",
  };
  return new Response(body, { headers });
}

/**
 * Reads a frame and sends it, with what its file holds around it where it is asked for. What is on its way takes its
 * room until it was taken.
 */
export async function sendFrame(
  from: ShotAsRead,
  frame: number,
  divide: number,
  plane: PlaneName,
  deadline: Deadline,
  overscan = false,
): Promise<Response> {
  const { width, height } = dividedSize(from.footage, divide);
  const sent = await roomToSend(width * height * PIXEL_BYTES, deadline);
  try {
    return frameResponse(await workingFrame(from, frame, divide, plane, overscan, deadline), sent);
  } catch (error) {
    sent();
    throw error;
  }
}

const THUMBNAILS_KEPT = 1024;
const thumbnails = new LRUCache<string, Uint8Array<ArrayBuffer>>({ max: THUMBNAILS_KEPT });

/** A small JPEG of a frame; `wanted` about so many pixels wide. */
export async function thumbnail(
  from: ShotAsRead,
  frame: number,
  wanted: number,
  deadline: Deadline,
): Promise<Uint8Array<ArrayBuffer>> {
  const { shot, footage, encoded } = from;
  const base = [footage.id, encoded.order.revision, shot.gaps, shot.depthChannel, frame, "light"].join(" ");
  const key = `thumbnail ${base} ${wanted}`;
  const found = thumbnails.get(key);
  if (found) return found;
  const file = frameFileOf(from, frame);
  const task = { file, encoding: encoded.order, width: wanted, whole: wholes.get(base) };
  const weight = footage.width * footage.height * PIXEL_BYTES * READING;
  const jpeg = await readers()
    .run("thumbnail", task, { key, name: basename(file.path), weight, ...deadline })
    .catch((error: unknown) => asMade(error, frame, footage));
  thumbnails.set(key, jpeg);
  return jpeg;
}
