import { useEffect, useRef, useState } from "react";
import { frameAt, indexOfFrame, type Ranges } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import { browserEngine, type Channel, type Picture, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/messages";
import { ReadyPictures } from "../engine/ready-pictures";
import { useBench } from "./store";
import { nextPlace, placesIn } from "./transport";
import type { Output } from "@/core/compile/outputs/outputs";

/** Pictures kept for playing, bytes: two minutes at a quarter of 1920 x 1080. */
const BUDGET = 384 * 2 ** 20;
/** Frames whose pixels are brought ahead of the one that is being made. */
const AHEAD = 3;
/** Frames at least this wide are played at half their size. */
const HALF_ABOVE = 960;
/** Pictures over which the rate is told. */
const RATE_OVER = 8;

/** How a picture of a shot is made, but for its frame. */
export interface PlayOrder {
  look: Look;
  shotId: string;
  encoding: string;
  plates: string;
  shot: { first: number; last: number };
  frameRate: number;
  output: Output;
}

export interface Played {
  picture: Picture | null;
  /** What the picture is of. */
  frame: number | null;
  look: Look | null;
  problem: string | null;
  /** Pictures a second, as they were shown; null until there are some. */
  rate: number | null;
  /** Frames that are ready. */
  ready: ReadonlySet<number>;
}

const NOTHING: Played = { picture: null, frame: null, look: null, problem: null, rate: null, ready: new Set() };

/** What pictures depend on beside their frame. */
const wayOf = (order: PlayOrder, divide: number) => JSON.stringify([order, divide]);

const make = (channel: Channel, order: PlayOrder, frame: number, divide: number): Promise<Picture> =>
  new Promise((resolve, reject) =>
    channel.show({ ...order, frame, divide }, resolve, (reason) => reject(new Error(reason))),
  );

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, Math.max(0, ms)));

/**
 * Plays a shot, every frame of it: what is ready is shown at the shot's rate; what is not is made ready as fast as it can be, shown when
 * it is there, and kept. A change of the look forgets what was made with the old one.
 */
export function usePlaying(order: PlayOrder | null, frames: Ranges, width: number): Played {
  const { playing, set } = useBench();
  const channel = useChannel(PRIORITY.picture);
  const [played, setPlayed] = useState<Played>(NOTHING);
  const ready = useRef<ReadyPictures | null>(null);
  ready.current ??= new ReadyPictures(BUDGET);
  const newest = useRef(order);
  useEffect(() => {
    newest.current = order;
  });
  useEffect(() => {
    if (!playing) return;
    let goes = true;
    const pictures = ready.current!;
    const divide = width > HALF_ABOVE ? 2 : 1;
    const play = async () => {
      const shown: number[] = [];
      let due = performance.now();
      const next = (place: number, steps = 1) => {
        const { speed, span } = useBench.getState();
        return nextPlace(place, speed * steps, placesIn(frames, span));
      };
      for (let index = Math.max(0, indexOfFrame(frames, useBench.getState().frame)); goes; index = next(index)) {
        const now = newest.current;
        if (!now) return;
        const frame = frameAt(frames, index)!;
        const way = wayOf(now, divide);
        pictures.madeBy(way);
        const ahead = Array.from({ length: AHEAD }, (_, k) => frameAt(frames, next(index, k + 1))!);
        const missing = [...new Set(ahead)].filter((number) => !pictures.get(number));
        browserEngine().prepare(missing.map((number) => ({ ...now, frame: number, divide })));
        const picture = pictures.get(frame) ?? (await make(channel(), now, frame, divide));
        if (newest.current && wayOf(newest.current, divide) === way) pictures.keep(frame, picture);
        await pause(due - performance.now());
        if (!goes) return;
        const at = performance.now();
        // What came late does not make the next ones hurry: each is seen for its time.
        due = Math.max(due, at - 1000 / now.frameRate) + 1000 / now.frameRate;
        shown.push(at);
        if (shown.length > RATE_OVER) shown.shift();
        const rate = shown.length > 2 ? (1000 * (shown.length - 1)) / (at - shown[0]!) : null;
        set({ frame });
        setPlayed({ picture, frame, look: now.look, problem: null, rate, ready: pictures.frames() });
      }
    };
    play().catch((error: Error) => {
      if (!goes) return;
      setPlayed((before) => ({ ...before, problem: error.message }));
      set({ playing: false });
    });
    return () => {
      goes = false;
      setPlayed((before) => ({ ...before, rate: null }));
    };
  }, [playing, frames, width, channel, set]);
  return played;
}
