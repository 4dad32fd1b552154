/** Other layers of a frame beside its picture: mattes, motion vectors, ids. */
import { moves, placesOnly } from "../../core/look/moved";
import { lookAt } from "../../core/look/at-frame";
import { withElements } from "../../core/look/edit";
import { withTaking } from "../../core/look/taking";
import type { Look } from "../../core/look/look";
import type { Engine } from "../../core/engine/engine";
import type { ShotFrame } from "../../core/frame/context";
import type { Frame } from "../../core/image/image";
import { NO_OVERSCAN, withOverscan } from "../../core/image/overscan";
import type { Decoded, Layer } from "../../formats/format";
import type { RenderJob } from "./job";
import { lightOf } from "./light";

/** Layers that go through the path's geometry at once: the colours of a frame. */
const AT_ONCE = 3;

/** Up to three layers as the colours of a frame. */
function frameOf(layers: readonly Layer[], { width, height }: Decoded): Frame {
  const data = new Float32Array(4 * width * height);
  for (const [c, { data: samples }] of layers.entries())
    for (let i = 0, at = c; i < samples.length; i++, at += 4) data[at] = samples[i]!;
  for (let at = 3; at < data.length; at += 4) data[at] = 1;
  return { width, height, data };
}

/** A layer's samples from a colour of a frame, within the range they had: resampling swings beyond edges. */
function layerFrom(layer: Layer, { data }: Frame, c: number): Layer {
  let [least, most] = [Infinity, -Infinity];
  // By index: an iterator over two million samples takes ten times as long.
  for (let i = 0; i < layer.data.length; i++) {
    const value = layer.data[i]!;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  const samples = new Float32Array(data.length / 4);
  for (let i = 0, at = c; i < samples.length; i++, at += 4) samples[i] = Math.min(most, Math.max(least, data[at]!));
  return { ...layer, data: samples };
}

/** Without what lies around what is shown. */
const withoutOverscan = (layer: Layer, image: Decoded): Layer =>
  image.overscan
    ? { ...layer, data: withOverscan(layer.data as Float32Array, image, image.overscan, NO_OVERSCAN, 1) }
    : layer;

/** What a job does to the places of layers at a frame: moves them by a look, makes them another size, or nothing. */
function resampling(job: RenderJob, at: ShotFrame): { look: Look; isMoved: boolean } | null {
  const look = placesOnly(job.look, lookAt(job.look, job.cabinet, at));
  const isMoved = job.layers === "warp" && moves(lookAt(look, job.cabinet, at));
  return isMoved || job.scale !== 1 ? { look, isMoved } : null;
}

/** The layers of a frame that go out: those of whole numbers only where nothing is resampled. */
export const keptLayers = (job: RenderJob, { layers = [] }: Decoded, at: ShotFrame): Layer[] =>
  resampling(job, at) ? layers.filter(({ type }) => type !== "uint") : layers;

/**
 * A frame's other layers as the job wants them: as they are, or moved as the path's geometry moves the picture. Whole
 * numbers are not moved, since what lies between two ids is no id.
 */
export async function layersLike(
  engine: Engine,
  job: RenderJob,
  image: Decoded,
  at: ShotFrame,
  keepsOverscan: boolean,
  key: string,
): Promise<Layer[]> {
  if (!image.layers?.length) return [];
  const kept = keptLayers(job, image, at);
  const found = resampling(job, at);
  if (!found) return keepsOverscan ? kept : kept.map((layer) => withoutOverscan(layer, image));
  const own = { ...job, look: found.isMoved ? found.look : withElements(withTaking(found.look, undefined), []) };
  const out: Layer[] = [];
  for (let i = 0; i < kept.length; i += AT_ONCE) {
    const some = kept.slice(i, i + AT_ONCE);
    const wanted = { frame: frameOf(some, image), output: { kind: "light" }, keepsOverscan } as const;
    const made = await lightOf(engine, own, image, at, wanted, `${key} layers ${i}`);
    out.push(...some.map((layer, c) => layerFrom(layer, made, c)));
  }
  return out;
}
