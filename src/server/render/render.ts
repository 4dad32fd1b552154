import { createHash } from "node:crypto";
import { existsSync, readFileSync, statSync } from "node:fs";
import { type Encoding, encodingByName } from "../../core/colour/encodings";
import { acts, compile } from "../../core/engine/compile";
import type { Engine, Frame } from "../../core/engine/engine";
import { OWN_ENCODING, type Plan, type SourceRequest } from "../../core/engine/plan";
import { resizeFrame } from "../../core/engine/resize";
import { middleOfShape, plateFrame } from "../../core/image/plate";
import { decodeImage, depthFrame, encodeFrame, normalised, type Depth } from "../../core/image/image";
import { filterOf } from "../../core/look/glass";
import type { Look, LookElement } from "../../core/look/look";
import type { Cabinet } from "../../core/profile/profiles";
import { DISPLAY_ENCODING } from "../../core/view/view";
import type { Choice, Decoded, Picture } from "../../formats/format";
import { type GapPolicy, loadFrame, placeOf, type Source, standIn } from "../footage/source";
import { collect } from "./collect";
import { frameSink, isLinearFile, type Sink } from "./output";

/** Raised when a change of the computation changes pixels, so that frames made before are made again. */
const ENGINE_VERSION = 6;

/** Footage that may be laid over a shot. */
export interface PlateFootage {
  source: Source;
  choice?: Choice;
  gaps?: GapPolicy;
  encoding: Encoding;
}

export interface RenderJob {
  look: Look;
  /** By the names looks know them under. */
  plates?: ReadonlyMap<string, PlateFootage>;
  cabinet: Cabinet;
  source: Source;
  choice?: Choice;
  gaps?: GapPolicy;
  frames: { number: number; output: string }[];
  inEncoding: Encoding;
  /** Null: the look's view, or working light in EXR. */
  outEncoding: Encoding | null;
  depth: Depth;
  compression?: string;
  framesPerSecond?: number;
  /** Size of the output over that of the input. */
  scale: number;
  resume: boolean;
  sink?: Sink;
}

export interface RenderEvents {
  done(number: number, skipped: boolean): void | Promise<void>;
  failed(number: number, reason: string): void | Promise<void>;
  stopped?(): boolean | Promise<boolean>;
}

/** A hash of all that decides a frame's pixels beside its input. */
export function recipeOf(
  { look, cabinet, plates, inEncoding, outEncoding, depth, compression, scale, choice, gaps }: RenderJob,
  input: string,
): string {
  const filters = (look.elements as LookElement[]).map((element) => cabinet.filters.get(filterOf(element) ?? ""));
  const lens = look.lens.profile && cabinet.lenses.get(look.lens.profile);
  const { size, mtimeMs } = statSync(input);
  const { name: _, ...recipe } = look;
  const encodingParts = (encoding: Encoding | null) =>
    encoding && [
      encoding.name,
      encoding.toWorking,
      encoding.transfer.toLight(0.5),
      encoding.transfer.toLight(0.1),
      encoding.table?.steps.length,
    ];
  const laid = [...(plates ?? [])].map(([name, { source, choice, gaps, encoding }]) => [
    name,
    source.pattern,
    source.frames,
    Math.max(...source.frames.map((frame) => statSync(placeOf(source.pattern, frame).path).mtimeMs)),
    choice,
    gaps,
    encodingParts(encoding),
  ]);
  const parts = [
    ENGINE_VERSION,
    laid,
    recipe,
    lens,
    filters,
    encodingParts(inEncoding),
    encodingParts(outEncoding),
    depth,
    compression,
    scale,
    choice,
    gaps,
    size,
    mtimeMs,
  ];
  return createHash("sha256").update(JSON.stringify(parts)).digest("hex").slice(0, 32);
}

/** Whether a file is there, whole (it was renamed into place) and made by this recipe. */
export const isMadeBy = (path: string, recipe: string) => existsSync(path) && readFileSync(path).includes(recipe);

/**
 * Whether a job only hands code values on: nothing acts, and what is written is encoded as what was read, or is shown by the
 * plain view of the display it was made for. Such frames keep their code values exactly.
 */
export function handsOn({ look, inEncoding, outEncoding, scale }: RenderJob, output: string): boolean {
  if (scale !== 1 || inEncoding.table || (look.elements as LookElement[]).some(acts)) return false;
  if (outEncoding) return outEncoding === inEncoding;
  if (isLinearFile(output)) return inEncoding.name === "linear-ap1";
  return look.view.kind === "plain" && DISPLAY_ENCODING[look.view.display] === inEncoding.name;
}

/** Frames of more pixels than this are computed one at a time. */
const LARGE = 4 * 2 ** 20;

const finite = (data: Float32Array) => {
  for (let i = 0; i < data.length; i++) if (!(Math.abs(data[i]!) < Infinity)) data[i] = 0;
  return data;
};

