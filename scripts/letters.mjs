// A WOFF font file (W3C, WOFF 1.0) as the TrueType file it was packed from: what draws pages here reads no other.
import { readFileSync, writeFileSync } from "node:fs";
import { inflateSync } from "node:zlib";

const WOFF = { header: 44, entry: 20 };
const SFNT = { header: 12, entry: 16 };

/** Unpacks a font; its tables are packed each by itself. */
export function unpackLetters(from, to) {
  const woff = readFileSync(from);
  if (woff.toString("latin1", 0, 4) !== "wOFF") throw new Error(`${from}: is no WOFF file`);
  const count = woff.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = WOFF.header + i * WOFF.entry;
    const [offset, packed, length] = [4, 8, 12].map((place) => woff.readUInt32BE(at + place));
    const bytes = woff.subarray(offset, offset + packed);
    return {
      tag: woff.subarray(at, at + 4),
      sum: woff.readUInt32BE(at + 16),
      bytes: packed < length ? inflateSync(bytes) : bytes,
    };
  });
  const head = Buffer.alloc(SFNT.header + count * SFNT.entry);
  woff.copy(head, 0, 4, 8);
  const power = Math.floor(Math.log2(count));
  head.writeUInt16BE(count, 4);
  head.writeUInt16BE(SFNT.entry * 2 ** power, 6);
  head.writeUInt16BE(power, 8);
  head.writeUInt16BE(SFNT.entry * (count - 2 ** power), 10);
  let offset = head.length;
  const parts = tables.map(({ tag, sum, bytes }, i) => {
    const at = SFNT.header + i * SFNT.entry;
    tag.copy(head, at);
    head.writeUInt32BE(sum, at + 4);
    head.writeUInt32BE(offset, at + 8);
    head.writeUInt32BE(bytes.length, at + 12);
    const padded = Buffer.concat([bytes, Buffer.alloc((4 - (bytes.length % 4)) % 4)]);
    offset += padded.length;
    return padded;
  });
  writeFileSync(to, Buffer.concat([head, ...parts]));
}
