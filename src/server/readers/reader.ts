import { stat } from "node:fs/promises";
import { setPriority } from "node:os";
import { basename } from "node:path";
import { parentPort } from "node:worker_threads";
import { LRUCache } from "lru-cache";
import { type Encoding, encodingByName } from "../../core/colour/encodings";
import { findEncoding, type OwnEncoding } from "../../core/colour/own-encoding";
import { toPlain } from "../../core/colour/transform/plain";
import type { Transform } from "../../core/colour/transform/transform";
import { compile } from "../../core/compile/compile";
import { NOTHING_CLEANED } from "../../core/image/clean";
import { NO_OVERSCAN, shownOf, smallerOverscan, withOverscan } from "../../core/image/overscan";
import { decodeImage } from "../../core/image/decode";
import { depthFrame, isWorkingLight, normalised, quantise } from "../../core/image/image";
import { codesOf, lightOfCodes } from "../../core/image/codes";
import { packCodes, packSamples } from "../../core/image/samples";
import { cabinetOf, type Profile } from "../../core/profile/profiles";
import { FileError } from "../../formats/error";
import { readCdl } from "../../formats/cdl/cdl";
import { describedFormat } from "../../formats/formats";
import { encodingFrom, readTable } from "../encodings/own-encoding";
import { greyRamp } from "../encodings/ramp";
import { textOf } from "./shared-text";
import { type NodeEngine, startEngine } from "../engine/engine";
import { guessEncoding } from "../footage/guess-encoding";
import { type FrameFile, loadPlace } from "../footage/source";
import { exportTable } from "./table";
import { collect } from "../engine/collect";
import { jpegOf } from "./display";
import { dividedSize, shrinkInto } from "./shrink";
import type {
  Answer,
  Done,
  EncodingOrder,
  Kind,
  Order,
  PlaneName,
  ReadFrame,
  SharedFrame,
  TableText,
  Task,
  ViewTable,
} from "./tasks";

/** A thread that reads pictures, one after another, so that no request waits while another's file is unpacked. */

/** Readers give way to the thread that answers: on Linux a thread has a priority of its own. */
const NICE = 10;
if (process.platform === "linux") setPriority(0, NICE);

const encodings = new LRUCache<string, Encoding>({ max: 32 });

const wholeEncoding = ({ body, text }: Exclude<EncodingOrder["encoding"], string>): OwnEncoding =>
  body.kind === "log" ? body : { ...body, text: textOf(text!) };

const transforms = new LRUCache<string, Transform>({ max: 8 });

function transformOf({ revision, file, text }: TableText): Transform {
  const transform = transforms.get(revision) ?? readTable(file, textOf(text));
  transforms.set(revision, transform);
  return transform;
}

/** Glass, and the tables that looks are seen through. */
const glassOf = (profiles: Profile[], tables: readonly ViewTable[]) =>
  cabinetOf(
    profiles,
    tables.map((table) => [table.id, transformOf(table)] as const),
  );

/** Tables take a while to read: what was asked for before is kept. */
function encodingOf({ revision, encoding }: EncodingOrder): Encoding {
  const before = encodings.get(revision);
  if (before) return before;
  const found = typeof encoding === "string" ? findEncoding(encoding) : encodingFrom(wholeEncoding(encoding));
  if (!found) throw new Error(`There is no encoding “${String(encoding)}”`);
  encodings.set(revision, found);
  return found;
}

const sharedFloats = (length: number) =>
  new Float32Array(new SharedArrayBuffer(length * Float32Array.BYTES_PER_ELEMENT));

/**
 * Bytes of pictures after which what is no longer used of them is cleared away: they lie outside the collector's own
 * heap, which stays so small that it sees no reason to run.
 */
const COLLECT_EVERY = 96 * 2 ** 20;
let sinceCollected = 0;

/**
 * Frames of more samples than this, which are wanted smaller, are not shared whole: that would take longer than reading
 * them anew.
 */
const LARGE_SAMPLES = 2 ** 24;

/** Memory that large frames are read into, one after another: fresh memory costs as much as reading does. */
let room = new Float32Array(0);
const MAX_KEPT_SAMPLES = 2 ** 26;

