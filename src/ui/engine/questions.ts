import type { Output } from "../../core/compile/outputs/outputs";
import type { ScopesOutput } from "../../core/compile/outputs/scopes";
import type { HighlightKey } from "../../core/elements/definition";
import type { Judged } from "../../core/judge/judge";
import type { OverscanNeeded } from "../../core/judge/overscan";
import type { Look } from "../../core/look/look";
import type { ScopeCounts } from "../../core/scopes/count";

/** Questions are answered by their channel's priority, the highest first, and then in turn. */
export const PRIORITY = { picked: 3, picture: 2, compared: 1, read: 0, idle: -1 } as const;
export type Priority = (typeof PRIORITY)[keyof typeof PRIORITY];

/** A frame of a shot, and the look it is seen through. */
export interface FrameOrder {
  look: Look;
  shotId: string;
  /** Changes when the shot's encoding does, so that frames are fetched again. */
  encoding: string;
  /** The same for the footage that the look takes beside the shot. */
  plates: string;
  frame: number;
  /** First and last frame of the shot. */
  shot: { first: number; last: number };
  frameRate: number;
  /** The frame is made so many times smaller, 1, 2, 4 or 8. */
  divide: number;
  /** Rows to compute, [first, after the last), px of the full frame from the top. Default: all. */
  rows?: readonly [number, number];
  /** A still whose light is taken in place of the frame's. */
  still?: number;
}

export interface PictureOrder extends FrameOrder {
  output: Output;
  /** The picture is marked where the look brought it to an end of the display's scale (core/judge/clipping). */
  ends?: boolean;
}

export interface Picture {
  /** Size of the whole, px. */
  width: number;
  height: number;
  /** The row its pixels begin with, and how many rows there are; all where it was wanted whole. */
  top: number;
  rows: number;
  divide: number;
  /** 8-bit RGBA. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Time it took the engine. */
  milliseconds: number;
}

/** Scene-linear red, green and blue of the working space. */
export type Light = [number, number, number];

/** What becomes of the grey ramp. */
export interface Ramp {
  /** Signal of each step, RGBA, through what depends on no neighbour. */
  signal: Float32Array<ArrayBuffer>;
  /** The ramp through the whole path, 8-bit RGBA. */
  picture: Uint8ClampedArray<ArrayBuffer>;
  width: number;
  height: number;
}

/**
 * All that the engine may be asked, and what it answers. A new question is one entry here and its answer in
 * host/answers.
 */
export interface Questions {
  picture: { order: PictureOrder; answer: Picture };
  /** Light at a pixel of the full frame, as the look leaves it. */
  light: { order: FrameOrder & { x: number; y: number }; answer: Light };
  /** How much of the frame's light lies where (core/scopes/light-histogram), as a key judges it. */
  histogram: { order: FrameOrder & { judged: HighlightKey["channel"] }; answer: number[] };
  /** The grey ramp (core/scopes/ramp) through a look: its tonal part as signal, and all of it as a picture. */
  ramp: { order: Omit<FrameOrder, "divide">; answer: Ramp };
  /** Counts for scopes: the output says of what. */
  scopes: { order: FrameOrder & { output: ScopesOutput }; answer: ScopeCounts };
  /** What the look needs beyond the frame, px of the full frame. */
  beyond: { order: FrameOrder; answer: OverscanNeeded };
  /** What is to be said of the picture (core/judge). */
  judged: { order: FrameOrder; answer: Judged };
}
export type QuestionKind = keyof Questions;
export type OrderOf<K extends QuestionKind> = Questions[K]["order"];
export type AnswerTo<K extends QuestionKind> = Questions[K]["answer"];

/** Whether all of a picture is there. */
export const isWhole = ({ rows, height }: Picture): boolean => rows === height;
