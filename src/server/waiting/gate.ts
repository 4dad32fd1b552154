import { Busy } from "../errors/errors";
import { steadyNow } from "./clock";

/** How long a request waits in all, whatever for, and what says that nobody waits for it any more. */
export interface Deadline {
  signal?: AbortSignal;
  /** ms, as the steady clock counts. */
  until: number;
}

export const WAITS_AT_MOST_MS = 20_000;

/** When a request came in, ms: set by the server program, whatever the sender wrote there. */
export const ASKED_AT = "x-asked-at";

/** A request's deadline, from when it came in. */
export const deadlineOf = ({ headers, signal }: Pick<Request, "headers" | "signal">): Deadline => ({
  signal,
  until: (Number(headers.get(ASKED_AT)) || steadyNow()) + WAITS_AT_MOST_MS,
});

interface Waiting {
  weight: number;
  enter(): void;
}

/**
 * Lets in as much at once as has room, the rest in the order it came. What waits too long is turned away (Busy); what
 * nobody waits for any more leaves the line.
 */
export class Gate {
  private inside = 0;
  private readonly line: Waiting[] = [];

  constructor(
    /** In the unit of the weights. */
    private readonly room: number,
  ) {}

  /** Gives what lets go again; letting go twice does nothing. What is heavier than the room goes in alone. */
  async enter(weight: number, { signal, until }: Deadline): Promise<() => void> {
    signal?.throwIfAborted();
    if (this.line.length || !this.fits(weight)) await this.wait(weight, until, signal);
    else this.inside += weight;
    let left = false;
    return () => {
      if (left) return;
      left = true;
      this.inside -= weight;
      this.admit();
    };
  }

  private fits(weight: number): boolean {
    return this.inside === 0 || this.inside + weight <= this.room;
  }

  private wait(weight: number, until: number, signal?: AbortSignal): Promise<void> {
    return new Promise((resolve, reject) => {
      const leave = (error: unknown) => {
        this.line.splice(this.line.indexOf(waiting), 1);
        end();
        reject(error);
        this.admit();
      };
      const gone = () => leave(signal!.reason);
      const timer = setTimeout(() => leave(new Busy()), Math.max(0, until - steadyNow()));
      const end = () => {
        clearTimeout(timer);
        signal?.removeEventListener("abort", gone);
      };
      const waiting: Waiting = {
        weight,
        enter: () => {
          end();
          resolve();
        },
      };
      signal?.addEventListener("abort", gone, { once: true });
      this.line.push(waiting);
    });
  }

  private admit(): void {
    while (this.line.length && this.fits(this.line[0]!.weight)) {
      const next = this.line.shift()!;
      this.inside += next.weight;
      next.enter();
    }
  }
}
