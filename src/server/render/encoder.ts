/** A thread that turns pictures into the bytes of their files, so that the next frame is computed meanwhile. */
import { parentPort } from "node:worker_threads";
import { packBy } from "../../formats/exr/packing";
import { formatOf } from "../../formats/formats";
import { digestOf } from "../storage/content";
import { type EncodingAnswer, type EncodingOrder, ownBytes } from "./encoding";
import { startPackers } from "./packers";

/** What crossed to this thread as plain bytes is read as a buffer by the formats. */
function withBuffers<T>(value: T): T {
  if (value instanceof Uint8Array && !Buffer.isBuffer(value))
    return Buffer.from(value.buffer, value.byteOffset, value.byteLength) as unknown as T;
  if (Array.isArray(value)) return value.map(withBuffers) as T;
  if (typeof value !== "object" || value === null || ArrayBuffer.isView(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([name, own]) => [name, withBuffers(own as unknown)])) as T;
}

async function answer({ path, picture, options }: EncodingOrder): Promise<EncodingAnswer> {
  try {
    const bytes = ownBytes(await formatOf(path)!.encode(picture, withBuffers(options)));
    return { bytes, sha256: digestOf(bytes) };
  } catch (error) {
    return { failed: (error as Error).message };
  }
}

packBy(startPackers());

parentPort!.on("message", (order: EncodingOrder) => {
  void answer(order).then((told) => parentPort!.postMessage(told, "bytes" in told ? [told.bytes.buffer] : []));
});