/** Where a frame is read to: what may be shared whole lies in memory that threads share from the first. */
function roomFor(samples: number): Float32Array {
  if (samples <= LARGE_SAMPLES) return sharedFloats(samples);
  if (samples > MAX_KEPT_SAMPLES) return new Float32Array(samples);
  if (room.length < samples) room = new Float32Array(samples);
  return room.subarray(0, samples);
}

/** A frame read, in this thread's own memory: it holds until the next one is read. */
async function readFrame(file: FrameFile, encoding: EncodingOrder, plane: PlaneName): Promise<ReadFrame> {
  const image = await loadPlace({
    ...file,
    choice: { ...file.choice, overscan: true, withoutDepth: plane === "light", memory: roomFor },
  });
  const own = encodingOf(encoding);
  // What has to be multiplied by its alpha is no longer what the file's code values are.
  const isUnassociated = image.alpha === "unassociated";
  const codes = plane === "light" && !isUnassociated ? codesOf(image, own) : null;
  const decoded = plane === "light" && !codes ? decodeImage(image, own) : null;
  const { width, height, data } =
    decoded?.frame ?? (plane === "light" && codes ? lightOfCodes(codes) : depthFrame(image));
  const found = decoded?.cleaned ?? NOTHING_CLEANED;
  sinceCollected += data.byteLength;
  const isHalf = plane === "light" && image.pixels.depth === "half" && isWorkingLight(own) && !isUnassociated;
  const hasDepth = image.z !== undefined || image.info.depthChannel !== undefined;
  const { overscan } = image;
  return {
    width,
    height,
    data,
    hasDepth,
    cleaned: found,
    overscan,
    isHalf,
    codes: codes ? packCodes(codes) : undefined,
  };
}

/** A frame in memory that threads share. */
function shared(frame: ReadFrame): SharedFrame {
  const { data, ...rest } = frame;
  if (data.buffer instanceof SharedArrayBuffer) return frame as SharedFrame;
  const copy = sharedFloats(data.length);
  copy.set(data);
  return { ...rest, data: copy };
}

const wholeOf = async (file: FrameFile, encoding: EncodingOrder, plane: PlaneName): Promise<SharedFrame> =>
  shared(await readFrame(file, encoding, plane));

/** A frame at 1/`divide` of its size. */
const dividedBy = (whole: SharedFrame, divide: number): SharedFrame => (divide <= 1 ? whole : smaller(whole, divide));

/** What is shown of a frame. */
function shown(whole: SharedFrame): SharedFrame {
  const { overscan } = whole;
  if (!overscan) return whole;
  const cut = withOverscan(whole.data, whole, overscan, NO_OVERSCAN, 4);
  const data = sharedFloats(cut.length);
  data.set(cut);
  return { ...whole, ...shownOf(whole, overscan), data, overscan: undefined };
}

function smaller(whole: ReadFrame, divide: number): SharedFrame {
  const size = dividedSize(whole, divide);
  const data = sharedFloats(size.width * size.height * 4);
  const small = {
    ...size,
    data,
    hasDepth: whole.hasDepth,
    cleaned: whole.cleaned,
    overscan: whole.overscan && smallerOverscan(whole.overscan, divide),
    isHalf: false,
  };
  shrinkInto(whole, divide, small);
  return small;
}

let engine: NodeEngine | null = null;

/** Codes as they are in the file, or working light through a look's view. */
async function rendered({ file, look, tables, frame }: Task["rendered"]): Promise<Done["rendered"]> {
  const image = await loadPlace(file);
  const { width, height } = image;
  if (!look) return { width, height, codes: new Uint8Array(quantise(normalised(image.pixels), "8")) };
  const { frame: light } = decodeImage(image, encodingByName("linear-ap1"));
  const cabinet = glassOf([], tables);
  engine ??= startEngine(1);
  const request = { width, height, frame, sourceKey: `${file.path} ${file.choice.frame ?? 0}` };
  const plan = compile({ ...look, elements: [] }, cabinet, request, { kind: "display" });
  return { width, height, codes: engine.engine.run(plan, () => light.data).slice() };
}

