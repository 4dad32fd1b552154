import { useEffect, useRef, useSyncExternalStore } from "react";
import { browserEngine, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/questions";
import {
  createPictureScheduler,
  keyOf,
  NOTHING_SHOWN,
  type PictureScheduler,
  type ShownPicture,
  type Wanted,
} from "./scheduler";

/** What is shown in a picture's place. */
export interface Shown extends Pick<ShownPicture, "picture" | "problem"> {
  under?: ShownPicture["under"];
  /** Whether a newer or larger picture is on its way. */
  busy: boolean;
}

interface Still extends Shown {
  /** Whether the picture is of what is wanted, and not of what was wanted before. */
  isCurrent: boolean;
}

/** One after another: what is asked for now finds the server's other readers free. */
const PREFETCHED_AT_ONCE = 1;

const browserClock = {
  after(milliseconds: number, work: () => void) {
    const timer = setTimeout(work, milliseconds);
    return () => clearTimeout(timer);
  },
};

/** Keeps a picture of what is wanted current (scheduler). */
export function usePicture(priority: "picture" | "compared", wanted: Wanted | null): Still {
  const channel = useChannel(PRIORITY[priority]);
  const current = useRef<PictureScheduler | null>(null);
  current.current ??= createPictureScheduler(browserClock, {
    picture: (order, made, failed) => channel().ask("picture", order, made, failed),
    prefetch: (orders) => browserEngine().prefetch(orders, PREFETCHED_AT_ONCE),
  });
  const scheduler = current.current;
  const shown = useSyncExternalStore(scheduler.subscribe, scheduler.shown, () => NOTHING_SHOWN);
  const key = wanted && keyOf(wanted);
  useEffect(() => {
    scheduler.want(wanted);
    // The key is the wish, whole.
  }, [scheduler, key]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => scheduler.close, [scheduler]);
  const isCurrent = shown.key === key;
  return { ...shown, isCurrent, busy: !isCurrent || !shown.isEnough };
}
