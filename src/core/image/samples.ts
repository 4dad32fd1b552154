import { halfOfBits, HALVES } from "../maths/half";
import type { Matrix3 } from "../maths/matrix";
import { type Codes, lightOfCodes } from "./codes";
import { type Depth, type Frame, isFloatDepth, topOf } from "./image";

/**
 * A frame's samples in the fewest bytes that keep them exact: without alpha where every pixel is opaque, as halves
 * where every sample is one, as code values with their table where the file holds whole numbers. What is sent from
 * thread to thread, and over the wire, in the machine's own byte order (little-endian).
 */
export interface Samples extends SamplesForm {
  /** Light by code value, where samples are whole numbers; sent before them. */
  light?: Float32Array<SharedArrayBuffer>;
  data: Uint8Array<SharedArrayBuffer> | Uint16Array<SharedArrayBuffer> | Float32Array<SharedArrayBuffer>;
}

/** What the bytes of a frame's samples are. */
export interface SamplesForm {
  width: number;
  height: number;
  /** 3: R, G, B of opaque pixels; 4: R, G, B, A. */
  channels: 3 | 4;
  depth: Depth;
  /** From the primaries of whole numbers to working ones. */
  toWorking?: Matrix3;
}

const isOpaque = (data: ArrayLike<number>, opaque: number) => {
  for (let i = 3; i < data.length; i += 4) if (data[i] !== opaque) return false;
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
  const channels = isOpaque(frame.data, 1) ? 3 : 4;
  const pack = isHalf ? halves : floats;
  return {
    width,
    height,
    channels,
    depth: isHalf ? "half" : "float",
    data: pack(frame, channels, width * height * channels),
  };
}

/** Code values in memory that threads share, with the table of their light. */
export function packCodes({ width, height, depth, data, light, toWorking }: Codes): Samples {
  const channels = isOpaque(data, topOf(depth)) ? 3 : 4;
  const count = width * height * channels;
  const room = shared(count * SAMPLE_BYTES[depth]);
  const out = depth === "8" ? new Uint8Array(room) : new Uint16Array(room);
  for (let from = 0, to = 0; to < count; from += 4, to += channels)
    for (let c = 0; c < channels; c++) out[to + c] = data[from + c]!;
  const table = new Float32Array(shared(light.byteLength));
  table.set(light);
  return { width, height, channels, depth, toWorking, light: table, data: out };
}

/** The bytes of samples, in the order they are sent in. */
export const bytesOfSamples = ({ light, data }: Samples): Uint8Array[] =>
  [light ?? [], data].flatMap((part) =>
    "buffer" in part ? [new Uint8Array(part.buffer, part.byteOffset, part.byteLength)] : [],
  );

/** The frame that samples are of, RGBA; `bytes` as they were packed. Throws RangeError where they are not as many. */
export function unpackSamples(form: SamplesForm, bytes: ArrayBuffer | SharedArrayBuffer): Float32Array {
  const { width, height, channels, depth } = form;
  const count = width * height * channels;
  const table = isFloatDepth(depth) ? 0 : (topOf(depth) + 1) * Float32Array.BYTES_PER_ELEMENT;
  if (bytes.byteLength !== table + count * SAMPLE_BYTES[depth])
    throw new RangeError(`${bytes.byteLength} bytes are not ${width}x${height} pixels of ${channels} ${depth} samples`);
  if (depth === "float" && channels === 4) return new Float32Array(bytes);
  if (isFloatDepth(depth)) return unpackFloats(form, bytes);
  const packed = depth === "8" ? new Uint8Array(bytes, table) : new Uint16Array(bytes, table);
  const light = new Float32Array(bytes, 0, topOf(depth) + 1);
  const data = channels === 4 ? packed : withAlpha(packed, topOf(depth));
  return lightOfCodes({ width, height, depth, data, light, toWorking: form.toWorking }).data;
}

const SAMPLE_BYTES: Record<Depth, number> = { "8": 1, "10": 2, "12": 2, "16": 2, half: 2, float: 4 };

function withAlpha(packed: Uint8Array | Uint16Array, top: number): Uint8Array | Uint16Array {
  const pixels = packed.length / 3;
  const out = packed.BYTES_PER_ELEMENT === 1 ? new Uint8Array(pixels * 4) : new Uint16Array(pixels * 4);
  for (let from = 0, to = 0; from < packed.length; from += 3, to += 4) {
    out[to] = packed[from]!;
    out[to + 1] = packed[from + 1]!;
    out[to + 2] = packed[from + 2]!;
    out[to + 3] = top;
  }
  return out;
}

function unpackFloats(
  { width, height, channels, depth }: SamplesForm,
  bytes: ArrayBuffer | SharedArrayBuffer,
): Float32Array {
  const count = width * height * channels;
  const out = new Float32Array(width * height * 4);
  const halves = depth === "half" ? new Uint16Array(bytes) : null;
  const floats = halves ? null : new Float32Array(bytes);
  for (let from = 0, to = 0; from < count; from += channels, to += 4) {
    for (let c = 0; c < channels; c++) out[to + c] = halves ? HALVES[halves[from + c]!]! : floats![from + c]!;
    if (channels === 3) out[to + 3] = 1;
  }
  return out;
}
