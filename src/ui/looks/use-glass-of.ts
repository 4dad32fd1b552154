import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { fromPlain } from "@/core/colour/transform/plain";
import { browserEngine, engineProblem } from "../engine/engine";
import { api } from "../shared/api";

/**
 * Gives the engine what looks name, outside the Bench: glass, and the tables they are seen through. Null asks for
 * nothing. Tells when it has it.
 */
export function useGlassOf(named: readonly string[] | null): boolean {
  const [isReady, setReady] = useState(false);
  const profiles = useQuery({
    queryKey: ["profiles"],
    queryFn: api.profiles,
    staleTime: Infinity,
    enabled: named !== null,
  });
  const tables = useQuery({
    queryKey: ["tables of looks", named],
    queryFn: () => Promise.all(named!.map(async (id) => [id, fromPlain(await api.table(id))] as const)),
    staleTime: Infinity,
    enabled: named !== null,
  });
  useEffect(() => {
    if (!profiles.data || !tables.data || engineProblem()) return;
    browserEngine().setCabinet(
      profiles.data,
      tables.data.map(([id, table]) => [id, table]),
    );
    setReady(true);
  }, [profiles.data, tables.data]);
  return isReady && named !== null;
}
