import type { BrowserMovie } from "@/contract/renders";
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
  kind: MovieCoding;
  /** Transfer of the picture, as H.273 names it. */
  transfer: "bt709" | "iec61966-2-1";
}

/** Codings of movies that a browser may be able to write. */
export const MOVIE_CODINGS = {
  "webm-vp9": { label: "WebM, VP9", extension: "webm" },
  "mp4-av1": { label: "MP4, AV1", extension: "mp4" },
  "mp4-avc": { label: "MP4, H.264", extension: "mp4" },
} as const satisfies Record<string, { label: string; extension: BrowserMovie }>;
export type MovieCoding = keyof typeof MOVIE_CODINGS;

export type DeliverReport =
  { kind: "frame"; done: number; frames: number } | { kind: "done"; file: string } | { kind: "failed"; reason: string };
