import { parentPort, workerData } from "node:worker_threads";
import { availableParallelism } from "node:os";
import { findEncoding, type OwnEncoding } from "../../core/colour/own-encoding";
import type { EncodingName } from "../../core/colour/encodings";
import type { Depth } from "../../core/image/image";
import type { Look } from "../../core/look/look";
import { cabinetOf, type Profile } from "../../core/profile/profiles";
import { clipped, countOf, firstOf, lastOf, type Ranges } from "../../core/frame/ranges";
import type { Choice } from "../../formats/format";
import { encodingsFrom, readTable } from "../encodings/own-encoding";
import { startEngine } from "../engine/engine";
import { closeMovies } from "../footage/movies/movie";
import { parseStored } from "../footage/sequence";
import { type GapPolicy, loadFrame, type Source } from "../footage/source";
import type { EncodingText, LayerPolicy, RecipeTexts, RenderJob } from "./job";
import { lossesOfJob } from "./losses";
import { oneFileSink } from "./movie-file";
import { framesSink, withRoom } from "./output";
import { readingFor, renderFrames } from "./render";
import { soundOf } from "./sound";

/** A render in a thread of its own: what it is told, and what it tells. */
export interface RenderOrder {
  look: Look;
  profiles: Profile[];
  plates: { name: string; source: Source; frames: Ranges; choice: Choice; gaps: GapPolicy; encoding: string }[];
  encodings: OwnEncoding[];
  tables: { id: string; file: string; text: string }[];
  frames: Ranges;
  source: Source;
  /** The shot's frames, from its in to its out. */
  shot: Ranges;
  choice: Choice;
  gaps: GapPolicy;
  output: string;
  encoding: string;
  outEncoding: string | null;
  depth: Depth;
  compression?: string;
  framesPerSecond: number;
  /** As of a job. */
  layers?: LayerPolicy;
  overscan?: number;
}
export interface RenderReport {
  done: number;
  /** The first of them; there may be as many as frames. */
  failed: { frame: number; reason: string }[];
  framesPerSecond: number;
  /** What of the footage's files does not go on, in words. */
  losses: string[];
  ended: boolean;
}

/** Failures told by frame. */
const MAX_FAILURES_TOLD = 200;

const order = workerData as RenderOrder;
const target = parseStored(order.output);
const start = performance.now();
let stopped = false;
let done = 0;
let computed = 0;
const failed: RenderReport["failed"] = [];
parentPort!.on("message", () => (stopped = true));

let losses: string[] = [];

const report = (ended: boolean) =>
  parentPort!.postMessage({
    done,
    failed,
    framesPerSecond: computed / ((performance.now() - start) / 1000),
    losses,
    ended,
  } satisfies RenderReport);

const made = encodingsFrom(order.encodings);
const encodingNamed = (name: string) => {
  const found = findEncoding(name, made);
  if (!found) throw new Error(`There is no encoding “${name}”`);
  return found;
};
/** An encoding as a recipe says it: by its name, or one of the user's own, whole. */
const textOf = (name: string): EncodingText =>
  order.encodings.find(({ id }) => id === name) ?? (encodingNamed(name).name as EncodingName);
const texts: RecipeTexts = {
  inEncoding: textOf(order.encoding),
  outEncoding: order.outEncoding ? textOf(order.outEncoding) : null,
  tables: order.tables,
  plateEncodings: new Map(order.plates.map(({ name, encoding }) => [name, textOf(encoding)])),
};
/** By the first frame that is there; a frame that cannot be read is told of when it is made. */
async function lossesOf(job: RenderJob): Promise<string[]> {
  const there = clipped(job.source.frames, firstOf(job.frames), lastOf(job.frames));
  if (!countOf(there)) return [];
  const sample = await loadFrame(job.source, firstOf(there), readingFor(job)).catch(() => null);
  return sample ? lossesOfJob(job, sample) : [];
}

const { engine, close } = startEngine(availableParallelism());
const job: RenderJob = {
  look: order.look,
  cabinet: cabinetOf(
    order.profiles,
    order.tables.map(({ id, file, text }) => [id, readTable(file, text)] as const),
  ),
  plates: new Map(
    order.plates.map(({ name, encoding, ...plate }) => [name, { ...plate, encoding: encodingNamed(encoding) }]),
  ),
  source: order.source,
  shot: order.shot,
  choice: order.choice,
  gaps: order.gaps,
  layers: order.layers ?? "warp",
  overscan: order.overscan ?? 0,
  frames: order.frames,
  output: target,
  inEncoding: encodingNamed(order.encoding),
  outEncoding: order.outEncoding ? encodingNamed(order.outEncoding) : null,
  depth: order.depth,
  compression: order.compression,
  framesPerSecond: order.framesPerSecond,
  scale: 1,
  resume: target.digits > 0,
  texts,
  sink: withRoom(
    target.digits > 0 ? framesSink(order.frames) : oneFileSink(order.output, soundOf(order.source, order.frames)),
    target.folder,
  ),
};
losses = await lossesOf(job);
await renderFrames(engine, job, {
  done(_, skipped) {
    done++;
    if (!skipped) computed++;
    report(false);
  },
  failed(frame, reason) {
    if (failed.length < MAX_FAILURES_TOLD) failed.push({ frame, reason });
    report(false);
  },
  // Messages (a cancel) are only heard when this thread pauses.
  stopped: () => new Promise<boolean>((resolve) => setImmediate(() => resolve(stopped))),
});
close();
closeMovies();
report(!stopped);
parentPort!.close();
