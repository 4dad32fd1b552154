import { useShots } from "../shared/production";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useLibrary } from "../looks/use-library";
import { api } from "../shared/api";
import type { ShotDetail } from "../../contract/shots";
import type { Others } from "./compare";

/** What a shot's picture may be held against beside itself: its kept versions, other looks, and stills of any shot. */
export function useOthers({ id: own, versions }: ShotDetail): Others {
  const library = useLibrary();
  const stills = useQuery({ queryKey: ["stills"], queryFn: api.stills });
  const shots = useShots();
  return useMemo(() => {
    const nameOf = (id: string) => shots.data?.find((shot) => shot.id === id)?.name ?? id;
    return {
      versions,
      looks: library?.looks ?? [],
      shots: (library?.worn ?? [])
        .filter(({ shotId }) => shotId !== own && shots.data?.some(({ id }) => id === shotId))
        .map(({ shotId, revision }) => ({ id: shotId, name: nameOf(shotId), revision })),
      stills: stills.data ?? [],
    };
  }, [own, versions, library, stills.data, shots.data]);
}
