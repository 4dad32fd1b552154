import { readFile, rename, writeFile } from "node:fs/promises";
import { setPriority } from "node:os";
import { parentPort, workerData } from "node:worker_threads";
import { logEncoding } from "../core/colour/own-encoding";
import { encodeFrame } from "../core/image/image";
import { writeDpx } from "../formats/dpx/dpx";
import { writeExr } from "../formats/exr/write";
import { LAMP_ROOM_LOG } from "./encodings";
import { unpackPlates } from "./plates-file";
import type { Plates } from "./render/picture";
import type { DemoShot } from "./scenes/shot";
import { SHOTS } from "./scenes/shots";

/** A thread that computes footage: plates that are kept, rows of plates, whole frames. */
export type Task = { shotId: string } & (
  | { kind: "read"; path: string }
  | { kind: "trace"; plates: Plates; y0: number; y1: number }
  | { kind: "frame"; plates: Plates; number: number; path: string }
);

/** What a thread answers: plates where it read some. */
export interface Told {
  plates?: Plates;
}

export interface ThreadData {
  width: number;
  height: number;
  /** Whether it gives way to whatever else runs here. */
  givesWay: boolean;
}

const { width, height, givesWay } = workerData as ThreadData;
/** On Linux a thread has a priority of its own. */
const NICE = 15;
if (givesWay && process.platform === "linux") setPriority(0, NICE);

const FRAMES_PER_SECOND = 24;
const picture = new Float32Array(width * height * 4);
const depth = new Float32Array(width * height);

const bytesOf = (shot: DemoShot): Promise<Uint8Array> | Uint8Array =>
  shot.delivered === "log"
    ? writeDpx(encodeFrame({ width, height, data: picture }, logEncoding(LAMP_ROOM_LOG)), {
        depth: "10",
        framesPerSecond: FRAMES_PER_SECOND,
        text: { project: "Tarn Line" },
      })
    : writeExr(
        { width, height, data: picture, z: depth },
        {
          depth: "half",
          framesPerSecond: FRAMES_PER_SECOND,
          text: { owner: "Tarn Line", comments: `${shot.id} ${shot.name}, computed` },
        },
      );

async function perform(task: Task): Promise<Told> {
  const shot = SHOTS.find(({ id }) => id === task.shotId)!;
  switch (task.kind) {
    case "read":
      return { plates: await unpackPlates(await readFile(task.path), { width, height }).catch(() => undefined) };
    case "trace":
      shot.trace(task.plates, task.y0, task.y1);
      return {};
    case "frame":
      shot.frame(task.plates, task.number, picture, depth);
      await writeFile(`${task.path}.part`, await bytesOf(shot));
      await rename(`${task.path}.part`, task.path);
      return {};
  }
}

parentPort!.on("message", async (task: Task) => parentPort!.postMessage(await perform(task)));
