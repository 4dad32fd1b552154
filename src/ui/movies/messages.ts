import type { Ranges } from "../../core/frame/ranges";

/** What the worker that takes movies in is told, and what it tells. */
export interface TakeInOrder {
  file: File;
  batch: string;
  /** Path of the frames in the batch, without number and extension. */
  stem: string;
}

export type TakeInReport =
  | {
      kind: "found";
      frames: number;
      framesPerSecond: number;
      variable: boolean;
      rotation: number;
      width: number;
      height: number;
      codec: string;
    }
  | { kind: "frame"; done: number; frames: number }
  | { kind: "done" }
  | { kind: "failed"; reason: string };

/** What the worker that makes movies is told, and what it tells. */
export interface DeliverOrder {
  render: number;
  frames: Ranges;
  framesPerSecond: number;
  kind: MovieKind;
  /** Transfer of the picture, as H.273 names it. */
  transfer: "bt709" | "iec61966-2-1";
}

export const MOVIE_KINDS = { "webm-vp9": "WebM, VP9", "mp4-av1": "MP4, AV1", "mp4-avc": "MP4, H.264" } as const;
export type MovieKind = keyof typeof MOVIE_KINDS;

export type DeliverReport =
  { kind: "frame"; done: number; frames: number } | { kind: "done"; file: string } | { kind: "failed"; reason: string };
