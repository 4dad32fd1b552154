/** Every field of a DPX header that says something (SMPTE 268M, version 2.0), by its name. */
import type { DpxHeader } from "../format";
import { timeCodeText } from "../exr/header";
import { UNDEFINED } from "./layout";

type Kind = "text" | "u8" | "u16" | "u32" | "f32" | "timeCode";

/** Name, first byte, kind, and for text how many bytes. */
const FIELDS: readonly (readonly [string, number, Kind, number?])[] = [
  ["version", 8, "text", 8],
  ["fileName", 36, "text", 100],
  ["created", 136, "text", 24],
  ["creator", 160, "text", 100],
  ["project", 260, "text", 200],
  ["copyright", 460, "text", 200],
  ["encryptionKey", 660, "u32"],
  ["orientation", 768, "u16"],
  ["width", 772, "u32"],
  ["height", 776, "u32"],
  ["descriptor", 800, "u8"],
  ["transfer", 801, "u8"],
  ["colorimetric", 802, "u8"],
  ["bits", 803, "u8"],
  ["packing", 804, "u16"],
  ["description", 820, "text", 32],
  ["xOffset", 1408, "u32"],
  ["yOffset", 1412, "u32"],
  ["xCentre", 1416, "f32"],
  ["yCentre", 1420, "f32"],
  ["xOriginalSize", 1424, "u32"],
  ["yOriginalSize", 1428, "u32"],
  ["sourceFileName", 1432, "text", 100],
  ["sourceCreated", 1532, "text", 24],
  ["inputDevice", 1556, "text", 32],
  ["inputDeviceSerial", 1588, "text", 32],
  ["pixelAspectAcross", 1628, "u32"],
  ["pixelAspectDown", 1632, "u32"],
  ["filmManufacturer", 1664, "text", 2],
  ["filmType", 1666, "text", 2],
  ["filmOffset", 1668, "text", 2],
  ["filmPrefix", 1670, "text", 6],
  ["filmCount", 1676, "text", 4],
  ["filmFormat", 1680, "text", 32],
  ["framePosition", 1712, "u32"],
  ["sequenceLength", 1716, "u32"],
  ["heldCount", 1720, "u32"],
  ["filmFrameRate", 1724, "f32"],
  ["shutterAngle", 1728, "f32"],
  ["frameId", 1732, "text", 32],
  ["slate", 1764, "text", 100],
  ["timeCode", 1920, "timeCode"],
  ["userBits", 1924, "u32"],
  ["interlace", 1928, "u8"],
  ["fieldNumber", 1929, "u8"],
  ["videoSignal", 1930, "u8"],
  ["horizontalRate", 1932, "f32"],
  ["verticalRate", 1936, "f32"],
  ["televisionRate", 1940, "f32"],
  ["timeOffset", 1944, "f32"],
  ["gamma", 1948, "f32"],
  ["blackLevel", 1952, "f32"],
  ["blackGain", 1956, "f32"],
  ["breakpoint", 1960, "f32"],
  ["whiteLevel", 1964, "f32"],
  ["integrationTime", 1968, "f32"],
];

const [UNDEFINED_BYTE, UNDEFINED_WORD] = [0xff, 0xffff];

/** A field's value; undefined where the standard's undefined stands there, or no character. */
function valueOf({ bytes, byteOrder }: DpxHeader, at: number, kind: Kind, length = 0): string | number | undefined {
  const isBig = byteOrder === "big";
  switch (kind) {
    case "text": {
      const raw = bytes
        .toString("latin1", at, at + length)
        .split("\0")[0]!
        .trim();
      return /^[\x20-\x7e]+$/.test(raw) ? raw : undefined;
    }
    case "u8":
      return bytes[at] === UNDEFINED_BYTE ? undefined : bytes[at];
    case "u16": {
      const value = isBig ? bytes.readUInt16BE(at) : bytes.readUInt16LE(at);
      return value === UNDEFINED_WORD ? undefined : value;
    }
    case "f32": {
      const value = isBig ? bytes.readFloatBE(at) : bytes.readFloatLE(at);
      return Number.isFinite(value) ? Number(value.toPrecision(7)) : undefined;
    }
    default: {
      const value = isBig ? bytes.readUInt32BE(at) : bytes.readUInt32LE(at);
      if (value === UNDEFINED) return undefined;
      return kind === "timeCode" ? timeCodeText(value) : value;
    }
  }
}

/** The fields that say something. */
export const dpxFields = (header: DpxHeader): Record<string, string | number> =>
  Object.fromEntries(
    FIELDS.flatMap(([name, at, kind, length]) => {
      const value = valueOf(header, at, kind, length);
      return value === undefined ? [] : [[name, value]];
    }),
  );
