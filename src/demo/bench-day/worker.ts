import { mkdir, readFile, rename, writeFile } from "node:fs/promises";
import { setPriority } from "node:os";
import { basename, join } from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { encodingByName } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";
import { readExr } from "../../formats/exr/read";
import { writeExr } from "../../formats/exr/write";
import { type BenchDay, benchDayGlass, filterFrames, lensFrames, MANIFEST } from "./bench-day";

/** A thread that computes the frames of one lens or filter. */
export interface BenchDayOrder {
  /** Of the lens or filter. */
  id: string;
  /** Where its frames go. */
  folder: string;
  /** A frame of the scene that filters are held before, EXR in working light, and its sensor, mm. */
  scene: { path: string; sensor: { width: number; height: number } } | null;
}

/** How many of its frames are there. */
export interface BenchDayTold {
  done: number;
  of: number;
}

/** On Linux a thread has a priority of its own: it gives way to whatever else runs here. */
const NICE = 10;
if (process.platform === "linux") setPriority(0, NICE);

async function planned({ id, scene }: BenchDayOrder): Promise<BenchDay> {
  const profile = benchDayGlass().find((one) => one.id === id)!;
  if (profile.format === "pale-halo-lens") return lensFrames(profile);
  const image = await readExr(basename(scene!.path), await readFile(scene!.path));
  const { frame } = decodeImage(image, encodingByName("linear-ap1"));
  return filterFrames(profile, frame, scene!.sensor);
}

/** Under a temporary name first: a file is whole or not there. */
const put = async (path: string, bytes: Uint8Array) => {
  await writeFile(`${path}.part`, bytes);
  await rename(`${path}.part`, path);
};

const order = workerData as BenchDayOrder;
const { manifest, frames } = await planned(order);
await mkdir(order.folder, { recursive: true });
for (const [i, { file, light }] of frames.entries()) {
  const text = { owner: "Tarn Line", comments: `Bench day, ${manifest.name}, computed` };
  await put(join(order.folder, file), await writeExr(light(), { depth: "half", text }));
  parentPort!.postMessage({ done: i + 1, of: frames.length } satisfies BenchDayTold);
}
// Written last: where it is, all is there.
await put(join(order.folder, MANIFEST), Buffer.from(`${JSON.stringify(manifest, null, 1)}\n`));
