import { api } from "../../shared/api";
import type { TakeInOrder, TakeInReport } from "../../movies/messages";
import { contentOf, type Dropped, isMovie } from "./files";

/** How far sending is, and what was refused by name. */
export interface Progress {
  done: number;
  of: number;
  /** What a movie was found to be, or how far a large file is, in words. */
  movies: string[];
  refused: { name: string; reason: string }[];
}

const AT_ONCE = 3;
const TRIES = 4;
const RETRY_AFTER_MS = 1500;
/** A refusal by the server is final; a broken connection is not. */
const isBroken = (error: unknown) => error instanceof TypeError;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Files are sent in pieces of so many bytes: how far a large one is can be told. */
const PIECE = 64 * 2 ** 20;

/** `tell`: hears what share of it the server has. */
async function sendOne(
  batch: string,
  { path, file }: Dropped,
  signal: AbortSignal,
  tell: (share: number) => void,
): Promise<void> {
  const sha256 = await contentOf(file);
  const { size } = file;
  for (let attempt = 1; ; attempt++) {
    try {
      const [answer] = await api.offer(batch, [{ path, size, sha256 }]);
      let at = answer!.received;
      // What is all here is still to be looked at: an empty piece asks for it.
      do {
        const until = Math.min(size, at + PIECE);
        await api.send(batch, path, { at: Math.min(at, size), until, size }, file.slice(at, until), signal);
        at = until;
        tell(at / size);
      } while (at < size);
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

/**
 * Sends everything; what is refused is told by name and the rest goes on. `readsMovies`: the server takes them as they
 * are; else this browser decodes them.
 */
export async function sendAll(
  batch: string,
  files: Dropped[],
  { signal, readsMovies }: { signal: AbortSignal; readsMovies: boolean },
  tell: (progress: Progress) => void,
): Promise<Progress> {
  const progress: Progress = { done: 0, of: files.length, movies: [], refused: [] };
  const told = () => tell({ ...progress, refused: [...progress.refused], movies: [...progress.movies] });
  const queue = [...files];
  const next = async (): Promise<void> => {
    for (let entry = queue.shift(); entry && !signal.aborted; entry = queue.shift()) {
      const { path } = entry;
      try {
        if (isMovie(entry) && !readsMovies) {
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
          const isLarge = entry.file.size > PIECE;
          await sendOne(batch, entry, signal, (share) => {
            if (!isLarge) return;
            const others = progress.movies.filter((one) => !one.startsWith(`${path}: `));
            const words = `${path}: ${Math.floor(100 * share)} % of ${Math.ceil(entry.file.size / 2 ** 20)} MB sent`;
            progress.movies = share < 1 ? [...others, words] : others;
            told();
          });
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
