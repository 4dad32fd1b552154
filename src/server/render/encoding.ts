/** Pictures to the bytes of their files, in a thread of their own. */
import { once } from "node:events";
import { Worker } from "node:worker_threads";
import type { Picture, WriteOptions } from "../../formats/format";
import { built } from "../storage/roots";

export interface EncodingOrder {
  /** Its extension says the format. */
  path: string;
  picture: Picture;
  options: WriteOptions;
}

export interface Encoded {
  bytes: Uint8Array<ArrayBuffer>;
  sha256: string;
}
export type EncodingAnswer = Encoded | { failed: string };

export interface Encoder {
  /** One picture at a time. Its samples are handed over, and are not there afterwards. */
  encode(order: EncodingOrder): Promise<Encoded>;
  close(): Promise<void>;
}

/** Memory that a picture's samples lie in, without what is shared between threads anyway. */
const memoryOf = ({ data, z, layers = [] }: Picture): ArrayBuffer[] => [
  ...new Set(
    [data, z, ...layers.map((layer) => layer.data)]
      .map((samples) => samples?.buffer)
      .filter((buffer) => buffer instanceof ArrayBuffer),
  ),
];

/** Begins the thread at the first picture. */
export function startEncoder(): Encoder {
  let worker: Worker | null = null;
  return {
    async encode(order) {
      if (!worker) {
        worker = new Worker(built("encoder.mjs"));
        worker.unref();
      }
      const answered = once(worker, "message") as Promise<[EncodingAnswer]>;
      worker.postMessage(order, memoryOf(order.picture));
      // A thread that breaks rejects what is waited for.
      const [answer] = await answered;
      if ("failed" in answer) throw new Error(answer.failed);
      return answer;
    },
    async close() {
      await worker?.terminate();
      worker = null;
    },
  };
}
