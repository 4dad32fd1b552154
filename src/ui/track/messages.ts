import type { Region, TrackStep } from "../../core/track/follow";
import type { TrackModel } from "../../core/track/track";

/** What is followed, and through which frames, one after another; the first is the frame it begins on. */
export interface TrackOrder {
  shotId: string;
  frames: number[];
  region: Region;
  start: TrackStep;
  model: TrackModel;
}

export type TrackReport =
  | { kind: "step"; step: TrackStep; done: number; of: number }
  /** It was lost on a frame, which is not part of the track. */
  | { kind: "lost"; frame: number; confidence: number }
  | { kind: "done" }
  | { kind: "failed"; reason: string };
