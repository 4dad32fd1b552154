import type { HighlightKey } from "../../core/elements/definition";
import type { Look } from "../../core/look/look";
import type { Transform } from "../../core/colour/transform/transform";
import type { Profile } from "../../core/profile/profiles";
import type { ScopeCounts } from "../../core/scopes/count";
import type { Judged } from "../../core/judge/judge";
import type { Output } from "../../core/compile/outputs/outputs";

/** What is asked for is done by its channel's priority, the highest first, and then in turn. */
export const PRIORITY = { picked: 3, picture: 2, compared: 1, read: 0, idle: -1 } as const;

export interface FrameOrder {
  /** Pictures are asked for by channel; a newer request of a channel supersedes the one before it. */
  channel: number;
  id: number;
  look: Look;
  shotId: string;
  /** Changes when the shot's encoding does, so that frames are fetched again. */
  encoding: string;
  /** The same of the footage that the look takes beside the shot. */
  plates: string;
  frame: number;
  /** First and last frame of the shot. */
  shot: { first: number; last: number };
  frameRate: number;
  divide: number;
  output: Output;
  /** Rows that are wanted of the picture, px of the full frame: the first, and the one after the last. Left out, all are. */
  rows?: readonly [number, number];
  /** The picture is marked where the look brought it to an end of the display's scale (core/judge/clipping). */
  ends?: boolean;
  /** A still whose light comes in, in the place of the frame's. */
  still?: number;
}

/** What becomes of the grey ramp. */
export interface Ramp {
  /** Signal of each step, red, green and blue, through what depends on no neighbour. */
  signal: Float32Array<ArrayBuffer>;
  /** The ramp through the whole path, 8-bit RGBA. */
  picture: Uint8ClampedArray<ArrayBuffer>;
  width: number;
  height: number;
}

export type ToHost =
  | { kind: "start"; helpers: number }
  /** Opens a channel. `latest` holds the id of its newest request (Int32), so that one which is under way learns of it. */
  | { kind: "open"; channel: number; priority: number; latest: SharedArrayBuffer }
  | { kind: "close"; channel: number }
  | { kind: "profiles"; profiles: Profile[]; tables: [string, Transform][] }
  | { kind: "frame"; order: FrameOrder }
  /** Brings the pixels of frames that will be asked for, the first ones first. */
  | { kind: "prepare"; orders: FrameOrder[] }
  /** Light at a pixel of the full frame, as the look leaves it. */
  | { kind: "probe"; order: FrameOrder; x: number; y: number }
  /** How much of the frame's light lies where, as a key judges it, as the look leaves it. */
  | { kind: "histogram"; order: FrameOrder; judged: HighlightKey["channel"] }
  /** The grey ramp (core/scopes/ramp) through a look: its tonal part as signal, and all of it as a picture. */
  | { kind: "ramp"; order: FrameOrder }
  /** Counts for scopes: the order's output says of what. */
  | { kind: "scopes"; order: FrameOrder }
  /** What is to be said of the picture that a look makes (core/judge). */
  | { kind: "judge"; order: FrameOrder };

export type FromHost =
  | { kind: "ready" }
  | {
      kind: "frame";
      channel: number;
      id: number;
      width: number;
      height: number;
      /** The row the pixels begin with, and how many there are. */
      top: number;
      rows: number;
      divide: number;
      pixels: Uint8ClampedArray<ArrayBuffer>;
      milliseconds: number;
    }
  | { kind: "probe"; channel: number; id: number; light: [number, number, number] }
  | { kind: "histogram"; channel: number; id: number; bins: number[] }
  | { kind: "ramp"; channel: number; id: number; ramp: Ramp }
  | { kind: "scopes"; channel: number; id: number; counts: ScopeCounts }
  | { kind: "judge"; channel: number; id: number; judged: Judged }
  | { kind: "failed"; channel: number; id: number; reason: string };
