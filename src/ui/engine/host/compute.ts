import { compile } from "../../../core/compile/compile";
import type { Output } from "../../../core/compile/outputs/outputs";
import { type Engine, Superseded } from "../../../core/engine/engine";
import { type FurtherSource, furtherPixels, pixelsWith } from "../../../core/engine/further";
import type { LookRequest } from "../../../core/engine/plan";
import type { Rows } from "../../../core/engine/kernels";
import { floatsOf } from "../../../core/image/image";
import { canvasOf, isNone, NO_OVERSCAN, type Overscan } from "../../../core/image/overscan";
import { type LookAtFrame, lookAt } from "../../../core/look/at-frame";
import type { Look } from "../../../core/look/look";
import type { Cabinet } from "../../../core/profile/profiles";
import type { FetchedFrame } from "../fetch-frame";
import type { FrameOrder } from "../questions";
import { sourceKey, type Sources } from "./sources";

/** What a question is answered with. */
export interface Desk {
  engine: Engine;
  sources: Sources;
  cabinet: Cabinet;
  /** Aborted when nobody waits for the answer any more. */
  gone: AbortSignal;
  /** Whether nobody waits for it: asked between operations, where no message can come in. */
  isStale(): boolean;
  /** Changes whenever a picture is asked for that somebody looks at. */
  picturesAsked(): number;
}

export interface Computed {
  /** The output's samples, a view into the engine's memory until the next call. */
  bytes: Uint8Array;
  /** What is shown, px. */
  width: number;
  height: number;
  /** The rows that were computed. */
  rows: Rows;
  /** Time it took, without waiting for pixels. */
  milliseconds: number;
}

interface Ways {
  /** Whether something else is to be done first by now. Default: nothing is. */
  isOvertaken?: () => boolean;
  /** Overscan that the result has. Default: none. */
  keeps?: Overscan;
}

/** The frame's light, or the still's that takes its place. */
export const lightIn = ({ sources, gone }: Desk, order: FrameOrder): Promise<FetchedFrame> =>
  order.still === undefined ? sources.frame(order, gone) : sources.still(order, order.still, gone);

/** The order's look at its frame. */
export async function lookOf(desk: Desk, order: FrameOrder): Promise<LookAtFrame> {
  const { width, height, hasDepth } = await lightIn(desk, order);
  const { look, frame, frameRate, shot } = order;
  return lookAt(look, desk.cabinet, { width, height, frame, hasDepth, frameRate, shot });
}

/** The rows an order wants of a picture so many rows high. */
function rowsOf({ rows, divide }: FrameOrder, height: number): Rows {
  if (!rows) return [0, height];
  const first = Math.min(height - 1, Math.max(0, Math.floor(rows[0] / divide)));
  return [first, Math.min(height, Math.max(first + 1, Math.ceil(rows[1] / divide)))];
}

const canvasIn = (fetched: FetchedFrame) => ({
  frame: { ...canvasOf(fetched, fetched.overscan), data: fetched.data },
  overscan: fetched.overscan,
});

/** Further pixels for an order's plan, as the sources and the look itself have them. */
function furtherSource(desk: Desk, order: FrameOrder, shown: { width: number; height: number }): FurtherSource {
  const { sources, gone } = desk;
  return {
    frame: async (number) => canvasIn(await sources.frame(order, gone, number)),
    depth: async () => canvasIn(await sources.frame(order, gone, order.frame, "depth")),
    plate: async (request) => canvasIn(await sources.plate(order, request, shown, gone)),
    look: async ({ look, still, frame = order.frame }: LookRequest, wanted) => {
      const other = { ...order, look: look as Look, still, frame, rows: undefined };
      const { bytes } = await computeLook(desk, other, { kind: "light" }, { keeps: wanted });
      // It may lie where the next run writes.
      const data = floatsOf(bytes).slice();
      return { frame: { ...canvasOf(shown, wanted), data }, overscan: wanted };
    },
  };
}

/**
 * What the order's look makes of its frame. Throws Superseded where nobody waits for it, or something else is to be
 * done first.
 */
export async function computeLook(
  desk: Desk,
  order: FrameOrder,
  output: Output,
  { isOvertaken = () => false, keeps = NO_OVERSCAN }: Ways = {},
): Promise<Computed> {
  const { engine, cabinet, isStale } = desk;
  const current = () => {
    if (isStale()) throw new Superseded();
  };
  current();
  const source = await lightIn(desk, order);
  current();
  const { width, height, hasDepth } = source;
  const around = isNone(keeps) ? source.overscan : keeps;
  const { frame, shot, frameRate } = order;
  const begun = performance.now();
  const plan = (isKept: (key: string) => boolean) =>
    compile(
      order.look,
      cabinet,
      {
        width,
        height,
        ...(isNone(around) ? {} : { overscan: around, keepsOverscan: !isNone(keeps) }),
        frame,
        sourceKey: `${sourceKey(order, frame, "light")} ${order.plates}`,
        hasDepth,
        frameRate,
        shot,
      },
      output,
      isKept,
    );
  const short = plan((key) => engine.has(key));
  // Bringing further pixels may push out what the short plan begins from.
  const whole = short.extras.length ? plan(() => false) : short;
  const further = await furtherPixels(whole, source, around, furtherSource(desk, order, source));
  current();
  const rows = rowsOf(order, height);
  const bytes = engine.run(
    whole,
    (wanted) => (wanted ? further.get(wanted)! : pixelsWith(canvasIn(source), around)),
    () => isStale() || isOvertaken(),
    order.rows && rows,
  );
  return { bytes, width, height, rows, milliseconds: performance.now() - begun };
}
