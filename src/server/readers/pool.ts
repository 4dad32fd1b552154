import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { FileError } from "../../formats/error";
import type { Deadline } from "../waiting/gate";
import { Busy } from "../errors/errors";
import { steadyNow } from "../waiting/clock";
import { built } from "../../formats/project";
import type { Answer, Done, Kind, Order, Task } from "./tasks";

/** Reads of pictures at once, and how long one may take, ms. */
const READERS = Math.max(2, Math.min(4, availableParallelism()));
const TAKES_AT_MOST_MS = 60_000;
/** Memory that reads under way may take together, bytes; a larger one goes alone. */
const ROOM = 1024 * 2 ** 20;
/** A reader's own heap, MiB: its pictures lie outside it. */
const HEAP_MIB = 512;

interface Job {
  key: string;
  order: Order;
  name: string;
  /** About how much memory it takes, bytes. */
  weight: number;
  waiting: number;
  settle: { resolve(value: Done[Kind]): void; reject(error: unknown): void };
  result: Promise<Done[Kind]>;
  started: boolean;
  late?: ReturnType<typeof setTimeout>;
}

/**
 * Threads that read pictures. Equal requests are one read; one that nobody waits for any more is not begun; one that
 * takes too long is ended with its thread, and another thread takes its place.
 */
class ReaderPool {
  private readonly idle: Worker[] = [];
  private running = 0;
  private room = ROOM;
  private readonly line: Job[] = [];
  private readonly jobs = new Map<string, Job>();

  /**
   * `key`: equal for equal requests. `name`: the file, for messages. Throws FileError, or Busy where it would wait too
   * long.
   */
  async run<K extends Kind>(
    kind: K,
    task: Task[K],
    { key, name, weight, signal, until }: { key: string; name: string; weight: number } & Deadline,
  ): Promise<Done[K]> {
    signal?.throwIfAborted();
    const job = this.jobs.get(key) ?? this.queue({ kind, task } as Order, key, name, weight, until);
    job.waiting++;
    const gone = () => this.leave(job);
    signal?.addEventListener("abort", gone, { once: true });
    try {
      return (await job.result) as Done[K];
    } finally {
      signal?.removeEventListener("abort", gone);
    }
  }

  private queue(order: Order, key: string, name: string, weight: number, until: number): Job {
    let settle!: Job["settle"];
    const result = new Promise<Done[Kind]>((resolve, reject) => (settle = { resolve, reject }));
    result.catch(() => {});
    const job: Job = { key, order, name, weight, waiting: 0, settle, result, started: false };
    this.jobs.set(key, job);
    this.line.push(job);
    const waits = Math.max(0, until - steadyNow());
    // Cleared when it is begun or dropped: a timer holds the job, and with it the picture that was read.
    job.late = setTimeout(() => this.drop(job, new Busy()), waits);
    queueMicrotask(() => this.begin());
    return job;
  }

  private leave(job: Job): void {
    job.waiting--;
    if (job.waiting === 0 && !job.started)
      this.drop(job, new DOMException("Nobody waits for it any more", "AbortError"));
  }

  private drop(job: Job, error: unknown): void {
    const at = this.line.indexOf(job);
    if (at < 0) return;
    this.line.splice(at, 1);
    clearTimeout(job.late);
    this.jobs.delete(job.key);
    job.settle.reject(error);
  }

  private begin(): void {
    while (this.line.length && this.running < READERS) {
      const job = this.line[0]!;
      if (this.running > 0 && job.weight > this.room) return;
      this.line.shift();
      job.started = true;
      clearTimeout(job.late);
      this.running++;
      this.room -= job.weight;
      this.perform(job);
    }
  }

  private perform(job: Job): void {
    const worker =
      this.idle.pop() ?? new Worker(built("reader.mjs"), { resourceLimits: { maxOldGenerationSizeMb: HEAP_MIB } });
    worker.unref();
    const end = (isUsable: boolean, tell: () => void) => {
      clearTimeout(limit);
      worker.off("message", answered).off("error", broke).off("exit", left);
      if (isUsable) this.idle.push(worker);
      else void worker.terminate();
      this.running--;
      this.room += job.weight;
      this.jobs.delete(job.key);
      tell();
      this.begin();
    };
    const fail = (reason: string) => () => job.settle.reject(new FileError(job.name, reason));
    const limit = setTimeout(
      () => end(false, fail(`takes longer to read than ${TAKES_AT_MOST_MS / 1000} seconds`)),
      TAKES_AT_MOST_MS,
    );
    const answered = (answer: Answer) => {
      if ("done" in answer) end(true, () => job.settle.resolve(answer.done));
      else if ("failed" in answer)
        end(true, () => job.settle.reject(new FileError(answer.failed.file, answer.failed.reason)));
      else end(true, () => job.settle.reject(new Error(answer.broken)));
    };
    const broke = (error: NodeJS.ErrnoException) => {
      const isMemory = error.code === "ERR_WORKER_OUT_OF_MEMORY";
      end(false, isMemory ? fail("takes more memory to read than is given to it") : () => job.settle.reject(error));
    };
    const left = () => end(false, fail("could not be read: its reader ended"));
    worker.on("message", answered).on("error", broke).on("exit", left);
    worker.postMessage(job.order);
  }
}

const holder = globalThis as { paleHaloReaders?: ReaderPool };

/** The process's readers. */
export const readers = (): ReaderPool => (holder.paleHaloReaders ??= new ReaderPool());
