import { halfToFloat } from "../../core/maths/half";
import type { Matrix3, Triple } from "../../core/maths/matrix";
import {
  EXPONENT_STYLES,
  type ExponentStyle,
  MAX_CUBE,
  MAX_LUT1D,
  MAX_STEPS,
  type TransformStep,
  type Transform,
} from "../../core/colour/transform/transform";
import type { LogParams } from "../../core/colour/transfer/log";
import { FileError } from "../error";
import { parseXml } from "../xml";

/** A node of the parser's ordered output: its one tag with children, and its attributes. */
type Node = Record<string, unknown> & { ":@"?: Record<string, string> };

const tagOf = (node: Node) => Object.keys(node).find((key) => key !== ":@") ?? "";
const childrenOf = (node: Node) => (node[tagOf(node)] as Node[] | undefined) ?? [];
const attributesOf = (node: Node) => node[":@"] ?? {};
const textOf = (node: Node) =>
  childrenOf(node)
    .map((child) => (typeof child["#text"] === "string" ? child["#text"] : ""))
    .join(" ");

/** Whole-number bit depths scale their values by the highest code; floats stand as they are. */
const DEPTH_SCALE: Record<string, number> = { "8i": 255, "10i": 1023, "12i": 4095, "16i": 65535, "16f": 1, "32f": 1 };

/** A Common LUT Format file (Academy S-2014-006, version 3 and before) as a transform of normalised values. */
export function readClf(file: string, text: string): Transform {
  const bad = (reason: string) => new FileError(file, reason);
  const root = (
    parseXml(file, text, { preserveOrder: true, attributeNamePrefix: "", trimValues: true }) as Node[]
  ).find((node) => tagOf(node) === "ProcessList");
  if (!root) throw bad("has no ProcessList");
  const steps: TransformStep[] = [];
  for (const node of childrenOf(root)) {
    const tag = tagOf(node);
    if (["Description", "InputDescriptor", "OutputDescriptor", "Info", "#text", "#comment"].includes(tag)) continue;
    const attributes = attributesOf(node);
    if (attributes.bypass === "true") continue;
    const depth = (key: "inBitDepth" | "outBitDepth") => {
      const scale = DEPTH_SCALE[attributes[key] ?? ""];
      if (!scale)
        throw bad(
          `${tag}: ${key}: is “${attributes[key] ?? "missing"}”; it must be one of ${Object.keys(DEPTH_SCALE).join(", ")}`,
        );
      return scale;
    };
    const read = READERS[tag];
    if (!read) throw bad(`${tag}: is not a step that is read; ${Object.keys(READERS).join(", ")} are`);
    steps.push(
      ...read({
        node,
        attributes,
        bad: (reason) => bad(`${tag}: ${reason}`),
        inScale: depth("inBitDepth"),
        outScale: depth("outBitDepth"),
      }),
    );
  }
  if (!steps.length) throw bad("has no steps");
  if (steps.length > MAX_STEPS) throw bad(`has ${steps.length} steps; ${MAX_STEPS} are read`);
  return { name: attributesOf(root).name ?? attributesOf(root).id ?? file.replace(/\.[^.]+$/, ""), steps };
}

interface Context {
  node: Node;
  attributes: Record<string, string>;
  bad: (reason: string) => FileError;
  inScale: number;
  outScale: number;
}

const READERS: Record<string, (context: Context) => TransformStep[]> = {
  Matrix: matrix,
  LUT1D: lut1d,
  LUT3D: lut3d,
  Range: range,
  Log: log,
  Exponent: exponent,
  ASC_CDL: cdl,
};

function numbersOf(text: string, bad: Context["bad"]): number[] {
  const numbers = text.split(/\s+/).filter(Boolean).map(Number);
  if (!numbers.every(Number.isFinite)) throw bad("holds something that is not a number");
  return numbers;
}

/** The rows of the step's Array and its declared sizes. */
function arrayOf({ node, bad }: Context): { sizes: number[]; values: number[] } {
  const array = childrenOf(node).find((child) => tagOf(child) === "Array");
  if (!array) throw bad("has no Array");
  const sizes = numbersOf(attributesOf(array).dim ?? "", bad);
  if (!sizes.length || sizes.some((size) => !Number.isInteger(size) || size < 1 || size > MAX_LUT1D))
    throw bad(`Array: dim: is “${attributesOf(array).dim ?? ""}”`);
  const values = numbersOf(textOf(array), bad);
  return { sizes, values };
}

