import { promisify } from "node:util";
import { gunzip, gzip } from "node:zlib";
import type { Plates } from "./render/picture";

/** A shot's plates as a file: gzip of a line of JSON, then the floats one array after another, little-endian. */

interface Size {
  width: number;
  height: number;
}

interface Head {
  /** Of the frames that are drawn from them; plates may be smaller. */
  frame: Size;
  width: number;
  height: number;
  /** Floats of each array; none of those that are not there. */
  light: number;
  depth: number;
  surface: number;
  layer: number;
}

/** Speed matters more than size here: the file lies on the same disk. */
const LEVEL = 1;

const bytesOf = (floats: Float32Array) => Buffer.from(floats.buffer, floats.byteOffset, floats.byteLength);

export async function packPlates(
  { width, height, light, depth, surface, layer }: Plates,
  frame: Size,
): Promise<Buffer> {
  const head: Head = {
    frame: { width: frame.width, height: frame.height },
    width,
    height,
    light: light.length,
    depth: depth.length,
    surface: surface.length,
    layer: layer?.length ?? 0,
  };
  const parts = [light, depth, surface, ...(layer ? [layer] : [])].map(bytesOf);
  const whole = Buffer.concat([Buffer.from(`${JSON.stringify(head)}\n`), ...parts]);
  return promisify(gzip)(whole, { level: LEVEL });
}

/**
 * Plates in memory that threads share, for frames of a size. Throws where the file is none, or for frames of another
 * size.
 */
export async function unpackPlates(file: Buffer, frame: Size): Promise<Plates> {
  const whole = await promisify(gunzip)(file);
  const end = whole.indexOf("\n");
  const head = JSON.parse(whole.toString("utf8", 0, end)) as Head;
  const { width, height } = head;
  if (head.frame.width !== frame.width || head.frame.height !== frame.height)
    throw new Error(`its plates are for ${head.frame.width}x${head.frame.height}, not ${frame.width}x${frame.height}`);
  let at = end + 1;
  const floats = (count: number) => {
    const shared = new Float32Array(new SharedArrayBuffer(count * Float32Array.BYTES_PER_ELEMENT));
    new Uint8Array(shared.buffer).set(whole.subarray(at, at + shared.byteLength));
    at += shared.byteLength;
    return shared;
  };
  const [light, depth, surface] = [floats(head.light), floats(head.depth), floats(head.surface)];
  return { width, height, light, depth, surface, ...(head.layer ? { layer: floats(head.layer) } : {}) };
}
