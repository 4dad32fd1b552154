/** What the parts of a render take: of one frame of a half ZIP EXR with depth, one after another. */
import { createHash } from "node:crypto";
import { encodingByName } from "../core/colour/encodings";
import { decodeImage } from "../core/image/decode";
import type { Look } from "../core/look/look";
import { cabinetOf } from "../core/profile/profiles";
import { demoProfiles } from "../demo/glass/profiles";
import { readExr } from "../formats/exr/read";
import { writeExr } from "../formats/exr/write";
import { startEngine } from "../server/engine/engine";
import { parsePattern } from "../server/footage/sequence";
import type { RenderJob } from "../server/render/job";
import { depthLike, lightOf } from "../server/render/light";

export interface RenderPart {
  /** ms */
  wall: number;
  /** ms, of all threads of this process */
  cpu: number;
}

const tenths = (ms: number) => Math.round(ms * 10) / 10;
const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;

/** A smooth picture with a little noise, and depth that falls away from its middle. */
function sample(width: number, height: number) {
  const data = new Float32Array(4 * width * height);
  const z = new Float32Array(width * height);
  let state = 7;
  for (let i = 0, at = 0; i < z.length; i++, at += 4) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const light = 0.5 + 0.4 * Math.sin(i / 400) + (0.02 * state) / 2 ** 32;
    data[at] = light;
    data[at + 1] = light * 0.9;
    data[at + 2] = light * 0.7;
    data[at + 3] = 1;
    z[i] = 2 + Math.abs((i % width) / width - 0.5) * 20;
  }
  return { width, height, data, z };
}

/** Medians of the parts, over `runs` frames after the first. */
export async function timeRender(
  look: Look,
  { width, height }: { width: number; height: number },
  threads: number,
  runs: number,
): Promise<Record<string, RenderPart>> {
  const file = await writeExr(sample(width, height), { depth: "half" });
  const { engine, close } = startEngine(threads);
  const encoding = encodingByName("linear-ap1");
  const job: RenderJob = {
    ...{ look, cabinet: cabinetOf(demoProfiles()), frames: [[1, 1]], shot: [[1, 1]], output: parsePattern("out.exr") },
    ...{ source: { pattern: parsePattern("in.exr"), frames: [[1, 1]] }, inEncoding: encoding, outEncoding: null },
    ...{ depth: "half", scale: 1, resume: false },
  };
  const at = { width, height, frame: 1, shot: { first: 1, last: 1 }, hasDepth: true };
  const taken = new Map<string, { wall: number[]; cpu: number[] }>();
  const timed = async <T>(name: string, work: () => T | Promise<T>): Promise<T> => {
    const [start, before] = [performance.now(), process.cpuUsage()];
    const made = await work();
    const { user, system } = process.cpuUsage(before);
    const times = taken.get(name) ?? { wall: [], cpu: [] };
    times.wall.push(performance.now() - start);
    times.cpu.push((user + system) / 1000);
    taken.set(name, times);
    return made;
  };
  for (let run = 0; run <= runs; run++) {
    const memory = (samples: number) => engine.reserve(samples);
    const image = await timed("read_and_inflate", () => readExr("bench.exr", file, { memory }));
    const { frame } = await timed("decode", () => decodeImage(image, encoding));
    const z = await timed("depth_moved", () => depthLike(engine, job, image, at, false, `depth ${run}`));
    const wanted = { frame, output: { kind: "light" } } as const;
    const light = await timed("look", () => lightOf(engine, job, image, at, wanted, `look ${run}`));
    const picture = { ...light, data: engine.keep(), z };
    const bytes = await timed("pack_and_deflate", () => writeExr(picture, { depth: "half" }));
    for (const own of [picture.data, z]) if (own) engine.release(own);
    await timed("hash", () => createHash("sha256").update(bytes).digest("hex"));
    // The first frame warms up.
    if (!run) taken.clear();
  }
  close();
  return Object.fromEntries(
    [...taken].map(([name, { wall, cpu }]) => [name, { wall: tenths(median(wall)), cpu: tenths(median(cpu)) }]),
  );
}
