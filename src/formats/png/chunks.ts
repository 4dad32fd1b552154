import type { ColourTags } from "../format";

export const SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const MAX_CHUNKS = 1000;

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function crc(bytes: Buffer): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = CRC[(c ^ byte) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

export interface PngTags {
  tags: ColourTags;
  text: Record<string, string>;
  /** Pixels in a length, across and down. */
  density?: [number, number];
}

/** What a PNG's chunks before its pixels say (PNG, third edition): cICP, gAMA, sRGB, cHRM, pHYs, and text. */
export function readPngTags(bytes: Buffer): PngTags {
  const tags: ColourTags = {};
  const text: Record<string, string> = {};
  let density: PngTags["density"];
  if (!bytes.subarray(0, 8).equals(SIGNATURE)) return { tags, text };
  let at = 8;
  for (let n = 0; n < MAX_CHUNKS && at + 12 <= bytes.length; n++) {
    const length = bytes.readUInt32BE(at);
    const kind = bytes.toString("latin1", at + 4, at + 8);
    if (kind === "IDAT" || kind === "IEND" || at + 12 + length > bytes.length) break;
    const data = bytes.subarray(at + 8, at + 8 + length);
    if (kind === "cICP" && length === 4)
      tags.cicp = { primaries: data[0]!, transfer: data[1]!, matrix: data[2]!, fullRange: data[3] === 1 };
    else if (kind === "gAMA" && length === 4 && data.readUInt32BE(0)) tags.gamma = data.readUInt32BE(0) / 100_000;
    else if (kind === "sRGB") tags.srgb = true;
    else if (kind === "pHYs" && length === 9) density = [data.readUInt32BE(0), data.readUInt32BE(4)];
    else if (kind === "cHRM" && length === 32) {
      const [wx, wy, ...rest] = Array.from({ length: 8 }, (_, i) => data.readUInt32BE(i * 4) / 100_000) as [
        number,
        number,
        ...number[],
      ];
      tags.chromaticities = [...rest, wx, wy];
    } else if (kind === "tEXt") {
      const end = data.indexOf(0);
      if (end > 0 && end < 80) text[data.toString("latin1", 0, end)] = data.toString("latin1", end + 1);
    }
    at += 12 + length;
  }
  return { tags, text, ...(density ? { density } : {}) };
}

function chunk(kind: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(kind, "latin1"), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), body.length + 4);
  return out;
}

/** Bytes of the signature and IHDR, after which further chunks may stand. */
const HEAD = 8 + 25;
/** Bytes of a pHYs chunk. */
const PHYS = 12 + 9;

/** pHYs without a unit: how much further apart pixels stand across than down. */
function densityChunk([across, down]: [number, number]): Buffer {
  const data = Buffer.alloc(9);
  data.writeUInt32BE(across, 0);
  data.writeUInt32BE(down, 4);
  return chunk("pHYs", data);
}

/** Puts cICP, pHYs and text chunks into a PNG. Text is held to Latin-1. */
export function addPngTags(png: Buffer, { tags: { cicp }, text, density }: PngTags): Buffer {
  const extra = [
    ...(density ? [densityChunk(density)] : []),
    ...(cicp ? [chunk("cICP", Buffer.of(cicp.primaries, cicp.transfer, cicp.matrix, Number(cicp.fullRange)))] : []),
    ...Object.entries(text)
      .filter(([name]) => /^[\x20-\x7e]{1,79}$/.test(name))
      .map(([name, value]) => chunk("tEXt", Buffer.from(`${name}\0${value}`, "latin1"))),
  ];
  // The library's own says nothing of these pixels.
  const rest = density && png.toString("latin1", HEAD + 4, HEAD + 8) === "pHYs" ? HEAD + PHYS : HEAD;
  return extra.length ? Buffer.concat([png.subarray(0, HEAD), ...extra, png.subarray(rest)]) : png;
}
