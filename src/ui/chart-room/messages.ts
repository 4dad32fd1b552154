import type { Region } from "@/core/measure/chart";
import type { Reading, ReadingOrder } from "@/core/measure/readings";

/** A frame by the server's address of its light. */
export interface PictureOrder {
  address: string;
  /** What it is called in what is told of it. */
  name: string;
}

/** What a thread is asked to measure; `sensor` in mm. Without a reading it only shows the pictures. */
export interface MeasureOrder {
  pictures: PictureOrder[];
  sensor: { width: number; height: number };
  region: Region | null;
  reading: ReadingOrder | null;
}

export type MeasureReport =
  /** A picture as a display shows it. */
  | { kind: "picture"; address: string; width: number; height: number; bitmap: ImageBitmap }
  /** How much of it is done, 0 to 1, and what is being done. */
  | { kind: "progress"; share: number; step: string }
  | { kind: "done"; reading: Reading | null }
  /** The pictures cannot be measured, or not be had. */
  | { kind: "refused"; reason: string };
