import { LRUCache } from "lru-cache";
import { steadyNow } from "../waiting/clock";

const FIRST_WAIT_MS = 2000;
const LONGEST_WAIT_MS = 15 * 60_000;
/** So long after the last wrong one it is forgotten, ms. */
const FORGOTTEN_AFTER_MS = 60 * 60_000;
const MAX_REMEMBERED = 10_000;

/** Of whom wrong passphrases are counted, and how many are nobody's fault. */
export interface Counted {
  key: string;
  free: number;
}

/** A name at one address, the name wherever it is tried, and the address whatever names are tried there. */
export const countedFor = (name: string, address: string): Counted[] => [
  { key: `${address} ${name}`, free: 5 },
  { key: `name ${name}`, free: 20 },
  { key: `address ${address}`, free: 50 },
];

interface Failures {
  count: number;
  /** ms of the clock */
  last: number;
}

/** Who gave wrong passphrases lately: after a few, each takes twice as long until the next may be tried. */
export class Attempts {
  private readonly failures = new LRUCache<string, Failures>({ max: MAX_REMEMBERED, ttl: FORGOTTEN_AFTER_MS });

  /** `now`: a clock, ms. */
  constructor(private readonly now: () => number = steadyNow) {}

  /** Until one may be tried again, s; 0 for now. */
  waitFor(counted: readonly Counted[]): number {
    const waits = counted.map(({ key, free }) => {
      const failures = this.failures.get(key);
      if (!failures || failures.count < free) return 0;
      const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (failures.count - free));
      return failures.last + wait - this.now();
    });
    return Math.ceil(Math.max(0, ...waits) / 1000);
  }

  /** One more try. It counts before it is looked at, so that many at once are many. */
  count(counted: readonly Counted[]): void {
    for (const { key } of counted)
      this.failures.set(key, { count: (this.failures.get(key)?.count ?? 0) + 1, last: this.now() });
  }

  /** It was right. */
  forget(counted: readonly Counted[]): void {
    for (const { key } of counted) this.failures.delete(key);
  }
}
