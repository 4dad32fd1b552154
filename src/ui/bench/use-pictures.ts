import { useEffect, useRef, useState } from "react";
import type { Look } from "@/core/look/look";
import type { Output } from "@/core/engine/compile";
import { browserEngine, type Picture } from "../engine/engine";

/** Time a control must rest before the full picture is made, ms. */
const REST = 180;
/** Frames at least this wide are shown smaller while a control moves. */
const PROXY_ABOVE = 960;

interface Wanted {
  look: Look | null;
  shotId: string;
  encoding: string;
  frame: number;
  width: number;
  output: Output;
  /** Proxy only, while playing. */
  quick: boolean;
}

export interface Shown {
  picture: Picture | null;
  problem: string | null;
  /** Whether a newer or fuller picture is on its way. */
  busy: boolean;
}

/** Keeps one channel's picture current: a proxy at once, the full frame when nothing has moved for a moment. */
export function usePicture(channel: "picture" | "without", wanted: Wanted | null): Shown {
  const [shown, setShown] = useState<{ picture: Picture | null; problem: string | null; key: string | null }>({ picture: null, problem: null, key: null });
  const retry = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const key = wanted && JSON.stringify(wanted);
  useEffect(() => {
    if (!wanted?.look) return;
    const { look, quick, width, ...rest } = wanted;
    const engine = browserEngine();
    const ask = (divide: number) => {
      clearTimeout(retry.current);
      const order = { ...rest, look: look!, divide };
      engine.show(channel, order, (picture) => setShown({ picture, problem: null, key }), (problem) => {
        setShown((before) => ({ ...before, problem }));
        // A frame of the demo may still be on its way.
        if (/still being computed/.test(problem)) retry.current = setTimeout(() => ask(divide), 1500);
      });
    };
    const proxy = width > PROXY_ABOVE;
    ask(proxy ? 2 : 1);
    const timer = proxy && !quick ? setTimeout(() => ask(1), REST) : undefined;
    return () => {
      clearTimeout(timer);
      clearTimeout(retry.current);
    };
    // The key is the order, whole.
  }, [channel, key]); // eslint-disable-line react-hooks/exhaustive-deps
  return { ...shown, busy: shown.key !== key || shown.picture?.divide !== 1 };
}
