import { useStore } from "zustand";
import { createStore } from "zustand/vanilla";
import type { Look } from "@/core/look/look";
import type { Picture } from "../engine/questions";

/** What is being played, or was last. */
export interface Played {
  picture: Picture | null;
  /** What the picture is of. */
  frame: number | null;
  look: Look | null;
  problem: string | null;
  /** Pictures a second, as they were shown; null until there are some, and while nothing plays. */
  rate: number | null;
  /** Frames that are ready to be played at the shot's rate. */
  ready: ReadonlySet<number>;
}

const NOTHING_PLAYED: Played = {
  picture: null,
  frame: null,
  look: null,
  problem: null,
  rate: null,
  ready: new Set(),
};

export const played = createStore<Played>(() => NOTHING_PLAYED);

/** What was played of one shot is nothing of another's. */
export const forgetPlayed = (): void => played.setState(NOTHING_PLAYED);

/** Hears of a part of what is played. */
export const usePlayed = <T>(select: (state: Played) => T): T => useStore(played, select);
