import { z } from "zod";
import type { RenderState } from "./renders";

/** A program that makes frames. */
export interface FarmWorker {
  id: string;
  name: string;
  host: string;
  /** Versions of the program and of its engine. */
  program: string;
  engine: number;
  /** It takes no more work. */
  isDraining: boolean;
  /** What it makes frames of; null while it waits. */
  renderId: number | null;
  /** Made since it was started. */
  frames: number;
  framesPerSecond: number | null;
  /** Since it was last heard, s. */
  silentFor: number;
  /** It was not heard for so long that others make what it had in hand. */
  isTakenForDead: boolean;
}

/** A render that waits or is made, as it is cut into portions. */
export interface QueuedRender {
  id: number;
  name: string;
  state: RenderState;
  paused: boolean;
  priority: number;
  /** Version of the engine it was queued for; null for any. */
  engine: number | null;
  frames: number;
  done: number;
  portions: { open: number; leased: number; done: number };
}

/** GET /api/farm: who makes frames, and of what, in the order it is taken. */
export interface FarmStatus {
  /** Version of this program's engine. */
  engine: number;
  workers: FarmWorker[];
  renders: QueuedRender[];
}

/** PATCH /api/farm/workers/ID */
export const workerChange = z
  .object({ isDraining: z.boolean().describe("it takes no more work; a program that is only a worker ends") })
  .strict();

export const MAX_PRIORITY = 100;

/** PATCH /api/renders/ID: a render that waits or is made. */
export const renderChange = z
  .object({
    paused: z.boolean().describe("no further frame is begun until it is gone on with"),
    priority: z
      .number()
      .int()
      .min(-MAX_PRIORITY)
      .max(MAX_PRIORITY)
      .describe("those with a higher one are made first; alike, the older"),
  })
  .partial()
  .strict();
export type RenderChange = z.output<typeof renderChange>;
