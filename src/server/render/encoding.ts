/** Pictures to the bytes of their files, in a thread of their own. */
import { Worker } from "node:worker_threads";
import type { Picture, WriteOptions } from "../../formats/format";
import { built } from "../../formats/project";

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

/** Bytes in memory of their own, to be handed over: what few bytes lie in may be shared with others. */
export const ownBytes = (bytes: Buffer): Uint8Array<ArrayBuffer> =>
  (bytes.byteLength === bytes.buffer.byteLength ? bytes : Uint8Array.from(bytes)) as Uint8Array<ArrayBuffer>;

const startThread = () => new Worker(built("encoder.mjs"));

/** What a thread says next. Rejects where it breaks or ends instead. */
export const nextAnswer = <Answer>(worker: Worker): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const settled = (settle: () => void) => {
      worker.off("message", answered).off("error", broke).off("exit", left);
      settle();
    };
    const answered = (answer: Answer) => settled(() => resolve(answer));
    const broke = (error: Error) => settled(() => reject(error));
    const left = () => settled(() => reject(new Error("the thread that makes files of pictures ended")));
    worker.on("message", answered).on("error", broke).on("exit", left);
  });

/** Begins the thread at the first picture, and another where one broke. `start`: the thread; tests give others. */
export function startEncoder(start: () => Worker = startThread): Encoder {
  let worker: Worker | null = null;
  return {
    async encode(order) {
      worker ??= start();
      worker.unref();
      const answered = nextAnswer<EncodingAnswer>(worker);
      worker.postMessage(order, memoryOf(order.picture));
      const answer = await answered.catch((error: unknown) => {
        void worker?.terminate();
        worker = null;
        throw error;
      });
      if ("failed" in answer) throw new Error(answer.failed);
      return answer;
    },
    async close() {
      await worker?.terminate();
      worker = null;
    },
  };
}
