import { LRUCache } from "lru-cache";
import PQueue from "p-queue";
import { compile } from "../../core/compile/compile";
import { Engine, Superseded } from "../../core/engine/engine";
import { createMemory } from "../../core/engine/kernels";
import { CONTROL_BYTES, type HelperStart, Team } from "../../core/engine/team";
import { type SourceRequest } from "../../core/engine/plan";
import type { Rows } from "../../core/engine/rows";
import { resizeFrame } from "../../core/engine/resize";
import type { Look } from "../../core/look/look";
import { lightHistogram } from "../../core/scopes/light-histogram";
import { tonalPart } from "../../core/export/tonal-part";
import { lookAt, type LookAtFrame } from "../../core/look/at-frame";
import { RAMP_STEPS, rampFrame } from "../../core/scopes/ramp";
import { countsOf } from "../../core/scopes/count";
import { markedEnds, newlyAtEnds } from "../../core/judge/clipping";
import { judge, type Judged } from "../../core/judge/judge";
import { movedOnly } from "../../core/look/moved";
import type { Output } from "../../core/compile/outputs/outputs";
import { canvasOf, isNone, isSame, NO_OVERSCAN, type Overscan, withOverscan } from "../../core/image/overscan";
import { middleOfShape, OWN_ENCODING } from "../../core/frame/plate";
import { floatsOf } from "../../core/image/image";
import { cabinetOf } from "../../core/profile/profiles";
import { type FetchedFrame, fetchFrame } from "./fetch-frame";
import { type FrameOrder, type FromHost, PRIORITY, type Ramp, type ToHost } from "./messages";

/** The engine's own thread in the browser: it fetches frames, compiles looks and runs plans with its helpers. */

/** Bytes of steps' results kept, so that a control recomputes from its element onward. */
const BUDGET = 640 * 2 ** 20;

let engine: Engine | null = null;
/** Channels that are open: the id of the newest request of each, and how soon what it asks for is done. */
const channels = new Map<number, { latest: Int32Array; priority: number }>();
let cabinet = cabinetOf([]);

const send = (message: FromHost, transfer: Transferable[] = []) => postMessage(message, { transfer });

async function start(helpers: number): Promise<void> {
  const module = await WebAssembly.compileStreaming(fetch("/engine/kernels.wasm"));
  const memory = createMemory();
  const control = new SharedArrayBuffer(CONTROL_BYTES);
  const ready = Array.from({ length: helpers }, (_, i) => {
    const worker = new Worker("/engine/helper.js");
    worker.postMessage({ module, memory, control, member: i + 1 } satisfies HelperStart);
    return new Promise((resolve) => worker.addEventListener("message", resolve, { once: true }));
  });
  await Promise.all(ready);
  engine = new Engine(memory, new Team(module, memory, control, helpers), BUDGET);
  send({ kind: "ready" });
}

type Source = FetchedFrame;

/** Frames kept, bytes: enough to play a short shot again, and to step back and forth. */
const SOURCES_BYTES = 512 * 2 ** 20;
const sources = new LRUCache<string, Source>({
  maxSize: SOURCES_BYTES,
  sizeCalculation: ({ data }) => data.byteLength,
});
/** Frames on their way, so that one is brought once. */
const coming = new Map<string, Promise<Source>>();

const sourceKey = ({ shotId, encoding, divide, still }: FrameOrder, frame: number, plane: string) =>
  [shotId, encoding, frame, divide, plane, ...(still === undefined ? [] : ["still", still])].join(" ");

/** What is kept under a key, or else is brought and kept; the oldest go where there is no room. */
async function kept(key: string, bring: () => Promise<Source>): Promise<Source> {
  const found = sources.get(key);
  if (found) return found;
  const before = coming.get(key);
  if (before) return before;
  const bringing = bring().finally(() => coming.delete(key));
  coming.set(key, bringing);
  const source = await bringing;
  sources.set(key, source);
  return source;
}

