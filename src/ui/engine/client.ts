import type { Transform } from "../../core/colour/transform/transform";
import type { Profile } from "../../core/profile/profiles";
import type { Problem } from "../../contract/problems";
import type { FromHost, ToHost } from "./messages";
import type { AnswerTo, FrameOrder, OrderOf, Priority, QuestionKind } from "./questions";

/** One place that answers are shown in: only the answer to its newest question is told. */
export interface Channel {
  /** Asks; an older question of the channel is dropped where it stands. */
  ask<K extends QuestionKind>(
    question: K,
    order: OrderOf<K>,
    answered: (answer: AnswerTo<K>) => void,
    failed?: (problem: Problem) => void,
  ): void;
  close(): void;
}

/** The engine as the interface sees it. */
export interface EngineClient {
  /** Resolves when the engine's threads are up. */
  ready: Promise<void>;
  /** Glass and view tables that looks may name. */
  setCabinet(profiles: Profile[], tables: [string, Transform][]): void;
  /** Opens a channel. What one of a higher priority asks is answered first. */
  openChannel(priority: Priority): Channel;
  /**
   * Fetches frames ahead of their time, in order and so many at once, in place of those told before; nothing is told of
   * it.
   */
  prefetch(orders: FrameOrder[], atOnce: number): void;
  /** What the host says comes in here. */
  hear(message: FromHost): void;
}

interface Waiting {
  latest: Int32Array;
  answered: ((answer: never) => void) | null;
  failed: ((problem: Problem) => void) | undefined;
}

/** Begins a host of so many helper threads beside it. */
export function createEngineClient(tell: (message: ToHost) => void, helpers: number): EngineClient {
  const open = new Map<number, Waiting>();
  let opened = 0;
  let setReady = () => {};
  const ready = new Promise<void>((resolve) => (setReady = resolve));
  tell({ kind: "start", helpers });

  const hear = (message: FromHost) => {
    if (message.kind === "ready") return setReady();
    const waiting = open.get(message.channel);
    if (!waiting || message.id !== waiting.latest[0]) return;
    if (message.kind === "failed") waiting.failed?.(message.problem);
    else waiting.answered?.(message.answer as never);
  };

  const openChannel = (priority: Priority): Channel => {
    const channel = opened++;
    const latest = new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));
    const waiting: Waiting = { latest, answered: null, failed: undefined };
    open.set(channel, waiting);
    tell({ kind: "open", channel, priority, latest: latest.buffer as SharedArrayBuffer });
    return {
      ask: (question, order, answered, failed) => {
        Object.assign(waiting, { answered, failed });
        tell({ kind: "ask", channel, id: Atomics.add(latest, 0, 1) + 1, question, order });
      },
      close: () => {
        Atomics.add(latest, 0, 1);
        open.delete(channel);
        tell({ kind: "close", channel });
      },
    };
  };

  return {
    ready,
    setCabinet: (profiles, tables) => tell({ kind: "cabinet", profiles, tables }),
    openChannel,
    prefetch: (orders, atOnce) => tell({ kind: "prefetch", orders, atOnce }),
    hear,
  };
}
