import { lookAt } from "../../core/look/at-frame";
import { Command } from "commander";
import { compile } from "../../core/compile/compile";
import type { Look, LookElement } from "../../core/look/look";
import { lookSchema } from "../../core/look/look";
import { ELEMENTS } from "../../core/elements/registry";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { readExr } from "../../formats/exr/read";
import { writeExr } from "../../formats/exr/write";
import { startEngine, type NodeEngine } from "../../server/engine/engine";
import { timeRender } from "../bench-render";
import { readLook } from "../files";
import { numberOption, sizeOption, UsageError } from "../options";
import type { Output } from "../../core/compile/outputs/outputs";

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;
const tenths = (ms: number) => Math.round(ms * 10) / 10;

/** The same kind of frame as the yardstick's: noise, with sixty lamps in it. */
function testFrame(width: number, height: number): Float32Array {
  const data = new Float32Array(width * height * 4);
  let state = 7;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  for (let i = 0; i < data.length; i++) data[i] = (i & 3) === 3 ? 1 : 0.6 * random() ** 2;
  for (let i = 0; i < 60; i++) {
    const at = Math.floor(random() * width * height) * 4;
    data.set([200, 200, 200], at);
  }
  return data;
}

/** Without a depth channel defocus draws highlights. */
const PARAMS: Record<string, LookElement["params"]> = {
  defocus: { by: "highlights" },
  plate: { footage: "itself" },
  steady: { track: "shake" },
};

/** Something that has moved by a few pixels since the frame before, for what holds it still. */
const SHAKE = {
  id: "shake",
  name: "Shake",
  model: "similarity",
  reference: 0,
  region: { x: 0, y: 0, width: 10, height: 10 },
  first: 0,
  x: [0, 0.3],
  y: [0, -0.2],
  scale: [1, 1.002],
  rotation: [0, 0.1],
  confidence: [1, 1],
};

const element = (kind: string): LookElement => ({
  id: kind,
  kind,
  on: true,
  strength: 1,
  mix: 1,
  params: PARAMS[kind] ?? {},
});

/** Counterparts of the yardstick's elements, by its names; what is beyond them follows under our own. */
const COUNTERPARTS: Record<string, string[]> = {
  diffusion: ["diffusion"],
  streak: ["streak"],
  sharpness: ["sharpness"],
  geometry_and_lateral_colour: ["distortion", "lateralColour"],
  illumination_and_transmission: ["illumination", "transmission"],
  halation: ["halation"],
  grain: ["grain"],
  display: [],
};
const CHAIN = Object.keys(COUNTERPARTS);
const CHAIN_KINDS = Object.values(COUNTERPARTS).flat();
/** Elements that need another frame of the shot, which the bench has not. */
const NEEDS_A_SHOT = ["channelLag"];
const GROUPS: Record<string, string[]> = {
  ...COUNTERPARTS,
  ...Object.fromEntries(
    ELEMENTS.map(({ kind }) => kind)
      .filter((kind) => !NEEDS_A_SHOT.includes(kind) && !Object.values(COUNTERPARTS).flat().includes(kind))
      .map((kind) => [kind, [kind]]),
  ),
};

function benchLook(kinds: string[], params: LookElement["params"] = {}): Look {
  return lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name: "Bench",
    camera: { sensor: { width: 24.9, height: 14 } },
    lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
    elements: kinds.map(element).map((one) => ({ ...one, params: { ...one.params, ...params } })),
    tracks: [SHAKE],
    view: { kind: "soft", display: "srgb" },
  });
}

/** Makes frames of a size, each a new one: returns how long one takes, ms. */
function framesOf({ engine }: NodeEngine, width: number, height: number) {
  const cabinet = cabinetOf(demoProfiles());
  const source = testFrame(width, height);
  let frames = 0;
  return (kinds: string[], output: Output, params?: LookElement["params"]) => {
    const look = benchLook(kinds, params);
    if (lookAt(look, cabinet, { width, height, frame: 1 }).elements.some(({ isActive }) => !isActive))
      throw new Error("An element of the bench does nothing");
    return () => {
      const plan = compile(look, cabinet, { width, height, frame: frames, sourceKey: `bench ${frames++}` }, output);
      // The source is put in place first; then only the elements are timed.
      engine.load(plan.sourceKey, () => source);
      const start = performance.now();
      engine.run(plan, () => source);
      return performance.now() - start;
    };
  };
}

