import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Look } from "@/core/look/look";
import { sourceFor } from "../pictures/use-source";
import { useShownLook } from "../shot/shown-look";
import { useView } from "../view/store";
import { api } from "../shared/api";
import { useNames } from "./names";

/** What everything on the shelf is seen on: the shot and the frame on the Bench. */
export function useShelf() {
  const { shot, look, cabinet } = useShownLook();
  const { restingFrame: frame } = useView("restingFrame");
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots }).data;
  const all = useMemo(() => shots ?? [], [shots]);
  const beside = useMemo(
    () => all.filter(({ production }) => production.id === shot.production.id),
    [all, shot.production.id],
  );
  const names = useNames(cabinet, all);
  return {
    shot,
    look,
    cabinet,
    frame,
    shots: all,
    /** Those of the same production. */
    beside,
    names,
    stretch: shot.desqueezed ? 1 : shot.squeeze,
    /** A look on the frame, as the engine is asked for it. */
    orderOf: (of: Look) => ({ ...sourceFor(shot, of, all), look: of, frame }),
  };
}
