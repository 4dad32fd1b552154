import { growTo } from "./module";

const ALIGNMENT = 64;
/** The first page is left to the module's own data. */
const FIRST_FREE = 65536;

/** Bytes a kernel that takes four pixels a turn may read beyond a buffer's end. */
const BEYOND = 64;

const aligned = (bytes: number) => Math.ceil(bytes / ALIGNMENT) * ALIGNMENT;

/**
 * An allocator over one WebAssembly memory: the first hole that fits, for what lasts the last one. Addresses are bytes;
 * freed neighbours join again.
 */
export class Heap {
  private free: { at: number; bytes: number }[] = [];
  private readonly taken = new Map<number, number>();
  private end = FIRST_FREE;
  /** Bytes now taken. */
  inUse = 0;
  /** The most bytes that were ever taken at once. */
  peak = 0;

  constructor(readonly memory: WebAssembly.Memory) {}

  /** `lasts`: it stays for many frames, and is put where it does not part the room that frames take in turn. */
  allocate(size: number, { lasts = false } = {}): number {
    const bytes = aligned(Math.max(size, 1));
    let at: number;
    const fits = (hole: { bytes: number }) => hole.bytes >= bytes;
    const index = lasts ? this.free.findLastIndex(fits) : this.free.findIndex(fits);
    if (index >= 0) {
      const hole = this.free[index]!;
      at = hole.at;
      hole.at += bytes;
      hole.bytes -= bytes;
      if (!hole.bytes) this.free.splice(index, 1);
    } else {
      // A hole at the end is made larger, not left behind.
      const last = this.free.at(-1);
      const isAtEnd = last !== undefined && last.at + last.bytes === this.end;
      at = isAtEnd ? last.at : this.end;
      growTo(this.memory, at + bytes + BEYOND);
      if (isAtEnd) this.free.pop();
      this.end = at + bytes;
    }
    this.taken.set(at, bytes);
    this.inUse += bytes;
    this.peak = Math.max(this.peak, this.inUse);
    return at;
  }

  release(at: number): void {
    const bytes = this.taken.get(at);
    if (bytes === undefined) throw new Error(`Nothing is allocated at ${at}`);
    this.taken.delete(at);
    this.inUse -= bytes;
    const next = this.free.findIndex((hole) => hole.at > at);
    const index = next < 0 ? this.free.length : next;
    this.free.splice(index, 0, { at, bytes });
    for (const i of [index, index - 1]) {
      const here = this.free[i];
      const after = this.free[i + 1];
      if (here && after && here.at + here.bytes === after.at) {
        here.bytes += after.bytes;
        this.free.splice(i + 1, 1);
      }
    }
  }
}