/** A frame of the shot in working light, or with `plane` its depth. */
async function sourceOf(order: FrameOrder, frame = order.frame, plane: "light" | "depth" = "light"): Promise<Source> {
  return kept(sourceKey(order, frame, plane), () =>
    order.still !== undefined && plane === "light"
      ? stillLight(order, order.still)
      : fetchFrame(`/api/shots/${order.shotId}/frames/${frame}?divide=${order.divide}&plane=${plane}&overscan=yes`),
  );
}

/** Pixels of any size, cut and scaled to another. */
function fitted(whole: FetchedFrame, { width, height }: Source, key: string): FetchedFrame {
  if (whole.width === width && whole.height === height) return whole;
  const made = resizeFrame(engine!, middleOfShape(whole, width, height), width, height, key);
  return { ...made, overscan: NO_OVERSCAN, hasDepth: false, cleaned: whole.cleaned };
}

/** A frame's pixels with the overscan that others have, or with none. */
function pixelsOf({ width, height, data, overscan }: Source, wanted: Overscan): Float32Array {
  if (isSame(overscan, wanted)) return data;
  return withOverscan(data, canvasOf({ width, height }, overscan), overscan, wanted, LANES);
}
const LANES = 4;

/** A still, as large as the frame whose place it takes. */
async function stillLight(order: FrameOrder, still: number): Promise<Source> {
  const { still: _, ...own } = order;
  const [frame, whole] = await Promise.all([
    sourceOf(own),
    fetchFrame(`/api/stills/${still}/light?divide=${order.divide}`),
  ]);
  return fitted(whole, frame, `still ${still} ${order.divide} ${frame.width} ${frame.height}`);
}

/**
 * A frame of the shot's, or of a plate's, cut and scaled to the size of this one; or what another look makes of this one. `wanted`: the
 * overscan it is asked for with.
 */
async function furtherPixels(
  order: FrameOrder,
  request: SourceRequest,
  source: Source,
  wanted: Overscan,
): Promise<Float32Array> {
  if (request.kind === "depth") return pixelsOf(await sourceOf(order, order.frame, "depth"), wanted);
  if (request.kind === "frame") return pixelsOf(await sourceOf(order, request.number), wanted);
  if (request.kind === "look") {
    const { look, still, frame = order.frame } = request;
    const output = { kind: "light" } as const;
    const made = await computed(
      { ...order, look: look as Look, still, frame, rows: undefined, output },
      undefined,
      wanted,
    );
    if (!made) throw new Superseded();
    return floatsOf(made.bytes).slice();
  }
  const { footage, encoding, ends, index } = request;
  const key = [footage, encoding, ends, index, order.divide, source.width, source.height, order.plates].join(" ");
  const query = new URLSearchParams({
    index: String(index),
    ends,
    divide: String(order.divide),
    ...(encoding === OWN_ENCODING ? {} : { encoding }),
  });
  const frame = await kept(key, async () =>
    fitted(await fetchFrame(`/api/shots/${encodeURIComponent(footage)}/plate?${query}`), source, key),
  );
  return pixelsOf(frame, wanted);
}

function isStale({ channel, id }: FrameOrder): boolean {
  const open = channels.get(channel);
  return !open || Atomics.load(open.latest, 0) !== id;
}

/** The rows an order wants of a picture so many rows high. */
function rowsOf({ rows, divide }: FrameOrder, height: number): Rows {
  if (!rows) return [0, height];
  const first = Math.min(height - 1, Math.max(0, Math.floor(rows[0] / divide)));
  return [first, Math.min(height, Math.max(first + 1, Math.ceil(rows[1] / divide)))];
}

/** Changes whenever a picture is asked for that somebody looks at. */
const picturesAsked = (): number =>
  [...channels.values()].reduce(
    (sum, { latest, priority }) => (priority >= PRIORITY.compared ? sum + Atomics.load(latest, 0) : sum),
    0,
  );

