"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api } from "../shared/api";
import type { Shot, ShotChange } from "../../contract/shots";

/** Sends changes of shots one after another, each above the revision that the one before it made. */
export function useShotChanges(shots: Shot[]): (change: ShotChange) => Promise<void> {
  const client = useQueryClient();
  const known = useRef<Record<string, number>>({});
  const turn = useRef<Promise<unknown>>(Promise.resolve());
  return (change) => {
    const now = async () => {
      const seen = shots.map(({ id, revision }) => ({ id, revision: Math.max(revision, known.current[id] ?? 0) }));
      try {
        Object.assign(known.current, (await api.changeShots(seen, change)).revisions);
      } catch (error) {
        // What it is now is shown; the next change is made above that.
        known.current = {};
        throw error;
      } finally {
        await client.invalidateQueries({ queryKey: ["shots"] });
        void client.invalidateQueries({ queryKey: ["shot"] });
        void client.invalidateQueries({ queryKey: ["productions"] });
      }
    };
    const done = turn.current.then(now, now);
    turn.current = done.catch(() => {});
    return done;
  };
}