function matrix(context: Context): TransformStep[] {
  const { values, sizes } = arrayOf(context);
  const columns = sizes[1] ?? 3;
  if (sizes[0]! < 3 || (columns !== 3 && columns !== 4) || values.length < 3 * columns)
    throw context.bad("Array: is 3 by 3 or 3 by 4 numbers");
  const scale = context.inScale / context.outScale;
  const entry = (row: number, column: number) => values[row * columns + column]!;
  const m = [0, 1, 2].flatMap((row) => [0, 1, 2].map((column) => entry(row, column) * scale)) as unknown as Matrix3;
  const offset = [0, 1, 2].map((row) => (columns === 4 ? entry(row, 3) / context.outScale : 0)) as unknown as Triple;
  return [{ kind: "matrix", matrix: m, offset }];
}

function lut1d(context: Context): TransformStep[] {
  const { attributes, bad, outScale } = context;
  const { values, sizes } = arrayOf(context);
  const [size, channels] = [sizes[0]!, sizes[1] ?? 1];
  if ((channels !== 1 && channels !== 3) || size < 2 || values.length !== size * channels)
    throw bad(`Array: has ${values.length} numbers; dim says ${sizes.join(" by ")}`);
  const raw = attributes.rawHalfs === "true";
  const value = (i: number) => (raw ? halfToFloat(values[i]! & 0xffff) : values[i]! / outScale);
  const table = Float32Array.from({ length: size * 3 }, (_, i) => value(channels === 3 ? i : Math.floor(i / 3)));
  if (attributes.halfDomain === "true") {
    if (size !== MAX_LUT1D) throw bad(`halfDomain: has ${size} entries; it must have ${MAX_LUT1D}`);
    return [{ kind: "lutHalf", table: table.map((entry) => (Number.isFinite(entry) ? entry : 0)) }];
  }
  return [{ kind: "lut1d", size, low: [0, 0, 0], high: [1, 1, 1], table }];
}

/** How a cube is read between its entries; where it is not said, as OpenColorIO has it. */
const INTERPOLATIONS = ["trilinear", "tetrahedral"];

function lut3d(context: Context): TransformStep[] {
  const { attributes, bad, outScale } = context;
  const { interpolation = "tetrahedral" } = attributes;
  if (!INTERPOLATIONS.includes(interpolation))
    throw bad(`interpolation: is “${interpolation}”; it must be ${INTERPOLATIONS.join(" or ")}`);
  const { values, sizes } = arrayOf(context);
  const size = sizes[0]!;
  if (sizes.length !== 4 || sizes[1] !== size || sizes[2] !== size || sizes[3] !== 3 || size < 2 || size > MAX_CUBE)
    throw bad(`Array: dim: is N N N 3, N from 2 to ${MAX_CUBE}`);
  if (values.length !== size ** 3 * 3) throw bad(`Array: has ${values.length} numbers; dim asks for ${size ** 3 * 3}`);
  return [
    {
      kind: "lut3d",
      size,
      low: [0, 0, 0],
      high: [1, 1, 1],
      table: Float32Array.from(values, (value) => value / outScale),
      isTrilinear: interpolation === "trilinear",
    },
  ];
}

function range({ node, attributes, bad, inScale, outScale }: Context): TransformStep[] {
  const value = (name: string) => {
    const child = childrenOf(node).find((entry) => tagOf(entry) === name);
    return child ? numbersOf(textOf(child), bad)[0] : undefined;
  };
  const [minIn, maxIn, minOut, maxOut] = [
    value("minInValue"),
    value("maxInValue"),
    value("minOutValue"),
    value("maxOutValue"),
  ];
  if ((minIn === undefined) !== (minOut === undefined) || (maxIn === undefined) !== (maxOut === undefined))
    throw bad("gives one side of a limit without the other");
  const low = minIn === undefined ? undefined : { in: minIn / inScale, out: minOut! / outScale };
  const high = maxIn === undefined ? undefined : { in: maxIn / inScale, out: maxOut! / outScale };
  if (!low && !high) return [];
  if (low && high && low.in >= high.in) throw bad("minInValue must be below maxInValue");
  const scale = low && high ? (high.out - low.out) / (high.in - low.in) : 1;
  const offset = low ? low.out - low.in * scale : high!.out - high!.in * scale;
  return [
    { kind: "range", scale, offset, ...(attributes.style === "noClamp" ? {} : { low: low?.out, high: high?.out }) },
  ];
}

const channelParams = (node: Node, tag: string) =>
  childrenOf(node)
    .filter((child) => tagOf(child) === tag)
    .map(attributesOf);

