import { api } from "../../shared/api";
import type { TakeInOrder, TakeInReport } from "../../movies/messages";
import { contentOf, type Dropped, isMovie } from "./files";

/** How far sending is, and what was refused by name. */
export interface Progress {
  done: number;
  of: number;
  /** What a movie was found to be, in words. */
  movies: string[];
  refused: { name: string; reason: string }[];
}

const AT_ONCE = 3;
const TRIES = 4;
const RETRY_AFTER_MS = 1500;
/** A refusal by the server is final; a broken connection is not. */
const isBroken = (error: unknown) => error instanceof TypeError;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function sendOne(batch: string, { path, file }: Dropped, signal: AbortSignal): Promise<void> {
  const sha256 = await contentOf(file);
  for (let attempt = 1; ; attempt++) {
    try {
      const [answer] = await api.offer(batch, [{ path, size: file.size, sha256 }]);
      const at = answer!.received;
      await api.send(batch, path, at, file.size, file.slice(at), signal);
      return;
    } catch (error) {
      if (signal.aborted || !isBroken(error) || attempt >= TRIES) throw error;
      await pause(RETRY_AFTER_MS);
    }
  }
}

/** Decodes a movie in a worker, which sends its frames. */
function sendMovie(
  batch: string,
  { path, file }: Dropped,
  signal: AbortSignal,
  report: (report: TakeInReport) => void,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const worker = new Worker("/engine/movie-in.js");
    const end = (work: () => void) => {
      worker.terminate();
      work();
    };
    signal.addEventListener("abort", () => end(() => reject(new Error("was cancelled"))), { once: true });
    worker.addEventListener("message", ({ data }: MessageEvent<TakeInReport>) => {
      report(data);
      if (data.kind === "done") end(resolve);
      else if (data.kind === "failed") end(() => reject(new Error(data.reason)));
    });
    worker.addEventListener("error", (event) =>
      end(() => reject(new Error(event.message || "the movie's worker failed"))),
    );
    worker.postMessage({ file, batch, stem: path.replace(/\.[^.]+$/, "") } satisfies TakeInOrder);
  });
}

/** Sends everything; what is refused is told by name and the rest goes on. */
export async function sendAll(
  batch: string,
  files: Dropped[],
  signal: AbortSignal,
  tell: (progress: Progress) => void,
): Promise<Progress> {
  const progress: Progress = { done: 0, of: files.length, movies: [], refused: [] };
  const told = () => tell({ ...progress, refused: [...progress.refused], movies: [...progress.movies] });
  const queue = [...files];
  const next = async (): Promise<void> => {
    for (let entry = queue.shift(); entry && !signal.aborted; entry = queue.shift()) {
      const { path } = entry;
      try {
        if (isMovie(entry)) {
          let counted = 0;
          await sendMovie(batch, entry, signal, (report) => {
            if (report.kind === "found") {
              progress.of += report.frames - 1;
              const notes = [
                `${report.width} × ${report.height}`,
                `${report.frames} frames at ${Number(report.framesPerSecond.toFixed(3))} a second`,
                report.codec,
                ...(report.variable ? ["variable rate made even"] : []),
                ...(report.rotation ? [`turned by ${report.rotation}°`] : []),
              ];
              progress.movies.push(`${path}: ${notes.join(", ")}`);
            } else if (report.kind === "frame") {
              progress.done += report.done - counted;
              counted = report.done;
            }
            told();
          });
        } else {
          await sendOne(batch, entry, signal);
          progress.done++;
        }
      } catch (error) {
        const reason = (error as Error).message;
        progress.refused.push({
          name: path,
          reason: reason.startsWith(`${path}: `) ? reason.slice(path.length + 2) : reason,
        });
        progress.done++;
      }
      told();
    }
  };
  told();
  await Promise.all(Array.from({ length: AT_ONCE }, next));
  return progress;
}
