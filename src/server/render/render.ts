import { firstOf, framesIn, lastOf } from "../../core/frame/ranges";
import { encodingByName } from "../../core/colour/encodings";
import { compile } from "../../core/compile/compile";
import type { Engine } from "../../core/engine/engine";
import { type Plan, type SourceRequest } from "../../core/engine/plan";
import { resizeFrame } from "../../core/engine/resize";
import { middleOfShape, plateFrame, OWN_ENCODING } from "../../core/frame/plate";
import { type Cleaned, cleaned } from "../../core/image/clean";
import { decodeImage } from "../../core/image/decode";
import type { Output } from "../../core/compile/outputs/outputs";
import { formatOf } from "../../formats/formats";
import { depthFrame, FARTHEST, encodeFrame, floatsOf, normalised, type Frame } from "../../core/image/image";
import { definitionOf } from "../../core/elements/registry";
import { lookAt } from "../../core/look/at-frame";
import type { Look } from "../../core/look/look";
import { movedOnly } from "../../core/look/moved";
import type { ShotFrame } from "../../core/frame/context";
import { DISPLAY_ENCODING } from "../../core/view/view";
import type { Decoded, Picture } from "../../formats/format";
import { loadFrame, placeOf, standIn } from "../shots/source";
import { fileOf } from "../shots/sequence";
import { isDiskFull } from "../storage/files";
import { collect } from "./collect";
import type { RenderJob } from "./job";
import { openLedger } from "./ledger";
import { frameSink, isLinearFile } from "./output";
import { type FrameInput, recipes } from "./recipe";

export interface RenderEvents {
  done(number: number, skipped: boolean): void | Promise<void>;
  failed(number: number, reason: string): void | Promise<void>;
  /** What of a frame's samples was no number, or had no end. */
  cleaned?(number: number, found: Cleaned): void;
  stopped?(): boolean | Promise<boolean>;
}

/**
 * Whether a frame's code values are passed on as they are: nothing acts on it, and what is written is encoded as what was read,
 * or is shown by the plain view of the display it was made for.
 */
export function passesCodesOn(
  { look, cabinet, inEncoding, outEncoding, scale }: RenderJob,
  output: string,
  at: ShotFrame,
): boolean {
  if (scale !== 1 || inEncoding.table || lookAt(look, cabinet, at).elements.some(({ isActive }) => isActive))
    return false;
  if (outEncoding) return outEncoding === inEncoding;
  if (isLinearFile(output)) return inEncoding.name === "linear-ap1";
  return look.view.kind === "plain" && DISPLAY_ENCODING[look.view.display] === inEncoding.name;
}

/** Frames of more pixels than this are computed one at a time. */
const LARGE = 4 * 2 ** 20;

async function plateLight(
  { plates }: RenderJob,
  { footage, encoding, ends, index }: Extract<SourceRequest, { kind: "plate" }>,
): Promise<Frame> {
  const plate = plates?.get(footage);
  if (!plate) throw new Error(`The plate “${footage}” is not there`);
  const image = await loadFrame(
    plate.source,
    plateFrame(plate.frames, index, ends),
    plate.choice,
    plate.gaps ?? "hold",
  );
  return decodeImage(image, encoding === OWN_ENCODING ? plate.encoding : encodingByName(encoding)).frame;
}

/** Further pixels a plan asks for, at the plan's size. */
async function furtherPixels(
  engine: Engine,
  job: RenderJob,
  plan: Plan,
  image: Decoded,
  own: { at: ShotFrame; frame: Frame },
  key: string,
): Promise<Map<SourceRequest, Float32Array>> {
  const { width, height } = plan;
  const found = new Map<SourceRequest, Float32Array>();
  for (const { request } of plan.extras) {
    let frame: Frame;
    if (request.kind === "frame" && request.number === own.at.frame) frame = own.frame;
    else if (request.kind === "depth") frame = depthFrame(image);
    else if (request.kind === "plate") frame = middleOfShape(await plateLight(job, request), width, height);
    else {
      const number = request.kind === "frame" ? request.number : (request.frame ?? own.at.frame);
      const other = await loadFrame(job.source, number, job.choice, job.gaps ?? "refuse");
      frame = decodeImage(other, job.inEncoding).frame;
      if (request.kind === "look") {
        const at = { ...own.at, frame: number, hasDepth: other.z !== undefined };
        const path = { ...job, look: request.look as Look };
        frame = await lightOf(engine, path, other, at, { frame, output: { kind: "light" } }, `${key} frame ${number}`);
      }
    }
    const sized = resizeFrame(engine, frame, width, height, `${key} ${JSON.stringify(request)}`);
    // What a look made may still lie in the engine's memory, where the next run would write over it.
    found.set(request, request.kind === "look" ? sized.data.slice() : sized.data);
  }
  return found;
}