/** Three channels' parameters from elements that name a channel, or none for all. */
function perChannel(
  found: Record<string, string>[],
): [Record<string, string>, Record<string, string>, Record<string, string>] {
  const of = (name: string) =>
    found.find(({ channel }) => channel === name) ?? found.find(({ channel }) => !channel) ?? {};
  return [of("R"), of("G"), of("B")];
}

function log({ node, attributes, bad }: Context): TransformStep[] {
  const style = attributes.style ?? "";
  const plain = /^(anti)?log(2|10)$/i.exec(style);
  if (plain) {
    const params: LogParams = {
      base: Number(plain[2]),
      logSideSlope: 1,
      logSideOffset: 0,
      linSideSlope: 1,
      linSideOffset: 0,
    };
    return [{ kind: "log", toLog: !plain[1], channels: [params, params, params] }];
  }
  const found = /^(camera)?(linToLog|logToLin)$/i.exec(style);
  if (!found)
    throw bad(
      `style: is “${style}”; it must be log10, log2, antiLog10, antiLog2, linToLog, logToLin, cameraLinToLog or cameraLogToLin`,
    );
  const camera = Boolean(found[1]);
  const channels = perChannel(channelParams(node, "LogParams")).map((params): LogParams => {
    const value = (name: string, otherwise?: number) => {
      const given = params[name] === undefined ? otherwise : Number(params[name]);
      if (given !== undefined && !Number.isFinite(given)) throw bad(`LogParams: ${name}: is not a number`);
      return given;
    };
    const linSideBreak = camera ? value("linSideBreak") : undefined;
    if (camera && linSideBreak === undefined) throw bad("LogParams: linSideBreak: is missing");
    return {
      base: value("base", 2)!,
      logSideSlope: value("logSideSlope", 1)!,
      logSideOffset: value("logSideOffset", 0)!,
      linSideSlope: value("linSideSlope", 1)!,
      linSideOffset: value("linSideOffset", 0)!,
      ...(linSideBreak === undefined ? {} : { linSideBreak }),
      ...(camera && params.linearSlope !== undefined ? { linearSlope: value("linearSlope") } : {}),
    };
  });
  return [{ kind: "log", toLog: /linToLog/i.test(found[2]!), channels: channels as [LogParams, LogParams, LogParams] }];
}

function exponent({ node, attributes, bad }: Context): TransformStep[] {
  const style = EXPONENT_STYLES.find((entry) => entry === attributes.style) as ExponentStyle | undefined;
  if (!style)
    throw bad(`style: is “${attributes.style ?? "missing"}”; it must be one of ${EXPONENT_STYLES.join(", ")}`);
  const params = perChannel([...channelParams(node, "ExponentParams"), ...channelParams(node, "GammaParams")]);
  const value = (name: string, otherwise: number) =>
    params.map((entry) => Number(entry[name] ?? otherwise)) as unknown as Triple;
  const [power, offset] = [value("exponent", 1), value("offset", 0)];
  if (!power.every((entry) => entry >= 0.01 && entry <= 100))
    throw bad("ExponentParams: exponent: must lie from 0.01 to 100");
  // A power of one with a toe has no toe; without an offset it is the basic power.
  const basic = offset.every((entry) => entry === 0) || power.some((entry) => entry === 1);
  return [
    {
      kind: "exponent",
      style: basic ? (style.replace("monCurve", "basic") as ExponentStyle) : style,
      exponent: power,
      offset,
    },
  ];
}

function cdl({ node, attributes, bad }: Context): TransformStep[] {
  const style = attributes.style ?? "Fwd";
  const found = /^(v1\.2_)?(Fwd|Rev)(NoClamp)?$/i.exec(style);
  if (!found) throw bad(`style: is “${style}”; it must be Fwd, Rev, FwdNoClamp or RevNoClamp`);
  const inside = (parent: string, name: string) => {
    const holder = childrenOf(node).find((child) => tagOf(child) === parent);
    const child = holder && childrenOf(holder).find((entry) => tagOf(entry) === name);
    return child ? numbersOf(textOf(child), bad) : [];
  };
  const triple = (name: string, otherwise: number) => {
    const values = inside("SOPNode", name);
    return (values.length === 3 ? values : [otherwise, otherwise, otherwise]) as unknown as Triple;
  };
  const [saturation = 1] = inside("SatNode", "Saturation");
  return [
    {
      kind: "cdl",
      slope: triple("Slope", 1),
      offset: triple("Offset", 0),
      power: triple("Power", 1),
      saturation,
      clamps: !found[3],
      inverse: found[2]!.toLowerCase() === "rev",
    },
  ];
}
