import { useMemo } from "react";
import type { Names } from "@/core/look/differences";
import type { Cabinet } from "@/core/profile/profiles";
import type { Shot } from "../../contract/shots";

/** Glass and shots by their names, for what is said of looks. */
export const useNames = (cabinet: Cabinet, shots: readonly Shot[]): Names =>
  useMemo(
    () => ({
      nameOf: (id) =>
        cabinet.lenses.get(id)?.name ??
        cabinet.filters.get(id)?.name ??
        shots.find((shot) => shot.id === id)?.name ??
        id,
      lensOf: (id) => cabinet.lenses.get(id) ?? null,
    }),
    [cabinet, shots],
  );
