import type { Transform } from "../../core/colour/transform/transform";
import type { Profile } from "../../core/profile/profiles";
import type { Problem } from "../../contract/problems";
import type { AnswerTo, FrameOrder, OrderOf, QuestionKind } from "./questions";

/** A question of a channel: a newer one of the same channel supersedes it. */
export interface Question<K extends QuestionKind = QuestionKind> {
  channel: number;
  id: number;
  question: K;
  order: OrderOf<K>;
}

export type ToHost =
  | { kind: "start"; helpers: number }
  /**
   * Opens a channel. `latest` holds the id of its newest question (Int32), so that one which is being answered learns
   * of it.
   */
  | { kind: "open"; channel: number; priority: number; latest: SharedArrayBuffer }
  | { kind: "close"; channel: number }
  | { kind: "cabinet"; profiles: Profile[]; tables: [string, Transform][] }
  | ({ kind: "ask" } & Question)
  /** Fetches the pixels of frames that may be asked for, the first ones first, in place of those told before. */
  | { kind: "prefetch"; orders: FrameOrder[]; atOnce: number };

export type FromHost =
  | { kind: "ready" }
  | { kind: "answer"; channel: number; id: number; answer: AnswerTo<QuestionKind> }
  | { kind: "failed"; channel: number; id: number; problem: Problem };
