import type { Rows } from "./kernels";
import type { Heap } from "./memory";

/** The result of a step, in memory. */
export interface CacheEntry {
  /** Address, bytes. */
  at: number;
  bytes: number;
  /** The rows that are there. Default: all. */
  rows?: Rows;
}

/** Where the result of a step is cached of which only some rows were computed. */
const partKey = (cacheKey: string) => `${cacheKey}\npart`;

/** Results of steps by their cache keys, the least recently used given up beyond `budget` bytes. */
export class StepCache {
  private readonly entries = new Map<string, CacheEntry>();
  private bytes = 0;

  constructor(
    private readonly heap: Heap,
    private readonly budget: number,
  ) {}

  has(cacheKey: string): boolean {
    return this.entries.has(cacheKey);
  }

  /** The key under which all of a step's result is, or `rows` of it; undefined where they are not. */
  find(cacheKey: string, rows?: Rows): string | undefined {
    if (this.entries.has(cacheKey)) return cacheKey;
    if (!rows) return undefined;
    const partly = partKey(cacheKey);
    const found = this.entries.get(partly)?.rows;
    return found && found[0] <= rows[0] && found[1] >= rows[1] ? partly : undefined;
  }

  /** What stands under a key, now the most recently used. */
  use(cacheKey: string): CacheEntry {
    const found = this.entries.get(cacheKey)!;
    this.entries.delete(cacheKey);
    this.entries.set(cacheKey, found);
    return found;
  }

  /**
   * Takes a result over, whole or (`rows`) in part, in place of what stood under its key; gives the key. What is least
   * recently used gives way to it.
   */
  add(cacheKey: string, entry: CacheEntry): string {
    const key = entry.rows ? partKey(cacheKey) : cacheKey;
    const before = this.entries.get(key);
    if (before) {
      this.release(key);
      this.heap.release(before.at);
    }
    this.makeRoom(entry.bytes);
    this.entries.set(key, entry);
    this.bytes += entry.bytes;
    return key;
  }

  /** Gives up what is least recently used until a result of so many bytes is within the budget, or nothing is left. */
  makeRoom(bytes: number): void {
    for (const [old, { at }] of this.entries) {
      if (this.bytes + bytes <= this.budget) break;
      this.release(old);
      this.heap.release(at);
    }
  }

  /** Drops a result without freeing its memory, which the caller goes on to use. */
  release(cacheKey: string): void {
    this.bytes -= this.entries.get(cacheKey)!.bytes;
    this.entries.delete(cacheKey);
  }
}
