import { frameAt, indexOfFrame, type Ranges } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import type { Problem } from "../../contract/problems";
import { type FrameOrder, isWhole, type Picture, type PictureOrder } from "../engine/questions";

/** When which picture is asked for, so that a hand that moves something is followed, and what rests is whole. */

/** Time a control must rest before a finer picture, and before the one the screen needs, ms. */
const FINER_AFTER = 90;
const REST = 200;
/** Frames at least this wide are shown smaller while a control moves, px. */
const PROXY_ABOVE = 960;
/** Frames are made smaller by at most so many times. */
const MAX_DIVIDE = 8;
/** A proxy that would take the engine longer than this gives way to a smaller one, ms. */
const SLOW = 40;
/** Frames fetched ahead of a step, the likeliest first: counted the way the last step went. */
const AHEAD = [1, 2, -1];
/** Time a look must rest before frames are fetched ahead, ms; after a step they are at once. */
const AHEAD_AFTER = 600;
/** A frame that is still being computed is asked for again after this, ms. */
const RETRY_AFTER = 700;
/**
 * Frames of at most so many pixels are made whole, where the screen needs less, when they have rested for so long, ms.
 */
const WHOLE_PIXELS = 2.5e6;
const WHOLE_AFTER = 1200;

export interface Wanted extends Omit<PictureOrder, "divide" | "rows"> {
  /** Size of the full frame, px. */
  width: number;
  height: number;
  /** Rows in sight, px of the full frame, where they are not all of it: no more is made at full size. */
  rows?: readonly [number, number] | null;
  /** The frame may be so many times smaller and still cover its pixels on the screen. Default: 1. */
  enough?: number;
  /**
   * The shot's frames that are there: the pixels of those that may be asked for next are fetched when this one is
   * shown.
   */
  frames?: Ranges;
}

export interface ShownPicture {
  picture: Picture | null;
  /** What is seen where the picture does not reach: the proxy it followed. */
  under: Picture | null;
  problem: string | null;
  /** What the picture is of: the key of what was wanted, and of its pixels alone. */
  key: string | null;
  content: string | null;
  /** Whether it is as large as the screen needs it. */
  isEnough: boolean;
}

export interface Clock {
  /** Does something after a time, ms. Gives what takes it back. */
  after(milliseconds: number, work: () => void): () => void;
}

/** Who is asked. */
export interface Asked {
  picture(order: PictureOrder, made: (picture: Picture) => void, failed: (problem: Problem) => void): void;
  prefetch(orders: FrameOrder[]): void;
}

/** How many times smaller a frame may be and still have a pixel for each of the screen's: 1, 2, 4 or 8. */
export function enoughFor(screenPixels: number, framePixels: number): number {
  let divide = 1;
  while (divide < MAX_DIVIDE && framePixels / (2 * divide) >= screenPixels) divide *= 2;
  return divide;
}

/** The last picture that was whole. */
const wholeOf = ({ picture, under }: ShownPicture): Picture | null => (picture && isWhole(picture) ? picture : under);

const texts = new WeakMap<Look, string>();
/** A look as text, written once for each. */
function textOf(look: Look): string {
  const found = texts.get(look);
  if (found !== undefined) return found;
  const text = JSON.stringify(look);
  texts.set(look, text);
  return text;
}
/** What two wishes must share to be one. */
export const keyOf = ({ look, ...rest }: Wanted): string => `${JSON.stringify(rest)} ${textOf(look)}`;
/** What they must share to be of the same pixels, however large and wherever looked at. */
const contentOf = ({ rows: _, enough: __, ...rest }: Wanted): string => keyOf(rest);

export const NOTHING_SHOWN: ShownPicture = {
  picture: null,
  under: null,
  problem: null,
  key: null,
  content: null,
  isEnough: false,
};

