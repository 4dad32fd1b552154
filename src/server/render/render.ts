import { lookAt } from "../../core/look/at-frame";
import { definitionOf } from "../../core/elements/registry";
import { DEFAULT_RATE, type ShotFrame } from "../../core/frame/context";
import { firstOf, framesIn, lastOf } from "../../core/frame/ranges";
import { type Cleaned, cleaned } from "../../core/image/clean";
import { decodeImage } from "../../core/image/decode";
import { cropped, encodeFrame, normalised } from "../../core/image/image";
import { NO_OVERSCAN, shownOf } from "../../core/image/overscan";
import type { Output } from "../../core/compile/outputs/outputs";
import { actsOn } from "../../core/compile/taking";
import type { Engine } from "../../core/engine/engine";
import { DISPLAY_ENCODING } from "../../core/view/view";
import { type Decoded, type Picture, RECIPE_TERMS_FIELD } from "../../formats/format";
import { describedFormat } from "../../formats/formats";
import { textCarried } from "../../formats/losses";
import { fileAt, standIn } from "../footage/source";
import { fileOf } from "../footage/sequence";
import { isDiskFull } from "../storage/files";
import type { ReadFiles } from "../../store/schema/schema";
import { collect } from "../engine/collect";
import { LARGE, type RenderJob } from "./job";
import { openLedger } from "./ledger";
import { depthLike, lightOf } from "./light";
import { layersLike } from "./layers";
import { withWindows } from "./windows";
import { frameSink, isLinearFile, type Sink, type Written } from "./output";
import { frameReader, type FrameRead } from "./reading";
import { type FrameInput, recipes } from "./recipe";
import { readFiles, termsInFrames, writeRecipe } from "./recipe-file";
import { burnIn, takesSlate } from "./slate";
import { keepSound, soundFile, soundOf } from "./sound";

/** A frame that is there. */
export interface FrameMade {
  /** It was there before. */
  skipped: boolean;
  path: string;
  recipe: string;
  /** Null where it was there before, and where all frames lie in one file. */
  written: Written | null;
}

export interface RenderEvents {
  done(number: number, made: FrameMade): void | Promise<void>;
  failed(number: number, reason: string): void | Promise<void>;
  /** What of a frame's samples was no number, or had no end. */
  cleaned?(number: number, found: Cleaned): void;
  stopped?(): boolean | Promise<boolean>;
}

/**
 * Whether a frame's code values are passed on as they are: nothing acts on it, and what is written is encoded as what
 * was read, or is shown by the plain view of the display it was made for.
 */
