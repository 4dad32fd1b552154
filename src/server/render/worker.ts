import { parentPort, workerData } from "node:worker_threads";
import { availableParallelism } from "node:os";
import { basename } from "node:path";
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
import type { ReadFiles } from "../../store/schema/schema";
import type { EncodingText, LayerPolicy, RecipeTexts, RenderJob } from "./job";
import type { Beside } from "../../contract/renders";
import { writeBesides } from "./besides";
import { ledgerOf } from "./ledger";
import { lossesOfJob } from "./losses";
import { oneFileSink } from "./movie-file";
import { framesSink, withRoom } from "./output";
import type { FromThread, ToThread } from "./protocol";
import { writeRecipe } from "./recipe-file";
import { readingFor } from "./reading";
import { renderFrames } from "./render";
import { keepSound, soundFile, soundOf } from "./sound";

/** A render in a thread of its own, which makes one portion of its frames after another. */
export interface RenderOrder {
  look: Look;
  profiles: Profile[];
  plates: { name: string; source: Source; frames: Ranges; choice: Choice; gaps: GapPolicy; encoding: string }[];
  encodings: OwnEncoding[];
  tables: { id: string; file: string; text: string }[];
  /** All frames of the render. */
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
  slate?: string;
  besides?: Beside[];
}

const order = workerData as RenderOrder;
const target = parseStored(order.output);
const say = (said: FromThread) => parentPort!.postMessage(said);

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
  slate: order.slate,
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
};

/** By the first frame that is there; a frame that cannot be read is told of when it is made. */
async function losses(): Promise<string[]> {
  const there = clipped(job.source.frames, firstOf(job.frames), lastOf(job.frames));
  if (!countOf(there)) return [];
  const sample = await loadFrame(job.source, firstOf(there), readingFor(job)).catch(() => null);
  return sample ? lossesOfJob(job, sample) : [];
}

const { engine, close } = startEngine(availableParallelism());
let computed = 0;
let firstAt = 0;

/**
 * Frames a second, without the first and what it waits for: kernels, tables, plates. 0 until there are two: one says
 * nothing of how fast the others will be.
 */
const speed = (): number => (computed > 1 ? ((computed - 1) / (performance.now() - firstAt)) * 1000 : 0);

let isStopped = false;

async function make({ frames, made }: Extract<ToThread, { kind: "make" }>): Promise<ReadFiles | null> {
  const sink = target.digits > 0 ? framesSink(frames) : oneFileSink(order.output, soundOf(order.source, order.frames));
  const result = (frame: number, rest: Partial<Extract<FromThread, { kind: "frame" }>["result"]>) =>
    say({
      kind: "frame",
      result: { frame, file: null, recipe: null, bytes: null, sha256: null, reason: null, ...rest },
      framesPerSecond: speed(),
    });
  const { read } = await renderFrames(
    engine,
    { ...job, portion: frames, ledger: ledgerOf(made), sink: withRoom(sink, target.folder) },
    {
      done(frame, { skipped, path, recipe, written }) {
        if (skipped) return say({ kind: "skipped", frame });
        if (++computed === 1) firstAt = performance.now();
        const file = written ? { file: basename(path), recipe, bytes: written.size, sha256: written.sha256 } : {};
        result(frame, file);
      },
      failed: (frame, reason) => result(frame, { reason }),
      // Messages are only heard when this thread pauses.
      stopped: () => new Promise<boolean>((resolve) => setImmediate(() => resolve(isStopped))),
    },
  );
  return read;
}

/** Writes what stands beside the frames. */
async function closeRender(read: ReadFiles): Promise<void> {
  await writeBesides(engine, job, order.besides ?? []);
  // One file for all has its sound, and its recipe, already.
  if (!target.digits) return;
  const sound = soundOf(job.source, job.frames);
  if (sound) await keepSound(sound, soundFile(target));
  await writeRecipe(job, texts, read);
}

/** What was asked last; one thing is done after another. */
let turn: Promise<unknown> = losses().then((found) => say({ kind: "losses", losses: found }));
const inTurn = (work: () => Promise<ReadFiles | null>) => {
  isStopped = false;
  turn = turn.then(work).then((read) => say({ kind: "ended", read }));
};
parentPort!.on("message", (told: ToThread) => {
  if (told.kind === "make") inTurn(() => make(told));
  if (told.kind === "close") inTurn(() => closeRender(told.read).then(() => null));
  if (told.kind === "stop") isStopped = true;
  if (told.kind !== "end") return;
  void turn.finally(() => {
    close();
    closeMovies();
    parentPort!.close();
  });
});
