import { createHash } from "node:crypto";
import { compile } from "../core/compile/compile";
import { type Look, lookSchema } from "../core/look/look";
import { cabinetOf, type Profile } from "../core/profile/profiles";
import type { Transform } from "../core/colour/transform/transform";
import { demoProfiles } from "../demo/glass/profiles";
import { startEngine } from "../server/engine/engine";
import { type Overscan, shownOf } from "../core/image/overscan";
import type { Frame } from "../core/image/image";
import type { Output } from "../core/compile/outputs/outputs";
import type { SourceRequest } from "../core/engine/plan";

/** What tests put through the engine, and how they look at what comes out. */
export const bench = startEngine(2, 64 * 2 ** 20);
let serial = 0;

export interface Setup {
  kind: string;
  strength?: number;
  mix?: number;
  on?: boolean;
  params?: Record<string, unknown>;
  where?: unknown;
  when?: unknown;
}

export function lookOf(
  elements: Setup[],
  lens: Partial<Look["lens"]> = {},
  sensor = { width: 24.9, height: 14 },
  view: Look["view"]["kind"] | Partial<Look["view"]> = "plain",
): Look {
  return lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name: "Test",
    camera: { sensor },
    lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2, ...lens },
    elements: elements.map((element, i) => ({ id: `e${i}`, ...element })),
    view: typeof view === "string" ? { kind: view, display: "srgb" } : view,
  });
}

export interface Laboratory {
  frame?: number;
  profiles?: Profile[];
  tables?: [string, Transform][];
  output?: Output;
  depth?: Frame;
  plate?: (index: number) => Frame;
  /** Other frames of the shot, by number; the frame itself where it is left out. */
  others?: (number: number) => Frame;
  shot?: { first: number; last: number };
  on?: ReturnType<typeof startEngine>;
  /** Of the frame, which is given with it. */
  overscan?: Overscan;
}

/** What another look makes of a frame of the shot. */
function throughRequest(
  { look, frame: number }: Extract<SourceRequest, { kind: "look" }>,
  frame: Frame,
  options: Laboratory,
): Frame {
  const source = number === undefined || !options.others ? frame : options.others(number);
  return through(look as Look, source, { ...options, frame: number ?? options.frame, output: { kind: "light" } });
}

/** Runs a look over a frame and returns working light. */
export function through(look: Look, frame: Frame, options: Laboratory = {}): Frame {
  const { overscan } = options;
  const { width, height } = overscan ? shownOf(frame, overscan) : frame;
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profiles ?? [])], options.tables);
  const plan = compile(
    look,
    cabinet,
    {
      width,
      height,
      overscan,
      frame: options.frame ?? 1,
      sourceKey: `test ${serial++}`,
      hasDepth: options.depth !== undefined,
      shot: options.shot,
    },
    options.output ?? { kind: "light" },
  );
  const others = new Map(
    plan.extras.flatMap(({ request }) =>
      request.kind === "look" ? [[request, throughRequest(request, frame, options).data] as const] : [],
    ),
  );
  const bytes = (options.on ?? bench).engine.run(plan, (request) =>
    request?.kind === "look"
      ? others.get(request)!
      : request?.kind === "depth"
        ? options.depth!.data
        : request?.kind === "plate" && options.plate
          ? options.plate(request.index).data
          : request?.kind === "frame" && options.others
            ? options.others(request.number).data
            : frame.data,
  );
  return { width, height, data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() };
}

export function flat(width: number, height: number, light: number | [number, number, number]): Frame {
  const [r, g, b] = typeof light === "number" ? [light, light, light] : light;
  const data = new Float32Array(width * height * 4);
  for (let i = 0; i < data.length; i += 4) data.set([r, g, b, 1], i);
  return { width, height, data };
}

/** A black frame with one pixel of light. */
export function impulse(width: number, height: number, x: number, y: number, light = 1): Frame {
  const frame = flat(width, height, 0);
  frame.data.set([light, light, light, 1], (y * width + x) * 4);
  return frame;
}

/** A frame from a function of pixel index. */
export function painted(
  width: number,
  height: number,
  light: (x: number, y: number) => [number, number, number],
): Frame {
  const frame = flat(width, height, 0);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) frame.data.set(light(x, y), (y * width + x) * 4);
  return frame;
}

export const at = ({ width, data }: Frame, x: number, y: number, channel = 1) => data[(y * width + x) * 4 + channel]!;

export function total({ data }: Frame, channel = 1): number {
  let sum = 0;
  for (let i = channel; i < data.length; i += 4) sum += data[i]!;
  return sum;
}

/** Mean over squares of two by two pixels. */
export function halved({ width, height, data }: Frame): Frame {
  const out = flat(width / 2, height / 2, 0);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++)
        out.data[((y >> 1) * (width / 2) + (x >> 1)) * 4 + c]! += data[(y * width + x) * 4 + c]! / 4;
  return out;
}

/** A repeatable generator of numbers from 0 to 1. */
export function numbers(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** A frame with texture, lamps and colour, the same each time. */
export function scene(width: number, height: number): Frame {
  const next = numbers(42);
  const frame = painted(width, height, (x, y) => {
    const wave = 0.18 * (1.2 + Math.sin(x * 0.07) * Math.cos(y * 0.05)) * (0.8 + 0.4 * next());
    return [wave, wave * 0.8, wave * 0.6];
  });
  for (let i = 0; i < 12; i++)
    frame.data.set([40, 30, 18, 1], (Math.floor(next() * height) * width + Math.floor(next() * width)) * 4);
  return frame;
}

export const hashOf = ({ data }: Pick<Frame, "data">) =>
  createHash("sha256")
    .update(new Uint8Array(data.buffer, data.byteOffset, data.byteLength))
    .digest("hex")
    .slice(0, 16);
