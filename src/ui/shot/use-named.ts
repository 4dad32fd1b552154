import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { fromPlain } from "@/core/colour/transform/plain";
import type { Transform } from "@/core/colour/transform/transform";
import type { Look } from "@/core/look/look";
import { type Cabinet, cabinetOf, type Profile } from "@/core/profile/profiles";
import { api } from "../shared/api";

/** The glass and the tables a look may name. */
export interface Named {
  profiles: Profile[];
  tables: [string, Transform][];
}

/** All glass there is, and the view table of a look; null until they are there. */
export function useNamed(look: Look | null): { named: Named; cabinet: Cabinet } | null {
  const profiles = useQuery({ queryKey: ["profiles"], queryFn: api.profiles, staleTime: Infinity });
  const lut = look?.view.kind === "lut" ? (look.view.lut ?? null) : null;
  const table = useQuery({
    queryKey: ["table", lut],
    queryFn: async () => [[lut!, fromPlain(await api.table(lut!))]] as [string, Transform][],
    enabled: lut !== null,
    staleTime: Infinity,
  });
  const tables = useMemo(() => (lut !== null && table.data) || [], [lut, table.data]);
  const isThere = lut === null || table.data !== undefined || table.isError;
  return useMemo(() => {
    if (!profiles.data || !isThere) return null;
    const named = { profiles: profiles.data, tables };
    return { named, cabinet: cabinetOf(named.profiles, named.tables) };
  }, [profiles.data, tables, isThere]);
}