/** A decoded frame through a job's look, at the job's scale: light, or a display's code values. */
async function lightOf(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  at: ShotFrame,
  { frame: full, output }: { frame: Frame; output: Output },
  key: string,
): Promise<Frame> {
  const width = Math.max(1, Math.round(full.width * job.scale));
  const height = Math.max(1, Math.round(full.height * job.scale));
  const frame = resizeFrame(engine, full, width, height, key);
  const plan = compile(job.look, job.cabinet, { ...at, width, height, sourceKey: key }, output);
  const further = await furtherPixels(engine, job, plan, image, { at, frame }, key);
  const bytes = engine.run(plan, (wanted) => (wanted ? further.get(wanted)! : frame.data));
  const made = floatsOf(bytes);
  // A large frame is written before the engine computes again, so it may stay where it was made.
  return { width, height, data: width * height > LARGE ? made : made.slice() };
}

/**
 * A frame's depth as the picture is: moved by what moves the picture, and of its size. It is the distance's inverse that is
 * filtered, which is nothing far away: between near and far lies something between them. Green stays where lateral colour moves the
 * others, and so does depth.
 */
async function depthLike(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  at: ShotFrame,
  key: string,
): Promise<Float32Array | undefined> {
  if (!image.z) return undefined;
  const look = movedOnly(job.look, lookAt(job.look, job.cabinet, at));
  const moves = lookAt(look, job.cabinet, at).elements.some(({ isActive }) => isActive);
  if (!moves && job.scale === 1) return image.z;
  const frame = depthFrame(image);
  for (let i = 0; i < frame.data.length; i++) frame.data[i] = i % 4 === 3 ? 1 : 1 / frame.data[i]!;
  const { data } = await lightOf(
    engine,
    { ...job, look },
    image,
    at,
    { frame, output: { kind: "light" } },
    `${key} depth`,
  );
  return Float32Array.from({ length: data.length / 4 }, (_, i) => 1 / Math.max(data[4 * i + 1]!, 1 / FARTHEST));
}

async function computed(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  number: number,
  output: string,
  key: string,
  told: (found: Cleaned) => void,
): Promise<Picture> {
  const at: ShotFrame = {
    width: image.width,
    height: image.height,
    frame: number,
    hasDepth: image.z !== undefined,
    frameRate: job.framesPerSecond ?? image.info.framesPerSecond,
    shot: { first: firstOf(job.shot), last: lastOf(job.shot) },
  };
  const hasAlpha = image.alpha !== undefined;
  const { alpha } = formatOf(output)!;
  const keepsAlpha = !hasAlpha || alpha === image.alpha;
  if (keepsAlpha && passesCodesOn(job, output, at)) {
    const data = normalised(image.pixels);
    told(cleaned(data));
    return { width: image.width, height: image.height, data, z: image.z, ...(hasAlpha ? { hasAlpha } : {}) };
  }
  const { frame: full, cleaned: found } = decodeImage(image, job.inEncoding);
  told(found);
  const own = alpha === "unassociated" ? alpha : "associated";
  const kind: Output = isLinearFile(output) || job.outEncoding ? { kind: "light" } : { kind: "codes", alpha: own };
  // Before the light, which may stay in the engine's memory.
  const z = formatOf(output)!.name === "OpenEXR" ? await depthLike(engine, job, image, at, key) : undefined;
  const light = await lightOf(engine, job, image, at, { frame: full, output: kind }, key);
  return {
    ...(job.outEncoding ? encodeFrame(light, job.outEncoding, own) : light),
    z,
    ...(hasAlpha ? { hasAlpha } : {}),
  };
}

/** Numbers with the one that comes next. */
function* withNext(numbers: Iterable<number>): Generator<{ number: number; next: number | undefined }> {
  let before: number | undefined;
  for (const number of numbers) {
    if (before !== undefined) yield { number: before, next: number };
    before = number;
  }
  if (before !== undefined) yield { number: before, next: undefined };
}

