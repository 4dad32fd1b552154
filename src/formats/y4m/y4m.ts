import { rateFraction } from "../../core/image/rate";
import { Y4M_MAGIC, y4mHeadLine } from "../../core/image/y4m-head";
import { sizeProblem } from "../../core/image/image";
import { FileError } from "../error";
import { type Choice, type Decoded, type Picture, TAKEN_AS_ONE } from "../format";
import {
  type Chroma,
  chromaSize,
  fromPlanes,
  fromYuv,
  MATRICES,
  type MatrixName,
  toYuv,
  type YuvLayout,
} from "../../core/colour/yuv";

/** YUV4MPEG2: a line of parameters, then frames, each after a line of its own. */
const DEFAULT_RATE = 24;
const MAX_LINE_LENGTH = 512;

/** Names of colour spaces without their depth. */
const CHROMA: Record<string, Chroma> = {
  "420": { halfWidth: true, halfHeight: true, leftSited: false },
  "420jpeg": { halfWidth: true, halfHeight: true, leftSited: false },
  "420mpeg2": { halfWidth: true, halfHeight: true, leftSited: true },
  "420paldv": { halfWidth: true, halfHeight: true, leftSited: true },
  "422": { halfWidth: true, halfHeight: false, leftSited: true },
  "444": { halfWidth: false, halfHeight: false, leftSited: false },
  mono: { halfWidth: false, halfHeight: false, leftSited: false, mono: true },
};

export interface Y4mHeader extends YuvLayout {
  framesPerSecond?: number;
  /** As the file writes it. */
  chroma: string;
  /** Bytes of the first line, of a frame's own line, and of a frame's samples. */
  headBytes: number;
  frameBytes: number;
  parameters: Record<string, string>;
  /** Planes of green, blue and red in place of luma and chroma. */
  isRgb: boolean;
  /** A fourth plane: alpha, by which colour has not been multiplied. */
  hasAlpha: boolean;
  /** What the file does not say. */
  assumed: string[];
  isInterlaced: boolean;
  /** Width of a pixel over its height, where the file says so. */
  pixelAspect?: number;
}

/** Lines at and above which a movie that does not say its matrix is taken for BT.709. */
const HD_LINES = 720;

export function readY4mHeader(file: string, bytes: Buffer, choice: Pick<Choice, "matrix" | "range"> = {}): Y4mHeader {
  const bad = (reason: string) => new FileError(file, reason);
  const end = bytes.subarray(0, MAX_LINE_LENGTH).indexOf(0x0a);
  if (bytes.toString("latin1", 0, Y4M_MAGIC.length) !== Y4M_MAGIC) throw bad("is not a YUV4MPEG2 file");
  if (end < 0) throw bad("its first line does not end");
  const found: Record<string, string> = {};
  const parameters: Record<string, string> = {};
  for (const word of bytes.toString("latin1", Y4M_MAGIC.length, end).split(" ").filter(Boolean)) {
    const own = /^X([A-Z0-9]+)=(.*)$/.exec(word);
    if (own) parameters[own[1]!] = own[2]!;
    else found[word[0]!] = word.slice(1);
  }
  const [width, height] = [Number(found.W), Number(found.H)];
  const problem = sizeProblem(width, height);
  if (problem) throw bad(problem);
  const space = /^(\w+?)(?:p(\d+)|(?<=mono)(\d+))?$/.exec(found.C ?? "420jpeg");
  const chroma = space && CHROMA[space[1]!];
  const bits = Number(space?.[2] ?? space?.[3] ?? 8);
  if (!chroma || !(bits >= 8 && bits <= 16))
    throw bad(`holds ${found.C}; 420, 422, 444 and mono of 8 to 16 bits are read`);
  // What ffmpeg names 420p10 has its chroma where MPEG-2 puts it.
  const sited = bits > 8 && space![1] === "420" ? { ...chroma, leftSited: true } : chroma;
  const isInterlaced = found.I !== undefined && !["p", "?"].includes(found.I);
  const rate = /^(\d+):(\d+)$/.exec(found.F ?? "");
  const aspect = /^(\d+):(\d+)$/.exec(found.A ?? "");
  const named = (parameters.HALOMATRIX ?? "").toLowerCase();
  const isRgb = named === "rgb";
  const stated = choice.matrix ?? (Object.hasOwn(MATRICES, named) ? (named as MatrixName) : undefined);
  const matrix = stated ?? (height >= HD_LINES ? "bt709" : "bt601");
  const range = choice.range ?? { FULL: "full", LIMITED: "limited" }[parameters.COLORRANGE ?? ""];
  const assumed = [
    !stated && !isRgb && !chroma.mono && `matrix taken as ${matrix}, as its height suggests`,
    !range && `range taken as limited, as most movies have it`,
    isInterlaced && TAKEN_AS_ONE,
  ].filter((one): one is string => Boolean(one));
  const layout: YuvLayout = { ...sited, width, height, bits, matrix, fullRange: range === "full" };
  const size = chromaSize(layout);
  const hasAlpha = parameters.HALOALPHA === "1";
  const samples = width * height * (hasAlpha ? 2 : 1) + 2 * size.width * size.height;
  return {
    ...layout,
    chroma: found.C ?? "420jpeg",
    headBytes: end + 1,
    frameBytes: samples * (bits > 8 ? 2 : 1),
    parameters,
    isRgb,
    hasAlpha,
    assumed,
    isInterlaced,
    // 0:0 stands for what is not known.
    pixelAspect: aspect && Number(aspect[1]) && Number(aspect[2]) ? Number(aspect[1]) / Number(aspect[2]) : undefined,
    framesPerSecond: rate && Number(rate[2]) ? Number(rate[1]) / Number(rate[2]) : undefined,
  };
}

