import { rateFraction } from "../../core/image/rate";
import { y4mHeadLine } from "../../core/image/y4m-head";
/** Planes of a decoded frame, tightly packed, as Y4M files hold them. */
export interface Planes {
  width: number;
  height: number;
  /** Bytes of a sample: 1, or 2 (little-endian). */
  bytes: 1 | 2;
  halfWidth: boolean;
  halfHeight: boolean;
  planes: [Uint8Array, Uint8Array, Uint8Array];
}

/** What pixel formats of WebCodecs hold: chroma, and bits. */
export function formatOf(format: string): { chroma: "420" | "422" | "444"; bits: number } | null {
  const found = /^I(420|422|444)A?(?:P(10|12))?$/.exec(format);
  if (found) return { chroma: found[1] as "420", bits: Number(found[2] ?? 8) };
  return format === "NV12" ? { chroma: "420", bits: 8 } : null;
}

interface Layout {
  offset: number;
  stride: number;
}

/** Copies planes out of a frame's buffer by its layout. NV12's chroma is taken apart. */
export function packPlanes(format: string, data: Uint8Array, layout: Layout[], width: number, height: number): Planes {
  const { chroma, bits } = formatOf(format)!;
  const bytes = bits > 8 ? 2 : 1;
  const [halfWidth, halfHeight] = [chroma !== "444", chroma === "420"];
  const [cw, ch] = [halfWidth ? (width + 1) >> 1 : width, halfHeight ? (height + 1) >> 1 : height];
  const plane = (index: number, w: number, h: number) => {
    const { offset, stride } = layout[index]!;
    const out = new Uint8Array(w * h * bytes);
    for (let y = 0; y < h; y++)
      out.set(data.subarray(offset + y * stride, offset + y * stride + w * bytes), y * w * bytes);
    return out;
  };
  const luma = plane(0, width, height);
  if (format !== "NV12")
    return { width, height, bytes, halfWidth, halfHeight, planes: [luma, plane(1, cw, ch), plane(2, cw, ch)] };
  const both = plane(1, cw * 2, ch);
  const each = (at: number) => Uint8Array.from({ length: cw * ch }, (_, i) => both[i * 2 + at]!);
  return { width, height, bytes, halfWidth, halfHeight, planes: [luma, each(0), each(1)] };
}

/** Turns a frame clockwise by quarter turns. Throws where its chroma cannot be turned. */
export function turn(frame: Planes, degrees: 0 | 90 | 180 | 270): Planes {
  if (degrees === 0) return frame;
  if (degrees !== 180 && frame.halfWidth !== frame.halfHeight)
    throw new Error("The movie is to be shown on its side, and its 4:2:2 chroma cannot be turned");
  const { width, height, bytes, halfWidth, halfHeight, planes } = frame;
  const turned = planes.map((plane, i) => {
    const [w, h] =
      i === 0 ? [width, height] : [halfWidth ? (width + 1) >> 1 : width, halfHeight ? (height + 1) >> 1 : height];
    const [tw, th] = degrees === 180 ? [w, h] : [h, w];
    const out = new Uint8Array(plane.length);
    for (let y = 0; y < th; y++)
      for (let x = 0; x < tw; x++) {
        const from =
          degrees === 180 ? (h - 1 - y) * w + (w - 1 - x) : degrees === 90 ? (h - 1 - x) * w + y : x * w + (w - 1 - y);
        for (let b = 0; b < bytes; b++) out[(y * tw + x) * bytes + b] = plane[from * bytes + b]!;
      }
    return out;
  }) as Planes["planes"];
  const [tw, th] = degrees === 180 ? [width, height] : [height, width];
  return { ...frame, width: tw, height: th, planes: turned };
}

const MATRICES: Record<string, string> = {
  bt709: "BT709",
  smpte170m: "BT601",
  bt470bg: "BT601",
  "bt2020-ncl": "BT2020",
};
const TRANSFERS: Record<string, string> = {
  bt709: "BT1886",
  smpte170m: "BT1886",
  "iec61966-2-1": "SRGB",
  pq: "PQ",
  hlg: "HLG",
};

export interface Colour {
  matrix?: string | null;
  transfer?: string | null;
  fullRange?: boolean | null;
}

/** A frame as a Y4M file of its own, its colour tags on the first line. */
export function y4mFile(
  { width, height, bytes, halfWidth, halfHeight, planes }: Planes,
  bits: number,
  rate: number,
  { matrix, transfer, fullRange }: Colour,
): Uint8Array<ArrayBuffer> {
  const chroma = !halfWidth ? "444" : halfHeight ? "420" : "422";
  const line = y4mHeadLine({
    width,
    height,
    rate: rateFraction(rate),
    chroma,
    bits: bytes === 1 ? 8 : bits,
    range: fullRange ? "FULL" : "LIMITED",
    matrix: MATRICES[matrix ?? ""],
    transfer: TRANSFERS[transfer ?? ""],
  });
  const head = new TextEncoder().encode(`${line}\nFRAME\n`);
  const out = new Uint8Array(head.length + planes.reduce((sum, { length }) => sum + length, 0));
  out.set(head);
  let at = head.length;
  for (const plane of planes) {
    out.set(plane, at);
    at += plane.length;
  }
  return out;
}
