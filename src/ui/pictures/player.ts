import { frameAt, indexOfFrame, type Ranges } from "@/core/frame/ranges";
import type { FrameOrder, Picture, PictureOrder } from "../engine/questions";
import { ReadyPictures } from "./ready-pictures";
import { nextIndex, placesIn, type Span } from "./transport";

/** Pictures kept for playing, bytes: two minutes at a quarter of 1920 x 1080. */
const MAX_BYTES = 384 * 2 ** 20;
/** Frames whose pixels are fetched ahead of the one that is being made. */
const AHEAD = 3;
/** Frames wider than this are played at half their size, px. */
const HALF_ABOVE = 960;
/** Pictures over which the rate is told. */
const RATE_OVER = 8;
/** Pictures before a rate is told. */
const MIN_FOR_RATE = 3;

/** How a picture of a shot is made, but for its frame. */
export type PlayOrder = Omit<PictureOrder, "frame" | "divide" | "rows" | "still" | "ends">;

/** A picture that was played. */
export interface PlayedPicture {
  picture: Picture;
  frame: number;
  /** How it was made. */
  order: PlayOrder;
  /** Pictures a second, as they were shown; null until there are some. */
  rate: number | null;
  /** Frames that are ready. */
  ready: ReadonlySet<number>;
}

export interface PlayClock {
  /** ms. */
  now(): number;
  wait(milliseconds: number): Promise<void>;
}

/** What playing needs of where it runs. */
export interface PlayWorld {
  clock: PlayClock;
  make(order: PictureOrder): Promise<Picture>;
  prefetch(orders: FrameOrder[]): void;
  show(played: PlayedPicture): void;
}

/** What may change while it plays. */
export interface Playing {
  /** How pictures are made now; null ends it. */
  order: PlayOrder | null;
  /** Frames from one picture to the next; below 0 it plays backwards. */
  speed: number;
  span: Span;
}

const isSameWay = (a: PlayOrder | null, b: PlayOrder) => a !== null && JSON.stringify(a) === JSON.stringify(b);

/** Plays shots; pictures that were made ready stay from one time to the next. */
export function createPlayer({ clock, make, prefetch, show }: PlayWorld) {
  const pictures = new ReadyPictures(MAX_BYTES);

  /**
   * Plays every frame of a shot from one on, until `gone`: what is ready is shown at the shot's rate; what is not is
   * made ready as fast as it can be, shown when it is there, and kept. A change of the order forgets what was made with
   * the old one.
   */
  async function play(
    frames: Ranges,
    from: number,
    width: number,
    now: () => Playing,
    gone: AbortSignal,
  ): Promise<void> {
    const divide = width > HALF_ABOVE ? 2 : 1;
    const shownAt: number[] = [];
    let due = clock.now();
    const next = (index: number, steps = 1) => {
      const { speed, span } = now();
      return nextIndex(index, speed * steps, placesIn(frames, span));
    };
    for (let index = Math.max(0, indexOfFrame(frames, from)); !gone.aborted; index = next(index)) {
      const { order } = now();
      if (!order) return;
      const frame = frameAt(frames, index)!;
      pictures.madeBy(JSON.stringify([order, divide]));
      const ahead = Array.from({ length: AHEAD }, (_, k) => frameAt(frames, next(index, k + 1))!);
      const missing = [...new Set(ahead)].filter((number) => !pictures.get(number));
      prefetch(missing.map((number) => ({ ...order, frame: number, divide })));
      const picture = pictures.get(frame) ?? (await make({ ...order, frame, divide }));
      if (isSameWay(now().order, order)) pictures.keep(frame, picture);
      await clock.wait(Math.max(0, due - clock.now()));
      if (gone.aborted) return;
      const at = clock.now();
      // What came late does not make the next ones hurry: each is seen for its time.
      const each = 1000 / order.frameRate;
      due = Math.max(due, at - each) + each;
      shownAt.push(at);
      if (shownAt.length > RATE_OVER) shownAt.shift();
      const rate = shownAt.length < MIN_FOR_RATE ? null : (1000 * (shownAt.length - 1)) / (at - shownAt[0]!);
      show({ picture, frame, order, rate, ready: pictures.frames() });
    }
  }
  return { play };
}