/** The first runs are the compiler's: they warm the kernels up. */
const WARM_UP = 3;

/** Medians of several kinds of frame that take turns, so that a machine that changes its speed changes all of them. */
function timesInTurn(makers: (() => number)[], runs: number): number[] {
  const times = Array.from({ length: WARM_UP + runs }, () => makers.map((make) => make())).slice(WARM_UP);
  return makers.map((_, k) => tenths(median(times.map((turn) => turn[k]!))));
}

/** The widest usual split of a glow's colours: percent of the picture's height, away from the axis. */
const RADIAL_SPLIT = { split: "radial", splitAmount: 4 };

/** A glow without and with its colours drawn apart, in turn: `times_as_long` is at most 3. */
function timeSplit(frames: ReturnType<typeof framesOf>, runs: number) {
  const [glow, split] = timesInTurn(
    [{}, RADIAL_SPLIT].map((params) => frames(["glow"], { kind: "light" }, params)),
    runs,
  ) as [number, number];
  return { glow, split, times_as_long: Math.round((split / glow) * 100) / 100 };
}

/** The chain at a size and at twice its width and height, each in an engine of its own. */
function timeDouble(width: number, height: number, threads: number, runs: number) {
  const nodes = [1, 2].map((scale) => ({ scale, node: startEngine(threads) }));
  const [single, double] = timesInTurn(
    nodes.map(({ scale, node }) => framesOf(node, width * scale, height * scale)(CHAIN_KINDS, { kind: "display" })),
    runs,
  ) as [number, number];
  for (const { node } of nodes) node.close();
  return {
    width: 2 * width,
    height: 2 * height,
    chain: double,
    chain_single: single,
    times_as_long: Math.round((double / single) * 100) / 100,
  };
}

/** A look at a size, whole and so many rows of its middle, in turn: what a view that shows only them saves. */
function timePart(look: Look, width: number, height: number, rows: number, threads: number, runs: number) {
  const { engine, close } = startEngine(threads);
  const cabinet = cabinetOf(demoProfiles());
  const source = testFrame(width, height);
  const first = Math.max(0, Math.round((height - rows) / 2));
  let frames = 0;
  const make = (wanted?: readonly [number, number]) => () => {
    const request = { width, height, frame: frames, sourceKey: `part ${frames++}` };
    const plan = compile(look, cabinet, request, { kind: "display" });
    engine.load(plan.sourceKey, () => source);
    const start = performance.now();
    engine.run(plan, () => source, undefined, wanted);
    return performance.now() - start;
  };
  const [whole, part] = timesInTurn([make(), make([first, first + rows])], runs) as [number, number];
  close();
  return { look: look.name, rows, whole, part, share: Math.round((part / whole) * 1000) / 1000 };
}

/** Medians of packing and unpacking a half-float ZIP EXR of a smooth picture with a little noise, on this thread. */
async function timeFiles(width: number, height: number, runs: number) {
  const noise = testFrame(width, height);
  const data = noise.map((value, i) => ((i & 3) === 3 ? 1 : 0.02 * value + 0.5 + 0.4 * Math.sin((i >> 2) / 400)));
  const timed = async (work: () => unknown) => {
    const times: number[] = [];
    for (let i = 0; i <= runs; i++) {
      const start = performance.now();
      await work();
      times.push(performance.now() - start);
    }
    return tenths(median(times.slice(1)));
  };
  const file = await writeExr({ width, height, data }, { depth: "half" });
  return {
    exr_half_zip_read: await timed(() => readExr("bench.exr", file)),
    exr_half_zip_write: await timed(() => writeExr({ width, height, data }, { depth: "half" })),
  };
}

