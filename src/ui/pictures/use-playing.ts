import { useEffect, useRef } from "react";
import type { Ranges } from "@/core/frame/ranges";
import { browserEngine, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/questions";
import { forgetPlayed, played } from "./played";
import { createPlayer, type Playing, type PlayOrder } from "./player";

/** Playing waits for all of them in turn: the server reads two at once. */
const PREFETCHED_AT_ONCE = 2;

const clock = {
  now: () => performance.now(),
  wait: (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds)),
};

/** Where playing stands, and what is told of it. */
export interface Transport {
  now(): Omit<Playing, "order"> & { frame: number };
  shown(frame: number): void;
  failed(): void;
}

/** Plays a shot while `isPlaying` (player); what is shown goes into `played`. */
export function usePlaying(
  isPlaying: boolean,
  order: PlayOrder | null,
  { frames, width }: { frames: Ranges; width: number },
  transport: Transport,
): void {
  const channel = useChannel(PRIORITY.picture);
  const newest = useRef(order);
  useEffect(() => {
    newest.current = order;
  });
  useEffect(() => forgetPlayed, [order?.shotId]);
  const player = useRef<ReturnType<typeof createPlayer> | null>(null);
  useEffect(() => {
    if (!isPlaying) return;
    player.current ??= createPlayer({
      clock,
      make: (wanted) =>
        new Promise((resolve, reject) =>
          channel().ask("picture", wanted, resolve, ({ message }) => reject(new Error(message))),
        ),
      prefetch: (orders) => browserEngine().prefetch(orders, PREFETCHED_AT_ONCE),
      show: ({ picture, frame, order: { look }, rate, ready }) => {
        transport.shown(frame);
        played.setState({ picture, frame, look, problem: null, rate, ready });
      },
    });
    const gone = new AbortController();
    const now = () => ({ order: newest.current, ...transport.now() });
    player.current.play(frames, transport.now().frame, width, now, gone.signal).catch((error: Error) => {
      if (gone.signal.aborted) return;
      played.setState({ problem: error.message });
      transport.failed();
    });
    return () => {
      gone.abort();
      played.setState({ rate: null });
    };
  }, [isPlaying, frames, width, channel, transport]);
}
