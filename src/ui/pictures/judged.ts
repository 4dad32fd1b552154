import { useEffect } from "react";
import { useStore } from "zustand";
import { createStore } from "zustand/vanilla";
import type { Judged } from "@/core/judge/judge";
import type { Look } from "@/core/look/look";
import { useChannel } from "../engine/engine";
import { type FrameOrder, PRIORITY } from "../engine/questions";

/** Time a picture must rest before it is judged, ms. */
const REST = 900;
/** Frames wider than this are judged at half their size, px. */
const HALF_ABOVE = 2048;

interface Verdict {
  /** What was judged. */
  key: string | null;
  judged: Judged | null;
}

const verdict = createStore<Verdict>(() => ({ key: null, judged: null }));

/** What is to be said of the picture that rests; null until it is known. */
export const useJudged = (): Judged | null => useStore(verdict, ({ judged }) => judged);

/** Has the picture judged once it rests. `isResting`: whether it is there as the screen needs it. */
export function useJudging(
  source: Omit<FrameOrder, "divide" | "look">,
  look: Look,
  width: number,
  isResting: boolean,
): void {
  const channel = useChannel(PRIORITY.idle);
  const key = JSON.stringify([source, look]);
  useEffect(() => {
    if (verdict.getState().key === key) return;
    verdict.setState({ key: null, judged: null });
    if (!isResting) return;
    const divide = width > HALF_ABOVE ? 2 : 1;
    const judge = () =>
      channel().ask("judged", { ...source, look, divide }, (judged) => verdict.setState({ key, judged }));
    const timer = setTimeout(judge, REST);
    return () => clearTimeout(timer);
    // The key is the order, whole.
  }, [channel, key, isResting]); // eslint-disable-line react-hooks/exhaustive-deps
}
