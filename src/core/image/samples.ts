import { halfOfBits, HALVES } from "../maths/half";
import type { Frame } from "./image";

/**
 * A frame's samples in the fewest bytes that keep them exact: without alpha where every pixel is opaque, as halves where every
 * sample is one. What is sent from thread to thread, and over the wire, in the machine's own byte order (little-endian).
 */
export interface Samples {
  width: number;
  height: number;
  /** 3: R, G, B of opaque pixels; 4: R, G, B, A. */
  channels: 3 | 4;
  depth: "half" | "float";
  data: Uint16Array<SharedArrayBuffer> | Float32Array<SharedArrayBuffer>;
}

const isOpaque = (data: Float32Array) => {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 1) return false;
  return true;
};

const shared = (bytes: number) => new SharedArrayBuffer(bytes);

function halves({ data }: Frame, channels: 3 | 4, count: number): Uint16Array<SharedArrayBuffer> {
  const bits = new Uint32Array(data.buffer, data.byteOffset, data.length);
  const out = new Uint16Array(shared(count * Uint16Array.BYTES_PER_ELEMENT));
  for (let from = 0, to = 0; to < count; from += 4, to += channels) {
    out[to] = halfOfBits(bits[from]!);
    out[to + 1] = halfOfBits(bits[from + 1]!);
    out[to + 2] = halfOfBits(bits[from + 2]!);
    if (channels === 4) out[to + 3] = halfOfBits(bits[from + 3]!);
  }
  return out;
}

function floats({ data }: Frame, channels: 3 | 4, count: number): Float32Array<SharedArrayBuffer> {
  const out = new Float32Array(shared(count * Float32Array.BYTES_PER_ELEMENT));
  if (channels === 4) out.set(data);
  else
    for (let from = 0, to = 0; to < count; from += 4, to += 3) {
      out[to] = data[from]!;
      out[to + 1] = data[from + 1]!;
      out[to + 2] = data[from + 2]!;
    }
  return out;
}

/** A frame in few bytes. `isHalf`: its samples came as halves, and nothing was done to them since. */
export function packSamples(frame: Frame, isHalf: boolean): Samples {
  const { width, height } = frame;
  const channels = isOpaque(frame.data) ? 3 : 4;
  const pack = isHalf ? halves : floats;
  return {
    width,
    height,
    channels,
    depth: isHalf ? "half" : "float",
    data: pack(frame, channels, width * height * channels),
  };
}

/** The frame that samples are of, RGBA; `bytes` as they were packed. Throws RangeError where they are not as many. */
export function unpackSamples(
  { width, height, channels, depth }: Omit<Samples, "data">,
  bytes: ArrayBuffer | SharedArrayBuffer,
): Float32Array {
  const count = width * height * channels;
  const size = depth === "half" ? Uint16Array.BYTES_PER_ELEMENT : Float32Array.BYTES_PER_ELEMENT;
  if (bytes.byteLength !== count * size)
    throw new RangeError(`${bytes.byteLength} bytes are not ${width}x${height} pixels of ${channels} ${depth} samples`);
  if (depth === "float" && channels === 4) return new Float32Array(bytes);
  const out = new Float32Array(width * height * 4);
  const halves = depth === "half" ? new Uint16Array(bytes) : null;
  const floats = halves ? null : new Float32Array(bytes);
  for (let from = 0, to = 0; from < count; from += channels, to += 4) {
    for (let c = 0; c < channels; c++) out[to + c] = halves ? HALVES[halves[from + c]!]! : floats![from + c]!;
    if (channels === 3) out[to + 3] = 1;
  }
  return out;
}
