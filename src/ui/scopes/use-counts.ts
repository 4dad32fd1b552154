import { useEffect, useState } from "react";
import type { ScopeArea } from "@/core/compile/outputs/scopes";
import type { Look } from "@/core/look/look";
import type { ScopeCounts } from "@/core/scopes/count";
import { useChannel } from "../engine/engine";
import { type FrameOrder, type Picture } from "../engine/questions";
import { PRIORITY } from "../engine/questions";
import { countedScale, type Scopes } from "../view/scopes";

/** Frames are counted at no more than half size: what a scope shows does not need more. */
const MIN_DIVIDE = 2;

/**
 * Counts of a look's picture, counted anew with every picture that is shown of it: a control that moves is followed by
 * the same small frames. What may change without a new picture (a reference) says so by `renewedBy`. Null until there
 * are some, or where nothing is to be counted.
 */
export function useCounts(
  order: Omit<FrameOrder, "look" | "divide">,
  look: Look | null,
  picture: Picture | null,
  scopes: Scopes,
  renewedBy = "",
): ScopeCounts | null {
  const channel = useChannel(PRIORITY.read);
  const [counts, setCounts] = useState<ScopeCounts | null>(null);
  const part: ScopeArea | null = scopes.part === "draw" ? null : scopes.part;
  const scale = countedScale(scopes.scale);
  const vectors = scopes.shown.includes("vectors");
  const isOn = scopes.open && look !== null && picture !== null;
  const counted = JSON.stringify([scale, vectors, part, renewedBy]);
  useEffect(() => {
    if (!isOn) return setCounts(null);
    const whole = part ?? { x: 0, y: 0, width: 1, height: 1 };
    const output = { kind: "scopes" as const, scale, part: whole, vectors };
    const divide = Math.max(MIN_DIVIDE, picture.divide);
    channel().ask("scopes", { ...order, look, divide, output }, setCounts);
    // Not with the look or the frame: asked before their picture, the counts would be made before it, too.
  }, [channel, counted, picture, isOn]); // eslint-disable-line react-hooks/exhaustive-deps
  return counts;
}
