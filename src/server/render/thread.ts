import { Worker } from "node:worker_threads";
import type { ReadFiles } from "../../store/schema/schema";
import { steadyNow } from "../waiting/clock";
import { built } from "../../formats/project";
import type { FromThread, ToThread } from "./protocol";
import type { RenderOrder } from "./worker";

/** How long things may take, ms. */
export interface Deadline {
  /** A thread told to stop ends after the frame it is at; one that does not is ended. */
  grace: number;
  /** A thread says something with every frame; one that says nothing for so long is taken for hung, and ended. */
  silence: number;
}
export const DEADLINE: Deadline = { grace: 10_000, silence: 15 * 60_000 };

/** The program a render runs in; tests give another. */
export type StartThread = (order: RenderOrder) => Worker;
const startBuiltThread: StartThread = (order) => new Worker(built("render-worker.mjs"), { workerData: order });

/** A render's thread, as whoever hands it portions sees it. */
export interface RenderThread {
  /**
   * Has frames made, or the render closed; `hear`: what is told meanwhile. Resolves with what was read for it, when that
   * is done or was stopped. Throws where the thread broke, ended or fell silent; it takes nothing more then.
   */
  ask(what: Extract<ToThread, { kind: "make" | "close" }>, hear: (said: FromThread) => void): Promise<ReadFiles | null>;
  /** No further frame of what is asked for; after a while by force. */
  stop(grace?: number): void;
  /** Ends it when it has done what it was asked for. */
  end(): Promise<void>;
}

/** Starts a thread for a render. */
export function startThread(
  order: RenderOrder,
  { deadline = DEADLINE, start = startBuiltThread }: { deadline?: Deadline; start?: StartThread } = {},
): RenderThread {
  const thread = start(order);
  const tell = (message: ToThread) => thread.postMessage(message);
  let problem: string | null = null;
  let heardAt = steadyNow();
  let answer: {
    hear(said: FromThread): void;
    resolve(read: ReadFiles | null): void;
    reject(error: Error): void;
  } | null = null;
  let isGone = false;
  const gone = new Promise<void>((resolve) =>
    thread.once("exit", () => {
      isGone = true;
      clearInterval(watch);
      answer?.reject(new Error(problem ?? "its thread ended before it was done"));
      resolve();
    }),
  );
  const watch = setInterval(
    () => {
      if (!answer || steadyNow() - heardAt < deadline.silence) return;
      problem = `nothing was heard of it for ${Math.round(deadline.silence / 60_000)} minutes, and it was ended`;
      void thread.terminate();
    },
    Math.min(5000, deadline.silence),
  ).unref();
  thread.on("message", (said: FromThread) => {
    heardAt = steadyNow();
    if (said.kind !== "ended") return answer?.hear(said);
    answer?.resolve(said.read);
    answer = null;
  });
  thread.on("error", (error) => (problem = error.message));
  return {
    ask(what, hear) {
      if (isGone) return Promise.reject(new Error(problem ?? "its thread has ended"));
      heardAt = steadyNow();
      return new Promise((resolve, reject) => {
        answer = { hear, resolve, reject };
        tell(what);
      });
    },
    stop(grace = deadline.grace) {
      const stopped = answer;
      tell({ kind: "stop" });
      setTimeout(() => {
        if (answer && answer === stopped) void thread.terminate();
      }, grace).unref();
    },
    async end() {
      tell({ kind: "end" });
      const late = setTimeout(() => void thread.terminate(), deadline.grace).unref();
      await gone;
      clearTimeout(late);
    },
  };
}
