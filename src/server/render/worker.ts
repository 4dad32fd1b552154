import { parentPort, workerData } from "node:worker_threads";
import { availableParallelism } from "node:os";
import type { EncodingName } from "../../core/colour/encodings";
import type { Look } from "../../core/look/look";
import { cabinetOf, type Profile } from "../../core/profile/profiles";
import { startEngine } from "../engine/engine";
import { fileOf, parsePattern } from "../footage/sequence";
import type { OutputDepth } from "./output";
import { renderFrames } from "./render";

/** A render in a thread of its own: what it is told, and what it tells. */
export interface RenderOrder {
  look: Look;
  profiles: Profile[];
  frames: number[];
  input: string;
  output: string;
  encoding: EncodingName;
  depth: OutputDepth;
}

export interface RenderReport {
  done: number;
  failed: { frame: number; reason: string }[];
  framesPerSecond: number;
  ended: boolean;
}

const order = workerData as RenderOrder;
const source = parsePattern(order.input);
const target = parsePattern(order.output);
const start = performance.now();
let stopped = false;
let done = 0;
let computed = 0;
const failed: RenderReport["failed"] = [];
parentPort!.on("message", () => (stopped = true));

const report = (ended: boolean) =>
  parentPort!.postMessage({ done, failed, framesPerSecond: computed / ((performance.now() - start) / 1000), ended } satisfies RenderReport);

const { engine, close } = startEngine(availableParallelism());
await renderFrames(
  engine,
  {
    look: order.look,
    cabinet: cabinetOf(order.profiles),
    frames: order.frames.map((number) => ({ number, input: fileOf(source, number), output: fileOf(target, number) })),
    inEncoding: order.encoding,
    outEncoding: null,
    depth: order.depth,
    scale: 1,
    resume: true,
  },
  {
    done(_, skipped) {
      done++;
      if (!skipped) computed++;
      report(false);
    },
    failed(frame, reason) {
      failed.push({ frame, reason });
      report(false);
    },
    // Messages (a cancel) are only heard when this thread pauses.
    stopped: () => new Promise<boolean>((resolve) => setImmediate(() => resolve(stopped))),
  },
);
close();
report(!stopped);
parentPort!.close();
