import { useQuery } from "@tanstack/react-query";
import type { Look } from "@/core/look/look";
import { api } from "../shared/api";

/** Where a look is kept, and which of it: what is kept under one revision stays as it is. */
export type KeptLook =
  | { in: "library"; id: string; revision: number | null }
  | { in: "version"; shotId: string; id: number }
  | { in: "shot"; id: string; revision: number }
  | { in: "still"; id: number };

export async function fetchKeptLook(kept: KeptLook): Promise<Look> {
  switch (kept.in) {
    case "library":
      return (await api.libraryLook(kept.id)).look;
    case "version":
      return (await api.version(kept.shotId, kept.id)).body;
    case "shot":
      return (await api.currentLook(kept.id)).look;
    case "still":
      return (await api.still(kept.id)).look;
  }
}

/** A kept look, fetched once it is wanted; undefined until it is there. Null is none. */
export function useKeptLook(kept: KeptLook | null, isWanted = true): Look | undefined {
  const query = useQuery({
    queryKey: ["kept look", kept],
    queryFn: () => fetchKeptLook(kept!),
    staleTime: Infinity,
    enabled: kept !== null && isWanted,
  });
  return kept ? query.data : undefined;
}
