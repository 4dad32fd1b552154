import { NOTE_NAMES, NOTE_TAGS, type Notes } from "../notes";

/** What a TIFF's first directory says of its samples (TIFF 6.0). */
export interface TiffTags {
  photometric: number;
  /** Pixels in a length, across and down. */
  density?: [number, number];
  notes: Notes;
  /** Whether the fourth channel, or a grey picture's second, is alpha. */
  hasAlpha: boolean;
}

const TAG = { photometric: 262, resolutionX: 282, resolutionY: 283, extraSamples: 338 } as const;
const [ASCII, SHORT, LONG, RATIONAL] = [2, 3, 4, 5];
/** Texts longer than this are not read, bytes. */
const MAX_TEXT = 64 * 1024;
/** Values of ExtraSamples that are alpha: associated and not. */
const ALPHA = [1, 2];
const MAX_ENTRIES = 4096;

/** Reads the tags of a classic TIFF; null for any other file, and where the directory lies beyond its end. */
export function readTiffTags(bytes: Buffer): TiffTags | null {
  const mark = bytes.toString("latin1", 0, 4);
  const isLittle = mark === "II*\0";
  if (!isLittle && mark !== "MM\0*") return null;
  const u16 = (at: number) => (isLittle ? bytes.readUInt16LE(at) : bytes.readUInt16BE(at));
  const u32 = (at: number) => (isLittle ? bytes.readUInt32LE(at) : bytes.readUInt32BE(at));
  if (bytes.length < 8 || u32(4) + 2 > bytes.length) return null;
  const directory = u32(4);
  const found: TiffTags = { photometric: 1, hasAlpha: false, notes: {} };
  let [across, down] = [0, 0];
  for (let i = 0; i < Math.min(u16(directory), MAX_ENTRIES); i++) {
    const entry = directory + 2 + 12 * i;
    if (entry + 12 > bytes.length) break;
    const [tag, type] = [u16(entry), u16(entry + 2)];
    const value = type === SHORT ? u16(entry + 8) : type === LONG ? u32(entry + 8) : 0;
    const at = u32(entry + 8);
    const ratio = type === RATIONAL && at + 8 <= bytes.length ? u32(at) / u32(at + 4) : 0;
    const note = NOTE_NAMES.find((name) => NOTE_TAGS[name] === tag);
    if (tag === TAG.photometric) found.photometric = value;
    else if (tag === TAG.extraSamples) found.hasAlpha = ALPHA.includes(value);
    else if (tag === TAG.resolutionX) across = ratio;
    else if (tag === TAG.resolutionY) down = ratio;
    else if (note && type === ASCII) {
      const length = u32(entry + 4);
      const from = length <= 4 ? entry + 8 : at;
      if (length > MAX_TEXT || from + length > bytes.length) continue;
      const words = bytes.toString("utf8", from, from + length).replace(/\0.*$/s, "");
      if (words) found.notes[note] = words;
    }
  }
  return across && down ? { ...found, density: [across, down] } : found;
}

/** Kinds of pixels that are not read, by PhotometricInterpretation. */
const UNREAD: Record<number, string> = {
  5: "separated inks (CMYK)",
  6: "YCbCr",
  8: "CIE L*a*b*",
  9: "ICC L*a*b*",
  10: "ITU L*a*b*",
  32844: "LogL",
  32845: "LogLuv",
};

/** Why a TIFF's pixels are not read, in words; null where they are. */
export const unreadReason = ({ photometric }: TiffTags): string | null =>
  UNREAD[photometric] ? `holds ${UNREAD[photometric]} pixels; grey and RGB are read` : null;
