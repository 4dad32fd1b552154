/** Where pixels come from, through all that moves the picture: by computing it, in one resampling or several. */
import { compile } from "../compile/compile";
import type { Engine } from "../engine/engine";
import type { ShotFrame } from "../frame/context";
import { floatsOf, type Frame } from "../image/image";
import { canvasOf, type Overscan, shownOf } from "../image/overscan";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { moves, placesOnly } from "../look/moved";
import type { Cabinet } from "../profile/profiles";

/** So much beyond the frame is looked at, on each side, as a share of it. */
const LOOKED_AT = 0.25;

interface Size {
  width: number;
  height: number;
}

/** What is looked at beyond a frame, px on each side. */
export function lookedAt({ width, height }: Size): Overscan {
  const [across, down] = [Math.ceil(width * LOOKED_AT), Math.ceil(height * LOOKED_AT)];
  return { left: across, top: down, right: across, bottom: down };
}

/** Computes a look over a frame with overscan: RGBA of what is shown. */
export type MakeShown = (look: Look, frame: Frame, overscan: Overscan) => Float32Array;

/** Computes looks over such frames by an engine, at their own size. */
export function madeBy(engine: Engine, cabinet: Cabinet, at: Omit<ShotFrame, "width" | "height">): MakeShown {
  return (look, { data, ...canvas }, overscan) => {
    // A ramp is known by its size and its axis: an engine that keeps what it made must not take one for another.
    const isAcross = data[0] !== data[4];
    const sourceKey = `places ${isAcross ? "across" : "down"} ${canvas.width}x${canvas.height}`;
    const request = { ...at, ...shownOf(canvas, overscan), overscan, sourceKey };
    return floatsOf(engine.run(compile(look, cabinet, request, { kind: "light" }), () => data)).slice();
  };
}

/** A frame with overscan whose light is its place along an axis, px from what is shown, above zero everywhere. */
export function ramp(size: { width: number; height: number }, overscan: Overscan, axis: 0 | 1): Frame {
  const { width, height } = canvasOf(size, overscan);
  const data = new Float32Array(4 * width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      data.fill(axis ? y : x, i, i + 3);
      data[i + 3] = 1;
    }
  return { width, height, data };
}

/** Places along an axis, px from the first pixel of the frame, by green: other colours may lie beside it. */
function placesAlong(shown: Float32Array, before: number): Float32Array {
  const places = new Float32Array(shown.length / 4);
  for (let i = 0, at = 1; i < places.length; i++, at += 4) places[i] = shown[at]! - before;
  return places;
}

/** Where each pixel of a frame comes from: across and down, px, 0 at the first pixel's centre. */
export interface Places extends Size {
  x: Float32Array;
  y: Float32Array;
}

/** Where a look's pixels come from at a frame; null where nothing moves them. */
export function placesThrough(look: Look, cabinet: Cabinet, at: ShotFrame, make: MakeShown): Places | null {
  const moved = placesOnly(look, lookAt(look, cabinet, at));
  if (!moves(lookAt(moved, cabinet, at))) return null;
  const { width, height } = at;
  const overscan = lookedAt(at);
  return {
    ...{ width, height },
    x: placesAlong(make(moved, ramp(at, overscan, 0), overscan), overscan.left),
    y: placesAlong(make(moved, ramp(at, overscan, 1), overscan), overscan.top),
  };
}

/** Places of pixels that nothing moves. */
export function placesAtRest({ width, height }: Size): Places {
  const pixels = { length: width * height };
  return {
    ...{ width, height },
    x: Float32Array.from(pixels, (_, i) => i % width),
    y: Float32Array.from(pixels, (_, i) => Math.floor(i / width)),
  };
}
