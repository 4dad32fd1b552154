import { useMemo } from "react";
import type { Output } from "@/core/compile/outputs/outputs";
import { alone as aloneIn } from "@/core/look/excerpt";
import type { Look } from "@/core/look/look";
import { keptLookOf, type Others, referenceLook } from "../../compare/compare";
import { useKeptLook } from "../../looks/kept-look";
import { usePlayed } from "../../pictures/played";
import type { Wanted } from "../../pictures/scheduler";
import { type Shown, usePicture } from "../../pictures/use-picture";
import { type Transport, usePlaying } from "../../pictures/use-playing";
import { useSource } from "../../pictures/use-source";
import { showing } from "../../view/inspect";
import { setView, useView, viewNow } from "../../view/store";
import type { ShotDetail } from "../../../contract/shots";

const transport: Transport = {
  now: viewNow,
  shown: (frame) => setView({ frame }),
  failed: () => setView({ playing: false }),
};

/** The picture as it is shown by a viewing exposure, which changes nothing else that may be looked at. */
const exposed = (output: Output, exposure: number): Output =>
  output.kind === "display" && exposure !== 0 ? { ...output, exposure } : output;

/** What is seen in the picture's place, and what it is held against. */
function useSeen(shot: ShotDetail, look: Look, others: Others) {
  const { preview, inspect, alone, selected, marked, compare, held, exposure } = useView(
    "preview",
    "inspect",
    "alone",
    "selected",
    "marked",
    "compare",
    "held",
    "exposure",
  );
  const { reference, way, times } = compare;
  const kept = useKeptLook(keptLookOf(held ?? reference, shot.id, others));
  const against = useMemo(
    () => referenceLook(held ?? reference, look, selected, others, kept),
    [look, held, reference, selected, others, kept],
  );
  const isBeside = !preview && (held !== null || way === "wipe" || way === "side");
  const seen = useMemo(() => {
    const display = exposed({ kind: "display" }, exposure);
    if (preview) return { look: preview.look, still: preview.still, output: display };
    const own = showing(inspect, alone && selected ? aloneIn(look, selected) : look, selected, marked);
    if (way !== "difference" || !against || held || own.output.kind !== "display" || own.ends)
      return { ...own, output: exposed(own.output, exposure) };
    const { look: reference, still } = against;
    return { look: own.look, output: { kind: "difference" as const, reference, still, times } };
  }, [look, preview, inspect, alone, selected, marked, way, against, held, times, exposure]);
  const compared = useMemo(() => {
    if (!against || !isBeside) return null;
    const own = showing(inspect, against.look, selected, marked);
    return { ...own, output: exposed(own.output, exposure), still: against.still };
  }, [against, isBeside, inspect, selected, marked, exposure]);
  return { seen, compared, against };
}

export interface Pictures {
  /** What is wanted, for who asks for other parts of it; null while it plays. */
  wanted: Wanted | null;
  comparedWanted: Wanted | null;
  shown: Shown;
  /** What it is compared with, where that is seen. */
  other: Shown | null;
  /** The look it is held against, seen or not. */
  against: ReturnType<typeof useSeen>["against"];
  isDifference: boolean;
  /** Whether the picture is there as the screen needs it, and nothing moves. */
  isResting: boolean;
}

/** The pictures of the Bench: of the look, of what it is compared with, and those that are played. */
export function usePictures(shot: ShotDetail, look: Look, others: Others): Pictures {
  const { frame, inSight, enough, enoughInWindow, ownWindow, corners, playing, inspect } = useView(
    "frame",
    "inSight",
    "enough",
    "enoughInWindow",
    "ownWindow",
    "corners",
    "playing",
    "inspect",
  );
  const { seen, compared, against } = useSeen(shot, look, others);
  const source = useSource(shot, look);
  const { width, height } = shot.footage;
  usePlaying(playing, { ...source, ...seen }, { frames: shot.frames, width }, transport);
  const played = usePlayed((state) => state);
  const common = { ...source, frame, width, height };
  // Demo footage that is still being computed is not fetched ahead.
  const frames = shot.progress < 1 ? undefined : shot.frames;
  const wanted = playing ? null : { ...common, ...seen, frames };
  const comparedWanted = compared && !playing ? { ...common, ...compared } : null;
  // Its own window shows all of it, as large as it is there.
  const looked = ownWindow ? { rows: null, enough: Math.min(enough, enoughInWindow) } : { rows: inSight, enough };
  const still = usePicture("picture", wanted && !corners.open ? { ...wanted, ...looked } : null);
  const other = usePicture("compared", comparedWanted && !corners.open ? { ...comparedWanted, ...looked } : null);
  // What was played last stays until the still picture of where it stopped is there.
  const stays = !still.isCurrent && played.frame === frame && played.look === seen.look ? played.picture : null;
  return {
    wanted,
    comparedWanted,
    shown: playing ? { ...played, busy: false } : stays ? { ...still, picture: stays } : still,
    other: compared ? other : null,
    against,
    isDifference: seen.output.kind === "difference" && inspect.kind === "picture",
    isResting: !playing && still.isCurrent && !still.busy,
  };
}
