/** Samples of a part, unpacked and laid where they belong. */
import { FileError } from "../error";
import type { Layer } from "../format";
import { type Chunk, chunksOf } from "./chunks";
import { unpack } from "./compression";
import type { Channel, ExrFile, PartHeader } from "./header";
import type { ChannelSlot } from "./layers";
import { type Lines, type OpenChunk, openChunk } from "./lines";

/** Where samples are laid: RGBA floats, and depth. */
export interface Planes {
  width: number;
  height: number;
  /** Where their first sample lies, in the windows' coordinates. */
  left: number;
  top: number;
  data: Float32Array;
  z?: Float32Array;
  /** Whether all colour was copied as halves, and none of them was infinite or no number. */
  isFinite: boolean;
}

/** Chunks unpacked ahead of the one whose samples are taken. */
const AHEAD = 4;

/** The chunks of a part, unpacked, in turn. Throws where one cannot be. */
async function* unpacked(
  file: string,
  bytes: Buffer,
  exr: ExrFile,
  index: number,
): AsyncGenerator<{ chunk: Chunk; lines: Lines }> {
  const { channels, compression, dataWindow } = exr.parts[index]!;
  const chunks = chunksOf(bytes, exr, index, (reason) => new FileError(file, reason));
  const begin = ({ at, size, width, lines }: Chunk) => {
    const work = unpack(compression, bytes.subarray(at, at + size), channels, width, lines);
    // Said in its turn: until then nobody listens.
    work.catch(() => {});
    return work;
  };
  const begun = chunks.slice(0, AHEAD).map(begin);
  for (const [i, chunk] of chunks.entries()) {
    if (i + AHEAD < chunks.length) begun.push(begin(chunks[i + AHEAD]!));
    try {
      yield { chunk, lines: await begun.shift()! };
    } catch (error) {
      const line = dataWindow.top + chunk.top;
      throw new FileError(file, `chunk ${i + 1} (line ${line}) cannot be read: ${(error as Error).message}`);
    }
  }
}

/** Reads a part's samples into planes, each channel by its slot. */
export async function fill(
  file: string,
  bytes: Buffer,
  exr: ExrFile,
  index: number,
  slots: ChannelSlot[],
  planes: Planes,
): Promise<void> {
  const { channels, dataWindow } = exr.parts[index]!;
  const subsampled = channels.find(({ subsampled: is }) => is);
  if (subsampled) throw new FileError(file, `the channel ${subsampled.name} is subsampled; full channels are read`);
  // Alpha and grey are looked through by who takes them.
  if (slots.includes(3) || slots.includes("grey")) planes.isFinite = false;
  const hasColour = slots.some(isColour);
  for await (const { chunk, lines } of unpacked(file, bytes, exr, index)) {
    const open = openChunk(lines, chunk.width);
    const place = { count: chunk.width, left: dataWindow.left - planes.left + chunk.left };
    let at = 0;
    for (let line = 0; line < chunk.lines; line++) {
      const y = dataWindow.top - planes.top + chunk.top + line;
      const isInside = y >= 0 && y < planes.height;
      for (const [c, { type, bytes: size }] of channels.entries()) {
        const slot = slots[c]!;
        if (slot !== null && isInside) {
          if (!isColour(slot)) layLine(open.takeSamples(type, at), place, y, planes, planeOf(slot, planes), 1);
          else if (!takeColour(open, type, at, slot)) planes.isFinite = false;
        }
        at += (chunk.width * size) / WORD;
      }
      if (hasColour && isInside) layLine(open.pixels, place, y, planes, planes.data, RGBA);
    }
  }
}

const RGBA = 4;
/** Bytes of a word of 16 bits. */
const WORD = 2;

type ColourSlot = 0 | 1 | 2 | 3 | "grey";

const isColour = (slot: ChannelSlot): slot is ColourSlot => typeof slot === "number" || slot === "grey";

const planeOf = (slot: "depth" | Layer, { z }: Planes): Float32Array | Uint32Array =>
  slot === "depth" ? z! : slot.data;

const GREY = [0, 1, 2];

function takeColour(open: OpenChunk, type: Channel["type"], at: number, slot: ColourSlot): boolean {
  if (slot !== "grey") return open.takeColour(type, at, slot);
  return GREY.map((colour) => open.takeColour(type, at, colour)).every(Boolean);
}

/**
 * Whether the lines of a picture cover every pixel, so that none of it need be there before it is read: those of a part
 * that is not made of tiles, over the whole width.
 */
export const fillsAll = (part: PartHeader, { left, top, width, height }: Omit<Planes, "data" | "isFinite">): boolean =>
  part.tile === undefined &&
  part.dataWindow.left === left &&
  part.dataWindow.right === left + width - 1 &&
  part.dataWindow.top <= top &&
  part.dataWindow.bottom >= top + height - 1;

/** Lays what of a line is inside the planes into one of them, `samples` a pixel. */
function layLine(
  line: Float32Array | Uint32Array,
  { left, count }: { left: number; count: number },
  y: number,
  { width }: Planes,
  out: Float32Array | Uint32Array,
  samples: number,
): void {
  const first = Math.max(0, -left);
  const end = Math.min(count, width - left);
  if (end > first) out.set(line.subarray(first * samples, end * samples), (y * width + left + first) * samples);
}
