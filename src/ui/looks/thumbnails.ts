import { LRUCache } from "lru-cache";
import { browserEngine } from "../engine/engine";
import type { Channel } from "../engine/client";
import { type PictureOrder, type Picture } from "../engine/questions";
import { PRIORITY } from "../engine/questions";

/** Small pictures of looks, made one after another when the engine has nothing else to do. */

const PICTURES_KEPT = 400;
const made = new LRUCache<string, Picture>({ max: PICTURES_KEPT });

interface Waiting {
  key: string;
  order: PictureOrder;
  /** How often it was tried in vain. */
  tries: number;
  tell(picture: Picture): void;
}
let waiting: Waiting[] = [];
/** What was taken back while it was about to be tried again. */
const dropped = new WeakSet<Waiting>();
let isBusy = false;
let channel: Channel | null = null;
/** Footage may still be on its way: it is tried again after a while, ms, and so many times. */
const TRY_AGAIN_AFTER = 2000;
const MAX_TRIES = 60;

function next(): void {
  const [first] = waiting;
  if (isBusy || !first) return;
  isBusy = true;
  const { key, order } = first;
  channel ??= browserEngine().openChannel(PRIORITY.idle);
  const done = () => {
    isBusy = false;
    next();
  };
  channel.ask(
    "picture",
    order,
    (picture) => {
      made.set(key, picture);
      const told = waiting.filter((entry) => entry.key === key);
      waiting = waiting.filter((entry) => entry.key !== key);
      for (const { tell } of told) tell(picture);
      done();
    },
    () => {
      // It goes to the end of the line: the others need not wait for it.
      const failed = waiting.filter((entry) => entry.key === key);
      waiting = waiting.filter((entry) => entry.key !== key);
      const again = failed.filter(({ tries }) => tries < MAX_TRIES);
      setTimeout(() => {
        waiting.push(...again.filter((entry) => !dropped.has(entry)));
        for (const entry of again) entry.tries++;
        next();
      }, TRY_AGAIN_AFTER);
      done();
    },
  );
}

const MIN_WIDTH = 200;
const DIVISORS = [8, 4, 2] as const;

/** By how much a frame of some width (px) is divided for a small picture of it. */
export const smallDivide = (width: number): number => DIVISORS.find((divide) => width / divide >= MIN_WIDTH) ?? 1;

/** Asks for a small picture; one that was made before is told at once. Gives what takes the question back. */
export function askThumbnail(order: PictureOrder, tell: (picture: Picture) => void): () => void {
  const key = JSON.stringify(order);
  const found = made.get(key);
  if (found) {
    tell(found);
    return () => {};
  }
  const entry: Waiting = { key, order, tries: 0, tell };
  waiting.push(entry);
  next();
  return () => {
    dropped.add(entry);
    waiting = waiting.filter((other) => other !== entry);
  };
}
