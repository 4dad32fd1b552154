import { lookAt } from "../../core/look/at-frame";
import type { Look } from "../../core/look/look";
import { moves, placesOnly } from "../../core/look/moved";
import { encodingByName } from "../../core/colour/encodings";
import { compile } from "../../core/compile/compile";
import type { Output } from "../../core/compile/outputs/outputs";
import type { Engine } from "../../core/engine/engine";
import { type Canvas, type FurtherSource, furtherPixels } from "../../core/engine/further";
import type { PlateRequest } from "../../core/engine/plan";
import { resizeFrame } from "../../core/engine/resize";
import type { ShotFrame } from "../../core/frame/context";
import { middleOfShape, OWN_ENCODING, plateFrame } from "../../core/frame/plate";
import { decodeImage } from "../../core/image/decode";
import { cropped, depthFrame, FARTHEST, floatsOf, type Frame } from "../../core/image/image";
import {
  canvasOf,
  isNone,
  NO_OVERSCAN,
  type Overscan,
  shownOf,
  smallerOverscan,
  withOverscan,
} from "../../core/image/overscan";
import type { Decoded } from "../../formats/format";
import { loadFrame } from "../footage/source";
import type { RenderJob } from "./job";

/** What a render's look makes of a frame: its light, and its depth. */

async function plateLight({ plates }: RenderJob, { footage, encoding, ends, index }: PlateRequest): Promise<Frame> {
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

/** Who has further pixels of a frame's shot, at the job's scale. */
function furtherSource(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  own: { at: ShotFrame; canvas: Canvas },
  key: string,
): FurtherSource {
  const canvasAt = (of: Decoded, frame: Frame, frameKey: string): Canvas => {
    const { frame: made, overscan = NO_OVERSCAN } = scaled(engine, job, of, frame, frameKey);
    return { frame: made, overscan };
  };
  const loaded = async (number: number) => {
    const other = await loadFrame(job.source, number, { ...job.choice, overscan: true }, job.gaps ?? "refuse");
    return { other, frame: decodeImage(other, job.inEncoding).frame };
  };
  const { width, height } = own.at;
  return {
    frame: async (number) => {
      if (number === own.at.frame) return own.canvas;
      const { other, frame } = await loaded(number);
      return canvasAt(other, frame, `${key} frame ${number}`);
    },
    depth: async () => canvasAt(image, depthFrame(image), `${key} depth plane`),
    plate: async (request) => {
      const plate = middleOfShape(await plateLight(job, request), width, height);
      const frame = resizeFrame(engine, plate, width, height, `${key} ${JSON.stringify(request)}`);
      return { frame, overscan: NO_OVERSCAN };
    },
    look: async ({ look, frame: number = own.at.frame }) => {
      const { other, frame } = await loaded(number);
      const path = { ...job, look: look as Look };
      const at = { ...own.at, frame: number, hasDepth: other.z !== undefined };
      const wanted = { frame, output: { kind: "light" }, keepsOverscan: true } as const;
      const made = await lightOf(engine, path, other, at, wanted, `${key} frame ${number}`);
      return { frame: { ...made, data: made.data.slice() }, overscan: overscanAt(other, job.scale) };
    },
  };
}

/** What is asked of a frame: of which light, as what. */
interface Wanted {
  frame: Frame;
  output: Output;
  keepsOverscan?: boolean;
}

/**
 * A decoded frame through a job's look, at the job's scale: light, or a display's code values. It lies in the engine's
 * memory, and stands until that computes again.
 */
export async function lightOf(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  at: ShotFrame,
  { frame: full, output, keepsOverscan = false }: Wanted,
  key: string,
): Promise<Frame> {
  const { frame, shown, overscan } = scaled(engine, job, image, full, key);
  const own = { ...at, ...shown, overscan };
  const plan = compile(job.look, job.cabinet, { ...own, sourceKey: key, keepsOverscan }, output);
  const canvas = { frame, overscan: overscan ?? NO_OVERSCAN };
  const sources = furtherSource(engine, job, image, { at: own, canvas }, key);
  const further = await furtherPixels(plan, shown, canvas.overscan, sources);
  const bytes = engine.run(plan, (wanted) => (wanted ? further.get(wanted)! : frame.data));
  const { width, height } = keepsOverscan ? frame : shown;
  return { width, height, data: floatsOf(bytes) };
}

/** Overscan of an image at a scale; none where it would not be whole pixels. */
function overscanAt({ overscan }: Decoded, scale: number): Overscan {
  if (!overscan) return NO_OVERSCAN;
  const scaled = smallerOverscan(overscan, 1 / scale);
  return Object.values(scaled).every(Number.isInteger) ? scaled : NO_OVERSCAN;
}

/** Pixels of an image's size at a job's scale, with as much overscan as there is at it. */
function scaled(engine: Engine, { scale }: RenderJob, image: Decoded, full: Frame, key: string) {
  const own = image.overscan ?? NO_OVERSCAN;
  const overscan = overscanAt(image, scale);
  const whole = shownOf(full, own);
  const shown = {
    width: Math.max(1, Math.round(whole.width * scale)),
    height: Math.max(1, Math.round(whole.height * scale)),
  };
  const isCut = isNone(overscan) && !isNone(own);
  const from = isCut ? { ...whole, data: withOverscan(full.data, full, own, NO_OVERSCAN, 4) } : full;
  const { width, height } = canvasOf(shown, overscan);
  const frame = resizeFrame(engine, from, width, height, key);
  return { frame, shown, overscan: isNone(overscan) ? undefined : overscan };
}

/** The inverse of a frame's distances as its green, in the engine's memory; what has no distance is far. */
function inverseDepth(engine: Engine, { width, height, z }: Decoded): Frame {
  const samples = width * height * 4;
  const data = engine.reserve(samples).fill(1);
  for (let i = 0, at = GREEN; at < samples; i++, at += 4) {
    const distance = z![i]!;
    data[at] = 1 / (distance > 0 && distance < FARTHEST ? distance : FARTHEST);
  }
  return { width, height, data };
}

/** Green stays where lateral colour moves the others, and so does depth. */
const GREEN = 1;

/**
 * A frame's depth as the picture is: moved by what moves the picture, and of its size. It may lie in the engine's
 * memory, and is to be released there. It is the distance's inverse that is filtered, which is nothing far away: between
 * near and far lies something between them.
 */
export async function depthLike(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  at: ShotFrame,
  keepsOverscan: boolean,
  key: string,
): Promise<Float32Array | undefined> {
  if (!image.z) return undefined;
  const look = placesOnly(job.look, lookAt(job.look, job.cabinet, at));
  if (!moves(lookAt(look, job.cabinet, at)) && job.scale === 1) return keepsOverscan ? image.z : cropped(image).z;
  const frame = inverseDepth(engine, image);
  const wanted = { frame, output: { kind: "light" }, keepsOverscan } as const;
  const { data } = await lightOf(engine, { ...job, look }, image, at, wanted, `${key} depth`).finally(() =>
    engine.release(frame.data),
  );
  const depth = engine.reserve(data.length / 4);
  for (let i = 0, at = GREEN; i < depth.length; i++, at += 4) depth[i] = 1 / Math.max(data[at]!, 1 / FARTHEST);
  return depth;
}