/** A table, measured over the frame made smaller: its colours are what counts. */
async function table({ file, encoding, input, look, profiles, tables, wanted }: Task["table"]): Promise<Done["table"]> {
  const whole = shown(await wholeOf(file, encoding, "light"));
  const small = dividedBy(whole, Math.max(1, Math.ceil(whole.width / MEASURED_WIDTH)));
  const cabinet = glassOf(profiles, tables);
  engine ??= startEngine(1);
  return exportTable(engine.engine, look, cabinet, { ...wanted, input: encodingOf(input) }, small);
}
/** px */
const MEASURED_WIDTH = 960;

const perform: { [K in Kind]: (task: Task[K]) => Promise<Done[K]> } = {
  async frame({ file, encoding, plane, divide, overscan, whole: before }) {
    if (!before && divide > 1) {
      const read = await readFrame(file, encoding, plane);
      const isCut = read.overscan !== undefined && !overscan;
      if (read.data.length > LARGE_SAMPLES && !isCut) {
        const small = smaller(read, divide);
        const { hasDepth, cleaned, overscan: around } = small;
        return { sent: { samples: packSamples(small, false), hasDepth, cleaned, overscan: around } };
      }
      before = shared(read);
    }
    const whole = before ?? (await wholeOf(file, encoding, plane));
    const frame = dividedBy(overscan ? whole : shown(whole), divide);
    const samples = frame.codes ?? packSamples(frame, frame.isHalf);
    return { whole, sent: { samples, hasDepth: whole.hasDepth, cleaned: whole.cleaned, overscan: frame.overscan } };
  },
  async thumbnail({ file, encoding, width, whole: before }) {
    const whole = shown(before ?? (await wholeOf(file, encoding, "light")));
    const small = dividedBy(whole, Math.max(1, Math.floor(whole.width / width)));
    return jpegOf(small, encodingOf(encoding).family === "display");
  },
  async check({ path, name }) {
    const { size } = await stat(path);
    const image = await loadPlace({ path, choice: {}, black: false }).catch((error: unknown) => {
      throw error instanceof FileError ? new FileError(name, error.reason) : error;
    });
    const { width, height, depth, channels, parts, framesPerSecond, timeCode, pixelAspect, frames = 1 } = image.info;
    const names = parts?.map((part) => part.name);
    const format = describedFormat(name)!.name + (image.info.coding ? `, ${image.info.coding}` : "");
    const about = { width, height, depth, channels, parts: names, frames, bytes: size };
    return { ...about, framesPerSecond, timeCode, pixelAspect, format, ...guessEncoding(image) };
  },
  async transform({ table }) {
    const transform = transformOf(table);
    const json = new TextEncoder().encode(JSON.stringify(toPlain(transform)));
    return { name: transform.name, json };
  },
  corrections: ({ file, text }) => Promise.resolve(readCdl(file, text)),
  ramp: ({ encoding }) => Promise.resolve(greyRamp(encodingOf(encoding))),
  rendered,
  table,
};

/** What an order takes in memory beside the frame it reads, about, bytes. */
const OTHER_BYTES = 8 * 2 ** 20;

/** What an order is about, for messages. */
function fileOf({ task }: Order): string {
  if ("path" in task) return task.path;
  if ("table" in task) return task.table.file;
  if ("file" in task) return typeof task.file === "string" ? task.file : task.file.path;
  return task.encoding.revision;
}

function answerTo(error: unknown, order: Order): Answer {
  if (error instanceof FileError) return { failed: { file: error.file, reason: error.reason } };
  const path = fileOf(order);
  if (error instanceof RangeError)
    return { failed: { file: basename(path), reason: "takes more memory than there is" } };
  return { broken: `${basename(path)}: ${(error as Error).stack ?? String(error)}` };
}

parentPort!.on("message", async (order: Order) => {
  let answer: Answer;
  try {
    answer = { done: await perform[order.kind](order.task as never) };
  } catch (error) {
    answer = answerTo(error, order);
  }
  parentPort!.postMessage(answer);
  sinceCollected += OTHER_BYTES;
  if (sinceCollected < COLLECT_EVERY) return;
  collect();
  sinceCollected = 0;
});
