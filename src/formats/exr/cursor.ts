import type { FileError } from "../error";

const MAX_NAME_LENGTH = 255;

/** Reads a header in order; running past the end is a FileError. */
export class Cursor {
  constructor(
    private readonly bytes: Buffer,
    public at: number,
    private readonly bad: (reason: string) => FileError,
  ) {}

  private need(count: number): void {
    if (this.at + count > this.bytes.length)
      throw this.bad(`the file ends inside its header, at byte ${this.bytes.length}`);
  }

  peek(): number {
    this.need(1);
    return this.bytes[this.at]!;
  }

  skip(count: number): void {
    this.need(count);
    this.at += count;
  }

  int(): number {
    this.need(4);
    this.at += 4;
    return this.bytes.readInt32LE(this.at - 4);
  }

  take(count: number): Buffer {
    if (count < 0) throw this.bad(`the header has an attribute of ${count} bytes`);
    this.need(count);
    this.at += count;
    return this.bytes.subarray(this.at - count, this.at);
  }

  /** A name that ends with a zero byte. */
  name(): string {
    const end = this.bytes.indexOf(0, this.at);
    if (end < 0 || end - this.at > MAX_NAME_LENGTH)
      throw this.bad(`the file ends inside its header, or a name in it does not end`);
    const value = this.bytes.toString("latin1", this.at, end);
    this.at = end + 1;
    return value;
  }
}
