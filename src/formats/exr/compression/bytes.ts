/** Steps that several compressions share: byte predictor, split into even and odd bytes, runs. */

/** Undoes the predictor, in place. */
export function unpredict(bytes: Buffer): Buffer {
  const { length } = bytes;
  let before = length ? bytes[0]! : 0;
  for (let i = 1; i < length; i++) bytes[i] = before = (before + bytes[i]! - 128) & 255;
  return bytes;
}

/** Undoes the predictor and the split. `bytes` is used up. */
export function reconstruct(bytes: Buffer): Buffer {
  unpredict(bytes);
  const { length } = bytes;
  const out = Buffer.allocUnsafe(length);
  const half = (length + 1) >> 1;
  for (let i = 0, to = 0; i < half; i++, to += 2) out[to] = bytes[i]!;
  for (let i = half, to = 1; i < length; i++, to += 2) out[to] = bytes[i]!;
  return out;
}

/** Splits into even and odd bytes, then takes differences. */
export function predict(bytes: Buffer): Buffer {
  const { length } = bytes;
  const out = Buffer.allocUnsafe(length);
  const half = (length + 1) >> 1;
  for (let i = 0, from = 0; i < half; i++, from += 2) out[i] = bytes[from]!;
  for (let i = half, from = 1; i < length; i++, from += 2) out[i] = bytes[from]!;
  let before = length ? out[0]! : 0;
  for (let i = 1; i < length; i++) {
    const value = out[i]!;
    out[i] = (value - before + 128) & 255;
    before = value;
  }
  return out;
}

/** Undoes run lengths: a count below zero is that many bytes as they are, else the next byte count + 1 times. */
export function expandRuns(source: Buffer, size: number): Buffer {
  const out = Buffer.alloc(size);
  let from = 0;
  let to = 0;
  while (from < source.length) {
    const count = source.readInt8(from++);
    const length = count < 0 ? -count : count + 1;
    if (to + length > size || from + (count < 0 ? length : 1) > source.length) throw new Error("its runs are damaged");
    if (count < 0) source.copy(out, to, from, from + length);
    else out.fill(source[from]!, to, to + length);
    from += count < 0 ? length : 1;
    to += length;
  }
  if (to !== size) throw new Error("its runs are cut off");
  return out;
}

const MIN_RUN_LENGTH = 3;
const MAX_RUN_LENGTH = 127;

/** Run lengths, as `expandRuns` undoes them. */
export function packRuns(source: Buffer): Buffer {
  const out = Buffer.allocUnsafe(Math.ceil(source.length * 1.02) + 16);
  let to = 0;
  let start = 0;
  while (start < source.length) {
    let end = start + 1;
    while (end < source.length && source[end] === source[start] && end - start - 1 < MAX_RUN_LENGTH) end++;
    if (end - start >= MIN_RUN_LENGTH) {
      out[to++] = end - start - 1;
      out[to++] = source[start]!;
    } else {
      const runAt = (at: number) =>
        at + 2 < source.length && source[at] === source[at + 1] && source[at] === source[at + 2];
      while (end < source.length && !runAt(end) && end - start < MAX_RUN_LENGTH) end++;
      out.writeInt8(start - end, to++);
      to += source.copy(out, to, start, end);
    }
    start = end;
  }
  return out.subarray(0, to);
}
