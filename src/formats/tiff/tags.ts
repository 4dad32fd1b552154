/** What a TIFF's first directory says of its samples (TIFF 6.0). */
export interface TiffTags {
  photometric: number;
  /** Whether the fourth channel, or a grey picture's second, is alpha. */
  hasAlpha: boolean;
}

const TAG = { photometric: 262, extraSamples: 338 } as const;
const SHORT = 3;
const LONG = 4;
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
  const found: TiffTags = { photometric: 1, hasAlpha: false };
  for (let i = 0; i < Math.min(u16(directory), MAX_ENTRIES); i++) {
    const entry = directory + 2 + 12 * i;
    if (entry + 12 > bytes.length) break;
    const [tag, type] = [u16(entry), u16(entry + 2)];
    const value = type === SHORT ? u16(entry + 8) : type === LONG ? u32(entry + 8) : 0;
    if (tag === TAG.photometric) found.photometric = value;
    else if (tag === TAG.extraSamples) found.hasAlpha = ALPHA.includes(value);
  }
  return found;
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