async function plateLight(
  { plates }: RenderJob,
  { footage, encoding, ends, index }: Extract<SourceRequest, { kind: "plate" }>,
): Promise<Frame> {
  const plate = plates?.get(footage);
  if (!plate) throw new Error(`The plate “${footage}” is not there`);
  const image = await loadFrame(
    plate.source,
    plateFrame(plate.source.frames, index, ends),
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
  own: { number: number; frame: Frame },
  key: string,
): Promise<Map<SourceRequest, Float32Array>> {
  const { width, height } = plan;
  const found = new Map<SourceRequest, Float32Array>();
  for (const { request } of plan.further) {
    let frame: Frame;
    if (request.kind === "frame" && request.number === own.number) frame = own.frame;
    else if (request.kind === "depth") frame = depthFrame(image);
    else if (request.kind === "plate") frame = middleOfShape(await plateLight(job, request), width, height);
    else
      frame = decodeImage(
        await loadFrame(job.source, request.number, job.choice, job.gaps ?? "refuse"),
        job.inEncoding,
      ).frame;
    found.set(request, resizeFrame(engine, frame, width, height, `${key} ${JSON.stringify(request)}`).data);
  }
  return found;
}

async function computed(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  number: number,
  output: string,
  key: string,
): Promise<Picture> {
  if (handsOn(job, output))
    return { width: image.width, height: image.height, data: finite(normalised(image.pixels)), z: image.z };
  const { frame: full } = decodeImage(image, job.inEncoding);
  const width = Math.max(1, Math.round(full.width * job.scale));
  const height = Math.max(1, Math.round(full.height * job.scale));
  const frame = resizeFrame(engine, full, width, height, key);
  const kind = isLinearFile(output) || job.outEncoding ? "light" : "codes";
  const { frames } = job.source;
  const request = {
    width,
    height,
    frame: number,
    sourceKey: key,
    hasDepth: image.z !== undefined,
    frameRate: job.framesPerSecond ?? image.info.framesPerSecond,
    shot: { first: frames[0]!, last: frames.at(-1)! },
  };
  const plan = compile(job.look, job.cabinet, request, { kind });
  const further = await furtherPixels(engine, job, plan, image, { number, frame }, key);
  const bytes = engine.run(plan, (wanted) => (wanted ? further.get(wanted)! : frame.data));
  const made = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4);
  // A large frame is written before the engine computes again, so it may stay where it was made.
  const light = { width, height, data: width * height > LARGE ? made : made.slice() };
  return {
    ...(job.outEncoding ? encodeFrame(light, job.outEncoding) : light),
    z: width === full.width ? image.z : undefined,
  };
}

/** Renders frames in order. One that fails is reported and the rest go on; what is finished stays. */
export async function renderFrames(engine: Engine, job: RenderJob, events: RenderEvents): Promise<void> {
  const { source, choice, gaps = "refuse", sink = frameSink } = job;
  const load = (number: number) => loadFrame(source, number, choice, gaps);
  const display = job.outEncoding ? undefined : job.look.view.display;
  let ahead: { number: number; image: Promise<Decoded> } | null = null;
  let writing: Promise<void> = Promise.resolve();
  /** Computes a frame and begins to write it. A function of its own, so that what it held can be collected when it returns. */
  const begin = async (i: number, path: string, recipe: string): Promise<number> => {
    const { number, output } = job.frames[i]!;
    const image = await (ahead?.number === number ? ahead.image : load(number));
    ahead = null;
    const picture = await computed(engine, job, image, number, output, `${path} ${number} ${recipe}`);
    // The next frame is read while this one is packed and written, unless both would be large.
    const next = job.frames[i + 1];
    if (next && picture.width * picture.height <= LARGE) {
      ahead = { number: next.number, image: load(next.number) };
      ahead.image.catch(() => {}); // it is awaited, and reported, in its turn
    }
    await writing;
    const { framesPerSecond, timeCode, text } = image.info;
    const about = {
      framesPerSecond: job.framesPerSecond ?? framesPerSecond,
      timeCode,
      text: isLinearFile(path) ? text : {},
    };
    writing = sink
      .write(output, picture, {
        ...about,
        depth: job.depth,
        compression: job.compression,
        encoding: job.outEncoding,
        display,
        recipe,
      })
      .then(() => events.done(number, false))
      .catch((error: Error) => events.failed(number, error.message));
    return picture.width * picture.height;
  };
  for (const [i, { number, output }] of job.frames.entries()) {
    if (await events.stopped?.()) break;
    try {
      const { path } = placeOf(source.pattern, standIn(source, number, gaps) ?? source.frames[0]!);
      const recipe = recipeOf(job, path);
      if (job.resume && isMadeBy(output, recipe)) {
        await events.done(number, true);
        continue;
      }
      const pixels = await begin(i, path, recipe);
      // Packing goes on beside the next frame's computing; large frames wait for it, for the memory they take.
      if (pixels > LARGE) {
        await writing;
        collect();
      }
    } catch (error) {
      await events.failed(number, (error as Error).message);
    }
  }
  await writing;
  await sink.end();
}