export function passesCodesOn(
  { look, cabinet, inEncoding, outEncoding, scale }: RenderJob,
  output: string,
  at: ShotFrame,
): boolean {
  if (scale !== 1 || inEncoding.table || actsOn(look, lookAt(look, cabinet, at))) return false;
  if (outEncoding) return outEncoding === inEncoding;
  if (isLinearFile(output)) return inEncoding.name === "linear-ap1";
  return look.view.kind === "plain" && DISPLAY_ENCODING[look.view.display] === inEncoding.name;
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
  const { overscan } = image;
  const { scale } = job;
  const at: ShotFrame = {
    ...shownOf(image, overscan ?? NO_OVERSCAN),
    overscan,
    frame: number,
    hasDepth: image.z !== undefined,
    frameRate: job.framesPerSecond ?? image.info.framesPerSecond,
    shot: { first: firstOf(job.shot), last: lastOf(job.shot) },
  };
  const hasAlpha = image.alpha !== undefined;
  const { alpha } = describedFormat(output)!;
  const keepsAlpha = !hasAlpha || alpha === image.alpha;
  const keepsOverscan = Boolean(job.overscan && overscan && scale === 1 && isLinearFile(output));
  if (keepsAlpha && passesCodesOn(job, output, at)) {
    const { width, height, pixels, z } = keepsOverscan ? image : cropped(image);
    const data = normalised(pixels);
    told(cleaned(data));
    const layers = await layersLike(engine, job, image, at, keepsOverscan, key);
    return { width, height, data, z, layers, ...(hasAlpha ? { hasAlpha } : {}) };
  }
  const { frame: full, cleaned: found } = decodeImage(image, job.inEncoding);
  told(found);
  const own = alpha === "unassociated" ? alpha : "associated";
  const kind: Output = isLinearFile(output) || job.outEncoding ? { kind: "light" } : { kind: "codes", alpha: own };
  const isExr = isLinearFile(output);
  const z = isExr ? await depthLike(engine, job, image, at, keepsOverscan, key) : undefined;
  try {
    const layers = isExr ? await layersLike(engine, job, image, at, keepsOverscan, key) : [];
    const made = await lightOf(engine, job, image, at, { frame: full, output: kind, keepsOverscan }, key);
    const light = job.outEncoding ? encodeFrame(made, job.outEncoding, own) : { ...made, data: engine.keep() };
    return { ...light, z, layers, ...(hasAlpha ? { hasAlpha } : {}) };
  } catch (error) {
    if (z) engine.release(z);
    throw error;
  }
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
  return { number, path: fileAt(source.pattern, number ?? firstOf(source.frames)).path };
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

/** A recipe longer than this stands beside the frames alone, and not in each of them, too (characters). */
const MAX_TERMS_INSIDE = 256 * 1024;

/** Why a frame failed, in words for the person who waits for it. */
const reasonOf = (error: unknown) =>
  isDiskFull(error) ? "the disk is full; make room and queue it again" : (error as Error).message;

/** Ends a render whose frames are all made: its file is there, or its sound is beside them. Gives whether that is so. */
async function ended(
  sink: Sink,
  { source, frames, portion, output }: RenderJob,
  events: RenderEvents,
): Promise<boolean> {
  try {
    await sink.end();
    const sound = sink.ledger && !portion ? soundOf(source, frames) : null;
    if (sound) await keepSound(sound, soundFile(output));
    return true;
  } catch (error) {
    await events.failed(0, reasonOf(error));
    return false;
  }
}

/**
 * Renders frames in order. One that fails is reported and the rest go on; what is finished stays. One file for all
 * frames is there only if all of them are in it. Gives whether that is so, and what was read.
 */
export async function renderFrames(
  engine: Engine,
  job: RenderJob,
  events: RenderEvents,
): Promise<{ isWhole: boolean; read: ReadFiles }> {
  const { sink = frameSink } = job;
  const reader = frameReader(engine, job);
  const display = job.outEncoding ? undefined : job.look.view.display;
  const { recipeOf, contents } = await recipes(job);
  const terms = job.texts ? termsInFrames(job, job.texts) : "";
  const termsInside: Record<string, string> =
    terms && terms.length <= MAX_TERMS_INSIDE ? { [RECIPE_TERMS_FIELD]: terms } : {};
  const ledger = sink.ledger ? (job.ledger ?? (await openLedger(job.output.folder))) : null;
  let isWhole = true;
  let writing: Promise<void> = Promise.resolve();
  const failed = async (number: number, error: unknown) => {
    isWhole = false;
    await events.failed(number, reasonOf(error));
  };
  /** Computes a frame and begins to write it; gives its pixels. */
  const begin = async (
    { image, release }: FrameRead,
    number: number,
    next: number | undefined,
    output: string,
    path: string,
    recipe: string,
  ): Promise<number> => {
    const whole = await computed(engine, job, image, number, output, `${path} ${number} ${recipe}`, (found) =>
      events.cleaned?.(number, found),
    );
    const { picture, windows } = withWindows(job, image, whole);
    if (job.slate && takesSlate(output, job.outEncoding))
      await burnIn(picture, job.slate, {
        frame: number,
        timeCode: image.info.timeCode,
        framesPerSecond: job.framesPerSecond ?? image.info.framesPerSecond ?? DEFAULT_RATE,
        pixelAspect: image.info.pixelAspect,
      });
    // The next frame is read while this one is packed and written.
    if (next !== undefined) reader.prefetch(next);
    await writing;
    const { framesPerSecond, timeCode, reel, lens, pixelAspect, attributes, parts, chosen, dpxHeader, text, notes } =
      image.info;
    const about = {
      framesPerSecond: job.framesPerSecond ?? framesPerSecond,
      timeCode,
      reel,
      lens,
      pixelAspect,
      attributes,
      parts,
      chosen,
      dpxHeader,
      windows,
      notes,
      text: { ...textCarried(path, output, text), ...(isLinearFile(output) ? termsInside : {}) },
    };
    const options = { depth: job.depth, compression: job.compression, encoding: job.outEncoding, display, recipe };
    writing = sink
      .write(output, picture, { ...about, ...options })
      .then(async (written) => {
        if (written) await ledger?.add(output, recipe, written);
        await events.done(number, { skipped: false, path: output, recipe, written });
      })
      .catch((error: unknown) => failed(number, error))
      .finally(() => {
        // A frame that nothing acts on goes out as it was read.
        release();
        for (const own of [whole.data, whole.z]) if (own) engine.release(own);
      });
    return picture.width * picture.height;
  };
  /** A function of its own, so that what it held can be collected when it returns. */
  const made = async (number: number, next: number | undefined, output: string, path: string, recipe: string) => {
    const frame = await reader.read(number);
    try {
      return await begin(frame, number, next, output, path, recipe);
    } catch (error) {
      frame.release();
      throw error;
    }
  };
  for (const { number, next } of withNext(framesIn(job.portion ?? job.frames))) {
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
        await events.done(number, { skipped: true, path: output, recipe, written: null });
        continue;
      }
      const pixels = await made(number, next, output, path, recipe);
      // Packing goes on beside the next frame's computing; of large ones there is one at a time.
      if (pixels > LARGE) {
        await writing;
        collect();
      }
    } catch (error) {
      await failed(number, error);
    }
  }
  await writing;
  await reader.end();
  if (isWhole) isWhole = await ended(sink, job, events);
  else await sink.abandon();
  const read = readFiles(job, await contents());
  const standsAlone = sink.ledger ? !job.portion : isWhole;
  if (job.texts && standsAlone) await writeRecipe(job, job.texts, read);
  return { isWhole, read };
}
