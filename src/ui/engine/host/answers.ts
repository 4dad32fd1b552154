import { compile } from "../../../core/compile/compile";
import type { Output } from "../../../core/compile/outputs/outputs";
import { Superseded } from "../../../core/engine/engine";
import { tonalPart } from "../../../core/export/tonal-part";
import { floatsOf } from "../../../core/image/image";
import { markedEnds, newlyAtEnds } from "../../../core/judge/clipping";
import { judge } from "../../../core/judge/judge";
import { type OverscanMissing, overscanMissing, overscanNeeded } from "../../../core/judge/overscan";
import { madeBy } from "../../../core/judge/places";
import { lookAt } from "../../../core/look/at-frame";
import type { Look } from "../../../core/look/look";
import { movedOnly } from "../../../core/look/moved";
import { countsOf } from "../../../core/scopes/count";
import { lightHistogram } from "../../../core/scopes/light-histogram";
import { RAMP_STEPS, rampFrame } from "../../../core/scopes/ramp";
import type { AnswerTo, FrameOrder, Light, OrderOf, QuestionKind } from "../questions";
import { computeLook, type Desk, lightIn, lookOf } from "./compute";

/**
 * Answers a question. Throws Superseded where nobody waits for it any more, and what the server said of pixels that are
 * not there.
 */
type Answering<K extends QuestionKind> = (desk: Desk, order: OrderOf<K>) => Promise<AnswerTo<K>>;

const LIGHT: Output = { kind: "light" };
const LANES = 4;

/** A picture's codes as 8-bit RGBA, marked where the look brought them to an end of the scale. */
async function endsOf(desk: Desk, order: FrameOrder, codes: Uint8Array): Promise<Uint8Array> {
  const own = floatsOf(codes.slice());
  const moved = movedOnly(order.look, await lookOf(desk, order));
  const { bytes } = await computeLook(desk, { ...order, look: moved }, { kind: "codes" });
  const { ends } = newlyAtEnds(own, floatsOf(bytes.slice()));
  return new Uint8Array(markedEnds(own, ends).buffer);
}

const picture: Answering<"picture"> = async (desk, { output, ends, ...order }) => {
  const made = ends
    ? await computeLook(desk, { ...order, rows: undefined }, { kind: "codes" })
    : await computeLook(desk, order, output);
  const { width, height, rows, milliseconds } = made;
  const shown = ends ? await endsOf(desk, { ...order, rows: undefined }, made.bytes) : made.bytes;
  const rowBytes = shown.length / height;
  const [top, end] = rows;
  const pixels = new Uint8ClampedArray(shown.subarray(top * rowBytes, end * rowBytes));
  return { width, height, top, rows: end - top, divide: order.divide, pixels, milliseconds };
};

const light: Answering<"light"> = async (desk, { x, y, ...order }) => {
  const { bytes, width, height } = await computeLook(desk, order, LIGHT);
  const floats = floatsOf(bytes);
  const [column, row] = [Math.floor(x / order.divide), Math.floor(y / order.divide)];
  const at = (Math.min(height - 1, row) * width + Math.min(width - 1, column)) * LANES;
  return [floats[at]!, floats[at + 1]!, floats[at + 2]!] as Light;
};

const histogram: Answering<"histogram"> = async (desk, { judged, ...order }) =>
  lightHistogram(floatsOf((await computeLook(desk, order, LIGHT)).bytes), judged);

/** Rows of the ramp's picture: enough to show what grain and glow make of it. */
const RAMP_ROWS = 24;

/** The ramp is no frame of the shot's: nothing is fetched for it. */
const ramp: Answering<"ramp"> = async ({ engine, cabinet }, { look, frame, frameRate, shot }) => {
  const run = (of: Look, rows: number, kind: "codes" | "display") => {
    const { width, height, data } = rampFrame(rows);
    const request = { width, height, frame, frameRate, shot, sourceKey: `ramp ${rows}` };
    // What another frame or another shot would bring is the ramp itself.
    return engine.run(compile(of, cabinet, request, { kind }), () => data);
  };
  const at = lookAt(look, cabinet, { width: RAMP_STEPS, height: 1, frame, frameRate, shot });
  const signal = floatsOf(run(tonalPart(look, at).look, 1, "codes")).slice();
  const picture = new Uint8ClampedArray(run(look, RAMP_ROWS, "display"));
  return { signal, picture, width: RAMP_STEPS, height: RAMP_ROWS };
};

const scopes: Answering<"scopes"> = async (desk, { output, ...order }) =>
  countsOf((await computeLook(desk, order, output)).bytes);

/** The order's frame at its full size. */
async function fullFrame(desk: Desk, order: FrameOrder) {
  const { frame, frameRate, shot, divide } = order;
  const { width, height, overscan } = await lightIn(desk, order);
  return { full: { width: width * divide, height: height * divide, frame, frameRate, shot }, overscan };
}

const beyond: Answering<"beyond"> = async (desk, order) => {
  const { engine, cabinet } = desk;
  const { full } = await fullFrame(desk, order);
  return overscanNeeded(order.look, cabinet, full, madeBy(engine, cabinet, full));
};

/** What the order's look needs beyond its frame, which the file may not hold. */
async function overscanOf(desk: Desk, order: FrameOrder): Promise<OverscanMissing | null> {
  const { engine, cabinet } = desk;
  const { divide } = order;
  const { full, overscan } = await fullFrame(desk, order);
  const [left, top, right, bottom] = [overscan.left, overscan.top, overscan.right, overscan.bottom].map(
    (px) => px * divide,
  ) as [number, number, number, number];
  return overscanMissing(order.look, cabinet, full, { left, top, right, bottom }, madeBy(engine, cabinet, full));
}

/**
 * Nobody waits for it: a picture that is asked for meanwhile goes first, and the question is put again when that rests.
 */
const judged: Answering<"judged"> = async (desk, order) => {
  const { width, height, cleaned } = await lightIn(desk, order);
  const begun = desk.picturesAsked();
  const isOvertaken = () => desk.picturesAsked() !== begun;
  const found = await judge(order.look, await lookOf(desk, order), { width, height, cleaned }, async (look, output) => {
    if (isOvertaken()) throw new Superseded();
    const { bytes } = await computeLook(desk, { ...order, look }, output, { isOvertaken });
    return bytes.slice();
  });
  if (isOvertaken()) throw new Superseded();
  return { ...found, overscan: await overscanOf(desk, order) };
};

export const ANSWERS: { readonly [K in QuestionKind]: Answering<K> } = {
  picture,
  light,
  histogram,
  ramp,
  scopes,
  beyond,
  judged,
};

export const answer = <K extends QuestionKind>(kind: K, desk: Desk, order: OrderOf<K>): Promise<AnswerTo<K>> =>
  ANSWERS[kind](desk, order);