/** Of --farm, where they are left out. */
const FARM_WORKERS = 200;
const FARM_FRAMES = 100_000;

export function benchCommand(): Command {
  return new Command("bench")
    .description("Median milliseconds per element, of the reference chain, and of the copy of one frame")
    .option("--size <WxH>", "frame size, px", sizeOption, { width: 1920, height: 1080 })
    .option("--threads <n>", "threads", numberOption(1, 64, true), 2)
    .option("--runs <n>", "runs a median is taken over", numberOption(1, 1000, true), 7)
    .option("--double", "also the chain at twice the width and height, its frames in turn with those of the size")
    .option(
      "--part <rows>",
      "also a look (--look, or the chain), whole and so many rows of its middle in turn",
      numberOption(1, 65536, true),
    )
    .option("--render", "only the parts of a render of a half ZIP EXR with depth, one after another: wall and CPU time")
    .option("--farm", "only the queue: simulated workers on frames of no work, on a PostgreSQL server (DATABASE_URL)")
    .option("--workers <n>", "of --farm", numberOption(1, 1000, true), FARM_WORKERS)
    .option("--frames <n>", "of --farm", numberOption(1, 3_000_000, true), FARM_FRAMES)
    .option("--look <file>", "the look of --part or --render, JSON")
    .option("--json", "JSON on one line")
    .action(
      async ({
        size: { width, height },
        threads,
        runs,
        double,
        part,
        render,
        farm,
        workers,
        frames: count,
        look,
        json,
      }: {
        size: { width: number; height: number };
        threads: number;
        runs: number;
        double?: boolean;
        part?: number;
        render?: boolean;
        farm?: boolean;
        workers: number;
        frames: number;
        look?: string;
        json?: boolean;
      }) => {
        if (farm) {
          // The database is loaded only where it is needed.
          const { timeFarm } = await import("../../server/farm/bench");
          const figures = await timeFarm(workers, count).catch((error: unknown) => {
            const { line } = error as { line?: string };
            throw line === undefined ? error : new UsageError(line);
          });
          return console.log(JSON.stringify(figures, null, json ? 0 : 1));
        }
        const given = look === undefined ? benchLook(CHAIN_KINDS) : readLook(look);
        if (render) {
          const parts = await timeRender(given, { width, height }, threads, runs);
          return console.log(JSON.stringify({ width, height, threads, runs, unit: "ms", parts }, null, json ? 0 : 1));
        }
        const parted = part === undefined ? {} : { part: timePart(given, width, height, part, threads, runs) };
        const node = startEngine(threads);
        const frames = framesOf(node, width, height);
        const time = (kinds: string[], output: Output) => timesInTurn([frames(kinds, output)], runs)[0]!;
        const source = testFrame(width, height);
        const copy = new Float32Array(source.length);
        const copyTime = tenths(
          median(
            Array.from({ length: runs }, () => {
              const start = performance.now();
              copy.set(source);
              return performance.now() - start;
            }),
          ),
        );
        const output = (name: string): Output => ({ kind: name === "display" ? "display" : "light" });
        const elements = Object.fromEntries(
          Object.entries(GROUPS).map(([name, kinds]) => [name, time(kinds, output(name))]),
        );
        const chain = time(CHAIN_KINDS, { kind: "display" });
        const split = timeSplit(frames, runs);
        const [proxy] = timesInTurn([framesOf(node, 960, 540)(CHAIN_KINDS, { kind: "display" })], runs);
        node.close();
        const doubled = double ? { double: timeDouble(width, height, threads, runs) } : {};
        const files = await timeFiles(width, height, runs);
        console.log(
          JSON.stringify(
            {
              width,
              height,
              threads,
              runs,
              unit: "ms",
              copy_frame: copyTime,
              elements,
              chain_elements: CHAIN,
              chain,
              proxy_chain: proxy,
              radial_split: split,
              ...doubled,
              ...parted,
              files,
            },
            null,
            json ? 0 : 1,
          ),
        );
      },
    );
}
