/** Threads that pack the chunks of a picture side by side, beside the one that makes its file. */
import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import type { PackOrder, Packing } from "../../formats/exr/packing";
import type { Rows } from "../../formats/exr/lines";
import { built } from "../../formats/project";
import { nextAnswer } from "./encoding";
import { LARGE } from "./job";

export type PackAnswer = { bytes: Uint8Array<ArrayBuffer> } | { failed: string };

/** Threads at most: each has a heap and tables of its own. */
const MAX_PACKERS = 4;

/** MB. A chunk's bytes lie outside of a thread's heap, and little else is in it. */
const LIMITS = { maxYoungGenerationSizeMb: 4, maxOldGenerationSizeMb: 128 };

/** The rows of a chunk alone: as they lie in memory that threads share, and else a copy of them. */
function ownRows({ channels, width, top, end }: Rows): Rows {
  const own = new Map<Uint32Array, Uint32Array>();
  const rowsOf = (bits: Uint32Array, stride: number) => {
    const rows = bits.subarray(top * width * stride, end * width * stride);
    return bits.buffer instanceof SharedArrayBuffer ? rows : rows.slice();
  };
  for (const { bits, stride } of channels) if (!own.has(bits)) own.set(bits, rowsOf(bits, stride));
  return {
    channels: channels.map((channel) => ({ ...channel, bits: own.get(channel.bits)! })),
    width,
    top: 0,
    end: end - top,
  };
}

export function startPackers(cores = availableParallelism()): Packing {
  const idle: Worker[] = [];
  const begin = () => {
    const worker = new Worker(built("packer.mjs"), { resourceLimits: LIMITS });
    worker.unref();
    return worker;
  };
  return {
    // The next frame is computed meanwhile, but beside a large one.
    atOnce: (pixels) => Math.max(1, Math.min(MAX_PACKERS, pixels > LARGE ? cores : cores - 1)),
    async pack({ compression, rows, channels }: PackOrder) {
      const worker = idle.pop() ?? begin();
      const plain = channels.map(({ name, type, bytes, linear, subsampled }) => ({
        name,
        type,
        bytes,
        linear,
        subsampled,
      }));
      const answered = nextAnswer<PackAnswer>(worker);
      const own = ownRows(rows);
      const copies = new Set(
        own.channels.map(({ bits }) => bits.buffer).filter((buffer) => buffer instanceof ArrayBuffer),
      );
      worker.postMessage({ compression, rows: own, channels: plain } satisfies PackOrder, [...copies]);
      const answer = await answered.catch((error: unknown) => {
        void worker.terminate();
        throw error;
      });
      idle.push(worker);
      if ("failed" in answer) throw new Error(answer.failed);
      return Buffer.from(answer.bytes.buffer, answer.bytes.byteOffset, answer.bytes.byteLength);
    },
  };
}
