import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api } from "../shared/api";
import type { ShotDetail } from "../../contract/shots";
import type { Others } from "./compare";

/** What a shot's picture may be held against beside itself: its kept versions, and the looks of the library. */
export function useOthers({ versions }: ShotDetail): Others {
  const ready = useQuery({ queryKey: ["ready-looks"], queryFn: api.readyLooks, staleTime: Infinity });
  return useMemo(() => ({ versions, looks: ready.data ?? [] }), [versions, ready.data]);
}
