"use client";
import { useQueryClient } from "@tanstack/react-query";

/** What the engine and the lists know of profiles is asked for anew. */
export function useRefreshedCabinet(): () => Promise<void> {
  const client = useQueryClient();
  return async () => {
    await Promise.all([
      client.invalidateQueries({ queryKey: ["cabinet"] }),
      client.invalidateQueries({ queryKey: ["profiles"] }),
    ]);
  };
}