/** `isOvertaken`: whether something else is to be done first by now. `keeps`: overscan that the result has; none if left out. */
async function computed(
  order: FrameOrder,
  isOvertaken: () => boolean = () => false,
  keeps: Overscan = NO_OVERSCAN,
): Promise<{ bytes: Uint8Array; source: Source; rows: Rows; milliseconds: number } | null> {
  if (isStale(order)) return null;
  const source = await sourceOf(order);
  if (isStale(order) || !engine) return null;
  const { width, height } = source;
  const around = isNone(keeps) ? source.overscan : keeps;
  const begun = performance.now();
  const { frame, shot, frameRate } = order;
  const planned = (isKept: (key: string) => boolean) =>
    compile(
      order.look,
      cabinet,
      {
        width,
        height,
        ...(isNone(around) ? {} : { overscan: around, keepsOverscan: !isNone(keeps) }),
        frame,
        sourceKey: `${sourceKey(order, frame, "light")} ${order.plates}`,
        hasDepth: source.hasDepth,
        frameRate,
        shot,
      },
      order.output,
      isKept,
    );
  const short = planned((key) => engine!.has(key));
  // Bringing further pixels may push out what the short plan begins from.
  const plan = short.extras.length ? planned(() => false) : short;
  const further = new Map<SourceRequest, Float32Array>();
  for (const { request, buffer } of plan.extras) {
    // What is asked for after the overscan is cut off has none.
    const wanted = plan.buffers[buffer]!.width === width ? NO_OVERSCAN : around;
    further.set(request, await furtherPixels(order, request, source, wanted));
  }
  if (isStale(order)) return null;
  const rows = rowsOf(order, height);
  const bytes = engine.run(
    plan,
    (wanted) => (wanted ? further.get(wanted)! : pixelsOf(source, around)),
    () => isStale(order) || isOvertaken(),
    order.rows && rows,
  );
  return { bytes, source, rows, milliseconds: performance.now() - begun };
}

type Asked = Extract<ToHost, { kind: "frame" | "probe" | "histogram" | "scopes" | "ramp" | "judge" }>;

/** What a look makes of the order's frame, as another output, to keep. Throws Superseded. */
async function copied(order: FrameOrder, look: Look, output: Output, isOvertaken?: () => boolean): Promise<Uint8Array> {
  if (isOvertaken?.()) throw new Superseded();
  const made = await computed({ ...order, look, output }, isOvertaken);
  if (!made) throw new Superseded();
  return made.bytes.slice();
}

/** A picture's codes as RGBA of eight bits, marked where the look brought them to an end of the scale. */
async function endsOf(order: FrameOrder, codes: Uint8Array): Promise<Uint8Array> {
  const own = floatsOf(codes.slice());
  const at = await lookOf(order);
  const before = floatsOf(await copied(order, movedOnly(order.look, at), { kind: "codes" }));
  const { ends } = newlyAtEnds(own, before);
  return new Uint8Array(markedEnds(own, ends).buffer);
}

/** The order's look at its frame. */
async function lookOf(order: FrameOrder): Promise<LookAtFrame> {
  const { width, height, hasDepth } = await sourceOf(order);
  const { look, frame, frameRate, shot } = order;
  return lookAt(look, cabinet, { width, height, frame, hasDepth, frameRate, shot });
}

/** Nobody waits for it: a picture that is asked for meanwhile goes first, and the question is put again when that rests. */
async function judgedOf(order: FrameOrder): Promise<Judged> {
  const { width, height, cleaned } = await sourceOf(order);
  const begun = picturesAsked();
  const isOvertaken = () => picturesAsked() !== begun;
  return judge(order.look, await lookOf(order), { width, height, cleaned }, (of, output) =>
    copied(order, of, output, isOvertaken),
  );
}

/** Rows of the ramp's picture: enough to show what grain and glow make of it. */
const RAMP_ROWS = 24;

/** The grey ramp through a look's tonal part, and through all of it. It is no frame of the shot's: nothing is fetched for it. */
function rampThrough({ look, frame, frameRate, shot }: FrameOrder): Ramp {
  const run = (of: Look, rows: number, kind: "codes" | "display") => {
    const { width, height, data } = rampFrame(rows);
    const request = { width, height, frame, frameRate, shot, sourceKey: `ramp ${rows}` };
    const plan = compile(of, cabinet, request, { kind });
    // What another frame or another shot would bring is the ramp itself.
    return engine!.run(plan, () => data);
  };
  const at = lookAt(look, cabinet, { width: RAMP_STEPS, height: 1, frame, frameRate, shot });
  const signal = floatsOf(run(tonalPart(look, at).look, 1, "codes")).slice();
  const picture = new Uint8ClampedArray(run(look, RAMP_ROWS, "display"));
  return { signal, picture, width: RAMP_STEPS, height: RAMP_ROWS };
}

