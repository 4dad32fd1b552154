import { useEffect, useState } from "react";
import type { Judged } from "@/core/judge/judge";
import type { Look } from "@/core/look/look";
import { type Order, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/messages";

/** Time a picture must rest before it is judged, ms. */
const REST = 900;
/** Frames wider than this are judged at half their size, px. */
const HALF_ABOVE = 2048;

/** What is to be said of the picture, once it rests; null until then. `isResting`: whether the picture is there in full. */
export function useJudged(
  source: Omit<Order, "output" | "divide" | "look">,
  look: Look | null,
  width: number,
  isResting: boolean,
): Judged | null {
  const channel = useChannel(PRIORITY.idle);
  const [judged, setJudged] = useState<{ key: string; judged: Judged } | null>(null);
  const key = JSON.stringify([source, look]);
  useEffect(() => {
    if (!isResting || !look || judged?.key === key) return;
    const divide = width > HALF_ABOVE ? 2 : 1;
    const timer = setTimeout(
      () => channel().judge({ ...source, look, divide }, (made) => setJudged({ key, judged: made })),
      REST,
    );
    return () => clearTimeout(timer);
    // The key is the order, whole.
  }, [channel, key, isResting]); // eslint-disable-line react-hooks/exhaustive-deps
  return judged?.key === key ? judged.judged : null;
}
