import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Look } from "@/core/look/look";
import type { Axis } from "@/core/wall/axis";
import type { Choices } from "./choices";
import { fetchKeptLook, type KeptLook } from "../looks/kept-look";

/** The looks and versions that the sides of a wall name, as far as they are there. */
export function useWallLooks(
  shotId: string | null,
  axes: readonly (Axis | null)[],
  { looks, versions }: Pick<Choices, "looks" | "versions">,
): { looks: ReadonlyMap<string, { label: string; look: Look }>; isThere: boolean } {
  const wanted = axes.flatMap((axis): { id: string; label: string; kept: KeptLook }[] => {
    if (axis?.kind === "look")
      return looks
        .filter(({ id }) => axis.values.includes(id))
        .map(({ id, name }) => ({ id, label: name, kept: { in: "library", id, revision: null } }));
    if (axis?.kind === "version" && shotId)
      return versions
        .filter(({ id }) => axis.values.includes(String(id)))
        .map(({ id, name, number }) => ({
          ...{ id: String(id), label: `${number}. ${name}` },
          kept: { in: "version", shotId, id },
        }));
    return [];
  });
  const found = useQueries({
    queries: wanted.map(({ kept }) => ({ queryKey: ["kept look", kept], queryFn: () => fetchKeptLook(kept) })),
  });
  const there = found.map(({ data }) => data);
  const key = JSON.stringify(wanted.map(({ id }, i) => [id, there[i] !== undefined]));
  return useMemo(
    () => ({
      looks: new Map(wanted.flatMap(({ id, label }, i) => (there[i] ? [[id, { label, look: there[i] }]] : []))),
      isThere: there.every((look) => look !== undefined),
    }),
    // What is wanted, and what of it is there.
    [key], // eslint-disable-line react-hooks/exhaustive-deps
  );
}
