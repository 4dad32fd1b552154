import type { FileError } from "../error";
import { CHUNK_LINES, type ExrFile, type PartHeader } from "./header";

/**
 * A stored block of a part: lines over the whole data window, or a tile of it. Places are from the data window's
 * corner, px.
 */
export interface Chunk {
  left: number;
  top: number;
  width: number;
  lines: number;
  /** Where its packed bytes begin, and how many there are. */
  at: number;
  size: number;
}

const sizeOf = ({ dataWindow: { left, top, right, bottom } }: PartHeader) => ({
  width: right - left + 1,
  height: bottom - top + 1,
});

/**
 * Entries of a part's table; of a tiled part with several levels, what is read is the first level, which comes first.
 */
function entriesOf(part: PartHeader): { used: number; all: number } {
  const { width, height } = sizeOf(part);
  if (!part.tile) {
    const count = Math.ceil(height / CHUNK_LINES[part.compression]);
    return { used: count, all: part.chunkCount ?? count };
  }
  const used = Math.ceil(width / part.tile.width) * Math.ceil(height / part.tile.height);
  return { used, all: part.chunkCount ?? used };
}

const MIB = 2 ** 20;
/** Samples of a part that are read at most, bytes: 16 float channels of the largest frame. */
const MAX_PART = 4096 * MIB;

/** The chunks of one part, of the first level. Throws where the table or a chunk lies outside the file. */
export function chunksOf(bytes: Buffer, file: ExrFile, index: number, bad: (reason: string) => FileError): Chunk[] {
  let tableAt = file.tableAt;
  for (const part of file.parts.slice(0, index)) tableAt += entriesOf(part).all * 8;
  const part = file.parts[index]!;
  const { used } = entriesOf(part);
  if (!(tableAt >= 0) || tableAt + used * 8 > bytes.length)
    throw bad(`the file ends inside its table of ${used} chunks; it is cut off`);
  const { width, height } = sizeOf(part);
  const bytesOfAll = width * height * part.channels.reduce((sum, channel) => sum + channel.bytes, 0);
  if (bytesOfAll > MAX_PART)
    throw bad(
      `its ${part.channels.length} channels of ${width}x${height} pixels are ${Math.round(bytesOfAll / MIB)} MiB; ` +
        `${MAX_PART / MIB} MiB are read`,
    );
  // A table that leads to one chunk again and again would unpack it as often.
  const corners = new Set<string>();
  return Array.from({ length: used }, (_, i) => {
    const name = `chunk ${i + 1} of ${used}`;
    const chunk = chunkAt(bytes, file, index, Number(bytes.readBigUInt64LE(tableAt + i * 8)), name, bad);
    const corner = `${chunk.left} ${chunk.top}`;
    if (corners.has(corner)) throw bad(`${name} is where another one is; the table is damaged`);
    corners.add(corner);
    return chunk;
  });
}

function chunkAt(
  bytes: Buffer,
  file: ExrFile,
  index: number,
  offset: number,
  name: string,
  bad: (reason: string) => FileError,
): Chunk {
  const part = file.parts[index]!;
  const { width, height } = sizeOf(part);
  const words = (file.multiPart ? 1 : 0) + (part.tile ? 5 : 2);
  let at = offset;
  const beyond = () => bad(`${name} lies beyond the end of the file; it is cut off`);
  if (at + words * 4 > bytes.length) throw beyond();
  const int = () => bytes.readInt32LE((at += 4) - 4);
  if (file.multiPart && int() !== index) throw bad(`${name} belongs to another part; the table is damaged`);
  let chunk: Omit<Chunk, "at" | "size">;
  if (part.tile) {
    const { width: tileWidth, height: tileHeight } = part.tile;
    const [left, top, levelX, levelY] = [int() * tileWidth, int() * tileHeight, int(), int()];
    if (levelX || levelY) throw bad(`${name} is of another level; the table is damaged`);
    chunk = { left, top, width: Math.min(tileWidth, width - left), lines: Math.min(tileHeight, height - top) };
  } else {
    const top = int() - part.dataWindow.top;
    chunk = { left: 0, top, width, lines: Math.min(CHUNK_LINES[part.compression], height - top) };
  }
  const size = int();
  if (chunk.left < 0 || chunk.top < 0 || chunk.width <= 0 || chunk.lines <= 0 || size < 0)
    throw bad(`${name} is damaged`);
  if (at + size > bytes.length) throw beyond();
  return { ...chunk, at, size };
}