/** Keeps a picture current: a small one at once, what the screen needs when nothing has moved for a moment. */
export function createPictureScheduler(clock: Clock, asked: Asked) {
  let shown = NOTHING_SHOWN;
  let wanted: Wanted | null = null;
  let key: string | null = null;
  /** What the whole frame would take the engine, by the last picture made, ms. */
  let wholeTakes = 0;
  /** What is planned for the wish that stands; taken back with it. */
  let planned: (() => void)[] = [];
  const hearers = new Set<() => void>();

  const show = (next: ShownPicture) => {
    shown = next;
    for (const hear of hearers) hear();
  };
  const later = (milliseconds: number, work: () => void) => void planned.push(clock.after(milliseconds, work));
  const dropPlans = () => {
    for (const drop of planned) drop();
    planned = [];
  };

  /** The divide of the first picture after a change: one that follows the hand. */
  const movingDivide = (enough: number) => {
    let divide = Math.max(2, enough);
    while (divide < MAX_DIVIDE && wholeTakes / divide ** 2 > SLOW) divide *= 2;
    return divide;
  };

  /** `before`: what was wanted until now. */
  function begin(before: Wanted | null, now: Wanted, ownKey: string): void {
    const { width, height, rows, enough = 1, frames = [], ...order } = now;
    const isProxied = width > PROXY_ABOVE;
    const needed = isProxied ? enough : 1;
    const hasSameLook = before !== null && textOf(before.look) === textOf(now.look);
    const content = contentOf(now);
    const isSamePixels = shown.content === content;
    const direction = before && before.frame > now.frame ? -1 : 1;

    const fetchNeighbours = () => {
      const index = indexOfFrame(frames, order.frame);
      const next = AHEAD.flatMap((by) => frameAt(frames, index + by * direction) ?? []);
      asked.prefetch(next.map((frame) => ({ ...order, frame, divide: needed })));
    };
    const ask = (divide: number) => {
      const inSight = divide === 1 && isProxied && rows ? rows : undefined;
      asked.picture(
        { ...order, divide, rows: inSight },
        (picture) => {
          // Where nothing had to be asked for what is wanted now, what was wanted before is answered late.
          if (ownKey !== key) return;
          wholeTakes = isWhole(picture) ? picture.milliseconds * picture.divide ** 2 : wholeTakes;
          const under = isWhole(picture) ? null : wholeOf(shown);
          show({ picture, under, problem: null, key: ownKey, content, isEnough: picture.divide <= needed });
          if (picture.divide > needed) {
            // Another frame is wanted as the screen needs it as soon as there is something of it.
            if (hasSameLook) ask(needed);
          } else if (picture.divide === needed) {
            later(hasSameLook ? 0 : AHEAD_AFTER, fetchNeighbours);
            if (needed > 1 && width * height <= WHOLE_PIXELS) later(WHOLE_AFTER, () => ask(1));
          }
        },
        (problem) => {
          if (ownKey !== key) return;
          show({ ...shown, problem: problem.message });
          if (problem.code === "still-computing") later(RETRY_AFTER, () => ask(divide));
        },
      );
    };

    // What may be wanted later makes room for what is looked at now, which is kept where it is on its way already.
    asked.prefetch([{ ...order, divide: needed }]);
    if (isSamePixels && isWhole(shown.picture!) && shown.picture!.divide <= needed)
      return show({ ...shown, key: ownKey, isEnough: true });
    if (!isProxied || isSamePixels) return ask(needed);
    if (hasSameLook) return ask(Math.max(2, needed));
    const first = movingDivide(needed);
    ask(first);
    if (first / 2 > needed) later(FINER_AFTER, () => ask(first / 2));
    if (first > needed) later(REST, () => ask(needed));
  }

  return {
    /** Says what is wanted from now on; null: nothing. */
    want(next: Wanted | null): void {
      const nextKey = next && keyOf(next);
      if (nextKey === key) return;
      const before = wanted;
      key = nextKey;
      dropPlans();
      if (!next) return;
      wanted = next;
      begin(before, next, nextKey!);
    },
    shown: (): ShownPicture => shown,
    subscribe(hear: () => void): () => void {
      hearers.add(hear);
      return () => hearers.delete(hear);
    },
    close: dropPlans,
  };
}
export type PictureScheduler = ReturnType<typeof createPictureScheduler>;