async function perform(message: Asked): Promise<void> {
  const { order } = message;
  try {
    if (message.kind === "ramp") {
      if (isStale(order) || !engine) return;
      const ramp = rampThrough(order);
      const told = { kind: "ramp", channel: order.channel, id: order.id, ramp } as const;
      return send(told, [ramp.signal.buffer, ramp.picture.buffer]);
    }
    if (message.kind === "judge")
      return send({ kind: "judge", channel: order.channel, id: order.id, judged: await judgedOf(order) });
    const result = await computed(order.ends ? { ...order, rows: undefined, output: { kind: "codes" } } : order);
    if (!result) return;
    const { width, height } = result.source;
    if (message.kind === "scopes") {
      const counts = countsOf(result.bytes);
      const rows = [counts.red, counts.green, counts.blue, counts.luma, ...(counts.vectors ? [counts.vectors] : [])];
      return send(
        { kind: "scopes", channel: order.channel, id: order.id, counts },
        rows.map(({ buffer }) => buffer),
      );
    }
    if (message.kind === "histogram") {
      const bins = lightHistogram(floatsOf(result.bytes), message.judged);
      return send({ kind: "histogram", channel: order.channel, id: order.id, bins });
    }
    if (message.kind === "probe") {
      const floats = floatsOf(result.bytes);
      const at = (Math.min(height - 1, message.y) * width + Math.min(width - 1, message.x)) * 4;
      send({
        kind: "probe",
        channel: order.channel,
        id: order.id,
        light: [floats[at]!, floats[at + 1]!, floats[at + 2]!],
      });
      return;
    }
    const [top, end] = result.rows;
    const shown = order.ends ? await endsOf(order, result.bytes) : result.bytes;
    const rowBytes = shown.length / height;
    const pixels = new Uint8ClampedArray(shown.subarray(top * rowBytes, end * rowBytes));
    send(
      {
        kind: "frame",
        channel: order.channel,
        id: order.id,
        width,
        height,
        top,
        rows: end - top,
        divide: order.divide,
        pixels,
        milliseconds: result.milliseconds,
      },
      [pixels.buffer],
    );
  } catch (error) {
    if (!(error instanceof Superseded))
      send({ kind: "failed", channel: order.channel, id: order.id, reason: (error as Error).message });
  }
}

/** Frames brought at once ahead of their time; what is asked for now finds the rest of the readers free. */
const AHEAD_AT_ONCE = 2;
let wantedAhead: FrameOrder[] = [];
let bringingAhead = 0;

/** Brings frames that will be asked for; one that does not come is told of when it is. */
function bringAhead(): void {
  while (bringingAhead < AHEAD_AT_ONCE && wantedAhead.length) {
    bringingAhead++;
    void sourceOf(wantedAhead.shift()!)
      .catch(() => {})
      .finally(() => {
        bringingAhead--;
        bringAhead();
      });
  }
}

// One after another: a plan runs to its end, or to where it is superseded, before the next begins.
const queue = new PQueue({ concurrency: 1 });

/** What is told, done in the order it is told in, before all that is asked for later. */
const SETTING = PRIORITY.picked + 1;

function hear(message: ToHost): void {
  switch (message.kind) {
    case "start":
      return void queue.add(() => start(message.helpers), { priority: SETTING });
    case "profiles":
      return void queue.add(() => void (cabinet = cabinetOf(message.profiles, message.tables)), { priority: SETTING });
    case "open":
      return void channels.set(message.channel, {
        latest: new Int32Array(message.latest),
        priority: message.priority,
      });
    case "close":
      return void channels.delete(message.channel);
    // Frames are brought beside whatever is being computed.
    case "prepare":
      wantedAhead = message.orders;
      return bringAhead();
    default:
      return void queue.add(() => perform(message), { priority: channels.get(message.order.channel)?.priority });
  }
}
addEventListener("message", (event: MessageEvent<ToHost>) => hear(event.data));