const FRAME = "FRAME\n";

/** Frames a file of so many bytes holds, where each frame's line is the bare word. */
export const y4mFrames = ({ headBytes, frameBytes }: Y4mHeader, fileBytes: number) =>
  Math.floor((fileBytes - headBytes) / (frameBytes + FRAME.length));
export const y4mFrameAt = ({ headBytes, frameBytes }: Y4mHeader, index: number) =>
  headBytes + index * (frameBytes + FRAME.length);

/** Little-endian words, from wherever they begin, as this machine keeps its own. */
function wordsOf(bytes: Buffer, at: number, count: number): Uint16Array {
  const words = new Uint16Array(count);
  bytes.copy(Buffer.from(words.buffer), 0, at, at + 2 * count);
  return words;
}

/**
 * Reads one frame. `bytes`: the file from its first line on, or that line and then the frame wanted. `frames`: how many
 * the whole file has.
 */
export function readY4m(file: string, bytes: Buffer, choice: Choice = {}, frames?: number): Decoded {
  const { frame = 0 } = choice;
  const header = readY4mHeader(file, bytes, choice);
  const { width, height, bits, frameBytes, framesPerSecond, chroma, matrix, fullRange, parameters } = header;
  const { isRgb, hasAlpha, assumed, pixelAspect } = header;
  const start = y4mFrameAt(header, frame);
  const lineEnd = bytes.indexOf(0x0a, start);
  if (bytes.toString("latin1", start, start + 5) !== "FRAME" || lineEnd < 0)
    throw new FileError(file, `frame ${frame + 1} is not where it should be; the file is cut off or damaged`);
  const at = lineEnd + 1;
  if (at + frameBytes > bytes.length) throw new FileError(file, `frame ${frame + 1} is cut off`);
  const size = chromaSize(header);
  const wide = bits > 8;
  const plane = (from: number, count: number) =>
    wide ? wordsOf(bytes, at + from * 2, count) : bytes.subarray(at + from, at + from + count);
  const [luma, part] = [width * height, size.width * size.height];
  const planes = [plane(0, luma), plane(luma, part), plane(luma + part, part)] as const;
  const room = choice.memory?.(4 * luma);
  const data = isRgb ? fromPlanes(planes, header, room) : fromYuv(planes, header, room);
  if (hasAlpha) {
    const alpha = plane(luma + 2 * part, luma);
    for (let i = 0; i < luma; i++) data[4 * i + 3] = alpha[i]! / (2 ** bits - 1);
  }
  const depth = ([8, 10, 12] as number[]).includes(bits) ? (String(bits) as "10") : "16";
  const primaries =
    { BT709: 1, BT2020: 9, P3D65: 12 }[parameters.HALOPRIMARIES ?? ""] ??
    (isRgb ? 1 : { bt2020: 9, bt601: 6, bt709: 1 }[matrix]);
  const transfer = { BT1886: 1, SRGB: 13, PQ: 16, HLG: 18 }[parameters.HALOTRANSFER ?? ""];
  return {
    width,
    height,
    pixels: { depth: "float", data },
    ...(hasAlpha ? { alpha: "unassociated" as const } : {}),
    info: {
      width,
      height,
      depth,
      channels: [...(isRgb ? ["R", "G", "B"] : header.mono ? ["Y"] : ["Y", "Cb", "Cr"]), ...(hasAlpha ? ["A"] : [])],
      compression: `${chroma}, ${isRgb ? "RGB" : matrix}, ${fullRange ? "full" : "limited"} range`,
      framesPerSecond,
      pixelAspect,
      frames: frames ?? y4mFrames(header, bytes.length),
      text: parameters,
      ...(assumed.length ? { assumed } : {}),
      ...(header.isInterlaced ? { isInterlaced: true } : {}),
      tags: {
        cicp: {
          primaries,
          transfer: transfer ?? 2,
          matrix: isRgb ? 0 : { bt2020: 9, bt601: 6, bt709: 1 }[matrix],
          fullRange,
        },
      },
    },
  };
}

export interface Y4mOptions {
  chroma: "420" | "422" | "444";
  depth: "8" | "10";
  framesPerSecond?: number;
  matrix?: MatrixName;
  fullRange?: boolean;
  pixelAspect?: number;
}

const layoutOf = (
  { width, height }: { width: number; height: number },
  { chroma, depth, matrix, fullRange = false }: Y4mOptions,
): YuvLayout => ({
  ...CHROMA[chroma === "420" ? "420mpeg2" : chroma]!,
  width,
  height,
  bits: Number(depth),
  matrix: matrix ?? (height >= HD_LINES ? "bt709" : "bt601"),
  fullRange,
});

/** The first line of a file. */
export function y4mHead(size: { width: number; height: number }, options: Y4mOptions): Buffer {
  const { bits, matrix, fullRange } = layoutOf(size, options);
  const line = y4mHeadLine({
    width: size.width,
    height: size.height,
    rate: rateFraction(options.framesPerSecond ?? DEFAULT_RATE),
    chroma: options.chroma,
    bits,
    range: fullRange ? "FULL" : "LIMITED",
    matrix: matrix.toUpperCase(),
    pixelAspect: options.pixelAspect,
  });
  return Buffer.from(`${line}\n`, "latin1");
}

/** One frame with its line. Code values 0 to 1 are black to white. */
export function y4mFrame(picture: Picture, options: Y4mOptions): Buffer {
  const planes = toYuv(picture.data, layoutOf(picture, options));
  return Buffer.concat([
    Buffer.from(FRAME, "latin1"),
    ...planes.map(({ buffer, byteOffset, byteLength }) => Buffer.from(buffer, byteOffset, byteLength)),
  ]);
}
