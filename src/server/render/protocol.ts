/** What a render's thread is told, and what it tells. */
import type { Ranges } from "../../core/frame/ranges";
import type { FrameResult } from "../../store/farm";
import type { ReadFiles } from "../../store/schema/schema";
import type { LedgerEntry } from "./ledger";

export type ToThread =
  /** Make these frames, but for those that are there already. */
  | { kind: "make"; frames: Ranges; made: LedgerEntry[] }
  /** Every frame is made: write what stands beside them. */
  | { kind: "close"; read: ReadFiles }
  /** No further frame of what is being made. */
  | { kind: "stop" }
  | { kind: "end" };

export type FromThread =
  /** What of the footage's files does not go on, in words. */
  | { kind: "losses"; losses: string[] }
  /** A frame was there already: nothing to enter. */
  | { kind: "skipped"; frame: number }
  | { kind: "frame"; result: FrameResult; framesPerSecond: number }
  /** What was asked for is done, as far as it could be. `read`: the files that were read for it. */
  | { kind: "ended"; read: ReadFiles | null };
