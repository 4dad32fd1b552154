import PQueue from "p-queue";
import { type Engine, Superseded } from "../../../core/engine/engine";
import { resizeFrame } from "../../../core/engine/resize";
import { type Cabinet, cabinetOf } from "../../../core/profile/profiles";
import { type FetchFrame, FetchProblem } from "../fetch-frame";
import type { FromHost, Question, ToHost } from "../messages";
import { PRIORITY } from "../questions";
import { answer } from "./answers";
import { createSources, type Sources } from "./sources";

/** What a host is given by where it runs: a web worker, or a test on Node's engine. */
export interface HostWorld {
  startEngine(helpers: number): Promise<Engine>;
  fetchFrame: FetchFrame;
  send(message: FromHost, transfer: Transferable[]): void;
}

interface OpenChannel {
  /** The id of the newest question. */
  latest: Int32Array;
  priority: number;
  /** The question that is waited for. */
  gone: AbortController;
}

/** What is told is done in the order it is told in, before all that is asked later. */
const SETTING = PRIORITY.picked + 1;

/** The memory behind an answer's samples, which goes over without being copied. */
const buffersIn = (value: unknown): ArrayBuffer[] =>
  value && typeof value === "object" && !Array.isArray(value)
    ? Object.values(value).flatMap((part) =>
        ArrayBuffer.isView(part) && part.buffer instanceof ArrayBuffer ? [part.buffer] : [],
      )
    : [];

/** The engine's own thread: it fetches frames, compiles looks, and answers questions one after another. */
export function createHost({ startEngine, fetchFrame, send }: HostWorld): { hear(message: ToHost): void } {
  // One after another: a plan runs to its end, or to where it is superseded, before the next begins.
  const queue = new PQueue({ concurrency: 1 });
  const channels = new Map<number, OpenChannel>();
  let cabinet: Cabinet = cabinetOf([]);
  let started: { engine: Engine; sources: Sources } | null = null;

  const picturesAsked = () =>
    [...channels.values()].reduce(
      (sum, { latest, priority }) => (priority >= PRIORITY.compared ? sum + Atomics.load(latest, 0) : sum),
      0,
    );

  async function start(helpers: number): Promise<void> {
    const engine = await startEngine(helpers);
    const sources = createSources(fetchFrame, (frame, { width, height }, key) =>
      resizeFrame(engine, frame, width, height, key),
    );
    started = { engine, sources };
    send({ kind: "ready" }, []);
  }

  async function perform({ channel, id, question, order }: Question, gone: AbortSignal): Promise<void> {
    const isStale = () => {
      const open = channels.get(channel);
      return !open || Atomics.load(open.latest, 0) !== id;
    };
    if (!started || isStale()) return;
    try {
      const told = await answer(question, { ...started, cabinet, gone, isStale, picturesAsked }, order);
      send({ kind: "answer", channel, id, answer: told }, buffersIn(told));
    } catch (error) {
      if (error instanceof Superseded) return;
      const { message } = error as Error;
      const code = error instanceof FetchProblem ? error.code : "refused";
      send({ kind: "failed", channel, id, problem: { code, message } }, []);
    }
  }

  function ask(question: Question): void {
    const open = channels.get(question.channel);
    if (!open) return;
    open.gone.abort();
    open.gone = new AbortController();
    const { signal } = open.gone;
    void queue.add(() => perform(question, signal), { priority: open.priority });
  }

  function close(channel: number): void {
    channels.get(channel)?.gone.abort();
    channels.delete(channel);
  }

  function hear(message: ToHost): void {
    switch (message.kind) {
      case "start":
        return void queue.add(() => start(message.helpers), { priority: SETTING });
      case "cabinet":
        return void queue.add(() => void (cabinet = cabinetOf(message.profiles, message.tables)), {
          priority: SETTING,
        });
      case "open": {
        const { latest, priority } = message;
        return void channels.set(message.channel, {
          latest: new Int32Array(latest),
          priority,
          gone: new AbortController(),
        });
      }
      case "close":
        return close(message.channel);
      case "ask":
        return ask(message);
      // Frames are fetched beside whatever is being computed.
      case "prefetch":
        return started?.sources.prefetch(message.orders, message.atOnce);
    }
  }
  return { hear };
}
