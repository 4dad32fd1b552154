import { rename, writeFile } from "node:fs/promises";
import { parentPort, workerData } from "node:worker_threads";
import { logEncoding } from "../core/colour/own-encoding";
import { encodeFrame } from "../core/image/image";
import { writeDpx } from "../formats/dpx/dpx";
import { writeExr } from "../formats/exr/write";
import { LAMP_ROOM_LOG } from "./encodings";
import type { Plates } from "./render/picture";
import { SHOTS } from "./scenes/shots";

/** A thread that computes footage: rows of plates, then whole frames. */
export type Task = { kind: "trace"; y0: number; y1: number } | { kind: "frame"; number: number; path: string };

const { shotId, plates, width, height } = workerData as {
  shotId: string;
  plates: Plates;
  width: number;
  height: number;
};
const shot = SHOTS.find(({ id }) => id === shotId)!;
const picture = new Float32Array(width * height * 4);
const depth = new Float32Array(width * height);

parentPort!.on("message", async (task: Task) => {
  if (task.kind === "trace") shot.trace(plates, task.y0, task.y1);
  else {
    shot.frame(plates, task.number, picture, depth);
    const bytes =
      shot.delivered === "log"
        ? writeDpx(encodeFrame({ width, height, data: picture }, logEncoding(LAMP_ROOM_LOG)), {
            depth: "10",
            framesPerSecond: 24,
            text: { project: "Tarn Line" },
          })
        : await writeExr(
            { width, height, data: picture, z: depth },
            {
              depth: "half",
              framesPerSecond: 24,
              text: { owner: "Tarn Line", comments: `${shotId} ${shot.name}, computed` },
            },
          );
    await writeFile(`${task.path}.part`, bytes);
    await rename(`${task.path}.part`, task.path);
  }
  parentPort!.postMessage("done");
});
