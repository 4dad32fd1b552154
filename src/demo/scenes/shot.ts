import type { Plates } from "../render/picture";

/** A shot of the demo production: plates traced once, frames made from them. */
export interface DemoShot {
  id: string;
  name: string;
  frames: number;
  /** mm */
  sensor: { width: number; height: number };
  /** How its frames are delivered: scene-linear EXR with depth, or log-encoded DPX of 10 bits. */
  delivered?: "log";
  plates(width: number, height: number): Plates;
  trace(plates: Plates, y0: number, y1: number): void;
  /** Fills RGBA and depth (m) of frame `number` (from 1). */
  frame(plates: Plates, number: number, picture: Float32Array, depth: Float32Array): void;
}
