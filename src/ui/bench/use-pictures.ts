import { useEffect, useRef, useState } from "react";
import { frameAt, indexOfFrame, type Ranges } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import { browserEngine, isWhole, type Picture, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/messages";
import type { Output } from "@/core/compile/outputs/outputs";

/** Time a control must rest before the half-size picture, and before the full one, ms. */
const HALF_REST = 90;
const REST = 200;
/** Frames at least this wide are shown smaller while a control moves. */
const PROXY_ABOVE = 960;
/** Where the half-size proxy would take the engine longer than this (ms), a quarter-size one follows the hand. */
const SLOW = 40;
/** Frames brought ahead of a step, the likeliest first: counted the way the last step went. */
const AHEAD = [1, 2, -1];
/** Time a look must rest before frames are brought ahead, ms; after a step they are at once. */
const AHEAD_AFTER = 600;

export interface Wanted {
  look: Look;
  shotId: string;
  encoding: string;
  plates: string;
  frame: number;
  shot: { first: number; last: number };
  frameRate: number;
  width: number;
  output: Output;
  /** Rows in sight, px of the full frame, where they are not all of it: no more is made at full size. */
  rows?: readonly [number, number] | null;
  /** Marked where the look brought it to an end of the scale. */
  ends?: boolean;
  /** A still in the frame's place. */
  still?: number;
  /** The shot's frames that are there: the pixels of those that may be asked for next are brought when this one is shown. */
  frames?: Ranges;
}

export interface Shown {
  picture: Picture | null;
  /** What is seen where the picture does not reach: the proxy it followed. */
  under?: Picture | null;
  problem: string | null;
  /** Whether a newer or fuller picture is on its way. */
  busy: boolean;
}

/** The last picture that was whole. */
const wholeOf = ({ picture, under }: Pick<Shown, "picture" | "under">): Picture | null =>
  picture && isWhole(picture) ? picture : (under ?? null);

interface Still extends Shown {
  /** Whether the picture is of what is wanted, and not of what was wanted before. */
  isCurrent: boolean;
}

/** Keeps a picture current: a proxy at once, the full frame when nothing has moved for a moment. */
export function usePicture(priority: "picture" | "compared", wanted: Wanted | null): Still {
  const channel = useChannel(PRIORITY[priority]);
  const [shown, setShown] = useState<Omit<Shown, "busy"> & { key: string | null }>({
    picture: null,
    under: null,
    problem: null,
    key: null,
  });
  /** What a half-size proxy takes, by the last proxy made, ms. */
  const pace = useRef(0);
  const retry = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const ahead = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const before = useRef<{ look: Look; frame: number } | null>(null);
  const key = wanted && JSON.stringify(wanted);
  useEffect(() => {
    if (!wanted) return;
    const { width, frames = [], rows, ...order } = wanted;
    const engine = browserEngine();
    const isProxied = width > PROXY_ABOVE;
    // A control that moves is followed by the proxy until it rests; another frame is wanted whole as soon as there is something of it.
    const last = before.current;
    const isStep = last !== null && JSON.stringify(last.look) === JSON.stringify(order.look);
    const way = last && last.frame > order.frame ? -1 : 1;
    before.current = order;
    const prepare = () => {
      const index = indexOfFrame(frames, order.frame);
      const next = AHEAD.flatMap((by) => frameAt(frames, index + by * way) ?? []);
      const sizes = isProxied ? [2, 1] : [1];
      engine.prepare(next.flatMap((frame) => sizes.map((divide) => ({ ...order, frame, divide }))));
    };
    const ask = (divide: number) => {
      clearTimeout(retry.current);
      channel().show(
        { ...order, divide, rows: divide === 1 && isProxied && rows ? rows : undefined },
        (picture) => {
          if (picture.divide > 1) pace.current = picture.milliseconds * (picture.divide / 2) ** 2;
          setShown((before) => ({
            picture,
            under: isWhole(picture) ? null : wholeOf(before),
            problem: null,
            key,
          }));
          if (picture.divide > 1 && isStep) ask(1);
          if (picture.divide === 1) ahead.current = setTimeout(prepare, isStep ? 0 : AHEAD_AFTER);
        },
        (problem) => {
          setShown((before) => ({ ...before, problem }));
          // A frame may still be on its way.
          if (/still being computed/.test(problem)) retry.current = setTimeout(() => ask(divide), 1500);
        },
      );
    };
    const first = !isProxied ? 1 : !isStep && pace.current > SLOW ? 4 : 2;
    // What a hand moves goes before what may be wanted later.
    engine.prepare(isStep && isProxied ? [{ ...order, divide: 1 }] : []);
    ask(first);
    const half = first === 4 ? setTimeout(() => ask(2), HALF_REST) : undefined;
    const timer = isProxied && !isStep ? setTimeout(() => ask(1), REST) : undefined;
    return () => {
      clearTimeout(half);
      clearTimeout(timer);
      clearTimeout(retry.current);
      clearTimeout(ahead.current);
    };
    // The key is the order, whole.
  }, [channel, key]); // eslint-disable-line react-hooks/exhaustive-deps
  return { ...shown, isCurrent: shown.key === key, busy: shown.key !== key || shown.picture?.divide !== 1 };
}