/** The frame that is read for another under the job's policy for gaps, and its file. */
function inputFor({ source, gaps = "refuse" }: RenderJob, frame: number): FrameInput {
  const number = standIn(source, frame, gaps);
  return { number, path: placeOf(source.pattern, number ?? firstOf(source.frames)).path };
}

/** Other frames of the shot that the look takes for one. */
function framesBeside({ look, cabinet, shot }: RenderJob, frame: number): number[] {
  const at = { width: 1, height: 1, frame, shot: { first: firstOf(shot), last: lastOf(shot) } };
  const { elements, context } = lookAt(look, cabinet, at);
  const read = elements.flatMap(({ state, isActive }) =>
    isActive ? (definitionOf(state.kind).framesBeside?.(state, context) ?? []) : [],
  );
  return [...new Set(read)].filter((number) => number !== frame).sort((a, b) => a - b);
}

/** Why a frame failed, in words for the person who waits for it. */
const reasonOf = (error: unknown) =>
  isDiskFull(error) ? "the disk is full; make room and queue it again" : (error as Error).message;

/**
 * Renders frames in order. One that fails is reported and the rest go on; what is finished stays. One file for all frames is there
 * only if all of them are in it. Gives whether that is so.
 */
export async function renderFrames(engine: Engine, job: RenderJob, events: RenderEvents): Promise<boolean> {
  const { source, choice, gaps = "refuse", sink = frameSink } = job;
  const load = (number: number) => loadFrame(source, number, choice, gaps);
  const display = job.outEncoding ? undefined : job.look.view.display;
  const recipeOf = await recipes(job);
  const ledger = sink.ledger ? await openLedger(job.output.folder) : null;
  let isWhole = true;
  let ahead: { number: number; image: Promise<Decoded> } | null = null;
  let writing: Promise<void> = Promise.resolve();
  const failed = async (number: number, error: unknown) => {
    isWhole = false;
    await events.failed(number, reasonOf(error));
  };
  /** Computes a frame and begins to write it. A function of its own, so that what it held can be collected when it returns. */
  const begin = async (
    number: number,
    next: number | undefined,
    output: string,
    path: string,
    recipe: string,
  ): Promise<number> => {
    const image = await (ahead?.number === number ? ahead.image : load(number));
    ahead = null;
    const picture = await computed(engine, job, image, number, output, `${path} ${number} ${recipe}`, (found) =>
      events.cleaned?.(number, found),
    );
    // The next frame is read while this one is packed and written, unless both would be large.
    if (next !== undefined && picture.width * picture.height <= LARGE) {
      ahead = { number: next, image: load(next) };
      ahead.image.catch(() => {}); // it is awaited, and reported, in its turn
    }
    await writing;
    const { framesPerSecond, timeCode, lens, text } = image.info;
    const about = {
      framesPerSecond: job.framesPerSecond ?? framesPerSecond,
      timeCode,
      lens,
      text: isLinearFile(path) ? text : {},
    };
    const options = { depth: job.depth, compression: job.compression, encoding: job.outEncoding, display, recipe };
    writing = sink
      .write(output, picture, { ...about, ...options })
      .then((bytes) => ledger?.add(output, recipe, bytes))
      .then(() => events.done(number, false))
      .catch((error: unknown) => failed(number, error));
    return picture.width * picture.height;
  };
  for (const { number, next } of withNext(framesIn(job.frames))) {
    if (await events.stopped?.()) {
      isWhole = false;
      break;
    }
    try {
      const output = fileOf(job.output, number);
      const { path } = inputFor(job, number);
      const recipe = await recipeOf(
        number,
        [number, ...framesBeside(job, number)].map((read) => inputFor(job, read)),
      );
      if (job.resume && (await ledger?.holds(output, recipe))) {
        await events.done(number, true);
        continue;
      }
      const pixels = await begin(number, next, output, path, recipe);
      // Packing goes on beside the next frame's computing; large frames wait for it, for the memory they take.
      if (pixels > LARGE) {
        await writing;
        collect();
      }
    } catch (error) {
      await failed(number, error);
    }
  }
  await writing;
  if (isWhole) await sink.end();
  else await sink.abandon();
  return isWhole;
}
