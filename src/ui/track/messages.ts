import type { Region, Step } from "../../core/track/follow";
import type { TrackModel } from "../../core/track/track";

/** What is followed, and through which frames, one after another; the first is the frame it begins on. */
export interface TrackOrder {
  shotId: string;
  frames: number[];
  region: Region;
  start: Step;
  model: TrackModel;
}

export type TrackReport =
  | { kind: "step"; step: Step; done: number; of: number }
  /** It was lost on a frame, which is not part of the track. */
  | { kind: "lost"; frame: number; confidence: number }
  | { kind: "done" }
  | { kind: "failed"; reason: string };
