import { createHash } from "node:crypto";
import { existsSync, readFileSync, statSync } from "node:fs";
import { encodingByName, type EncodingName } from "../../core/colour/encodings";
import type { Engine, Frame } from "../../core/engine/engine";
import { compile } from "../../core/engine/compile";
import { decodeImage } from "../../core/image/image";
import type { Look } from "../../core/look/look";
import type { Cabinet } from "../../core/profile/profiles";
import { loadImage } from "../../formats/formats";
import { isLinearFile, type OutputDepth, writeFrame } from "./output";

/** Raised when a change of the computation changes pixels, so that frames made before are made again. */
const ENGINE_VERSION = 1;

export interface RenderJob {
  look: Look;
  cabinet: Cabinet;
  frames: { number: number; input: string; output: string }[];
  inEncoding: EncodingName;
  outEncoding: EncodingName | null;
  depth: OutputDepth;
  /** Size of the output over that of the input. */
  scale: number;
  resume: boolean;
}

export interface RenderEvents {
  done(number: number, skipped: boolean): void | Promise<void>;
  failed(number: number, reason: string): void | Promise<void>;
  stopped?(): boolean | Promise<boolean>;
}

/** A hash of all that decides a frame's pixels beside its input. */
export function recipeOf({ look, cabinet, inEncoding, outEncoding, depth, scale }: RenderJob, input: string): string {
  const filters = look.elements.map(({ params }) => cabinet.filters.get(String((params as Record<string, unknown>).profile ?? "milkglass")));
  const lens = look.lens.profile && cabinet.lenses.get(look.lens.profile);
  const { size, mtimeMs } = statSync(input);
  const { name: _, ...recipe } = look;
  const parts = [ENGINE_VERSION, recipe, lens, filters, inEncoding, outEncoding, depth, scale, size, mtimeMs];
  return createHash("sha256").update(JSON.stringify(parts)).digest("hex").slice(0, 32);
}

/** Whether a file is there, whole (it was renamed into place) and made by this recipe. */
export const isMadeBy = (path: string, recipe: string) => existsSync(path) && readFileSync(path).includes(recipe);

/** Changes a frame's size by area on the engine. */
export function resizeFrame(engine: Engine, frame: Frame, width: number, height: number, key: string): Frame {
  if (frame.width === width && frame.height === height) return frame;
  const op = { kernel: "resize" as const, args: [{ buffer: 0 }, { buffer: 1 }, frame.width, frame.height, width, height], rows: height, rowPixels: frame.width, output: 1 };
  const spec = (w: number, h: number) => ({ width: w, height: h, pixelBytes: 16, edgeX: w, edgeY: h });
  const buffers = [spec(frame.width, frame.height), spec(width, height)];
  const plan = { width: frame.width, height: frame.height, buffers, tables: [], constants: [], steps: [{ key: `${key} resized ${width}x${height}`, operations: [op], output: 1 }], sourceKey: key };
  const bytes = engine.run(plan, () => frame.data);
  return { width, height, data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() };
}

/** Renders frames in order. One that fails is reported and the rest go on; what is finished stays. */
export async function renderFrames(engine: Engine, job: RenderJob, events: RenderEvents): Promise<void> {
  const encoding = encodingByName(job.inEncoding);
  const load = async (input: string) => {
    const image = await loadImage(input);
    return { frame: decodeImage(image, encoding).frame, z: image.z };
  };
  let ahead: { input: string; image: ReturnType<typeof load> } | null = null;
  let writing: Promise<void> = Promise.resolve();
  for (const [i, { number, input, output }] of job.frames.entries()) {
    if (await events.stopped?.()) break;
    try {
      const recipe = recipeOf(job, input);
      if (job.resume && isMadeBy(output, recipe)) {
        await events.done(number, true);
        continue;
      }
      const image = ahead?.input === input ? ahead.image : load(input);
      const { frame: full, z } = await image;
      const width = Math.max(1, Math.round(full.width * job.scale));
      const height = Math.max(1, Math.round(full.height * job.scale));
      const frame = resizeFrame(engine, full, width, height, input);
      const kind = isLinearFile(output) || job.outEncoding ? "light" : "codes";
      const plan = compile(job.look, job.cabinet, { width, height, frame: number, sourceKey: `${input} ${recipe}` }, { kind });
      const bytes = engine.run(plan, () => frame.data);
      const data = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice();
      // The next frame is read while this one is packed and written.
      const next = job.frames[i + 1];
      if (next) {
        ahead = { input: next.input, image: load(next.input) };
        ahead.image.catch(() => {}); // it is awaited, and reported, in its turn
      }
      await writing;
      writing = writeFrame(output, { width, height, data }, { depth: job.depth, encoding: job.outEncoding, recipe, z: width === full.width ? z : undefined })
        .then(() => events.done(number, false))
        .catch((error: Error) => events.failed(number, error.message));
    } catch (error) {
      await events.failed(number, (error as Error).message);
    }
  }
  await writing;
}
