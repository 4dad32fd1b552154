import type { Encoding, EncodingName } from "../../core/colour/encodings";
import { findEncoding } from "../../core/colour/own-encoding";
import { AP0, AP1, type Primaries, REC2020, REC709 } from "../../core/colour/primaries";
import { statedName } from "../../core/colour/stated-primaries";
import { isFloatDepth, type Pixels } from "../../core/image/image";
import type { ColourTags, Decoded } from "../../formats/format";

/** What an image is likely encoded as, and why; always said, always the user's to overrule. */
export interface Guess {
  /** Name of an encoding, of stated primaries too (core/colour/stated-primaries.ts). */
  encoding: string;
  reason: string;
  /** Where nothing but the picture's codes speaks for it: too little to measure by. */
  isOfCodes?: true;
}

/** Largest distance of chromaticities that still counts as the same. */
const SAME = 0.002;
const flat = ({ red, green, blue, white }: Primaries) => [...red, ...green, ...blue, ...white];
const matches = (found: number[] | undefined, primaries: Primaries) =>
  found?.every((value, i) => Math.abs(value - flat(primaries)[i]!) < SAME) ?? false;

const LINEAR: [Primaries, EncodingName, string][] = [
  [AP1, "linear-ap1", "AP1"],
  [AP0, "linear-ap0", "AP0"],
  [REC709, "linear-rec709", "BT.709"],
  [REC2020, "linear-rec2020", "BT.2020"],
];

/**
 * H.273: transfer 1, 6, 14, 15 are the BT.709 family, 13 sRGB, 16 PQ, 18 HLG, 8 linear; primaries 1 BT.709, 9 BT.2020,
 * 12 P3-D65.
 */
function fromCicp({ primaries, transfer }: NonNullable<ColourTags["cicp"]>): Guess | null {
  const reason = (name: string) => `the file's colour tags (H.273 ${primaries}, ${transfer}) say ${name}`;
  if (transfer === 16) return { encoding: "pq", reason: reason("PQ") };
  if (transfer === 18) return { encoding: "hlg", reason: reason("HLG") };
  if (transfer === 8)
    return primaries === 9
      ? { encoding: "linear-rec2020", reason: reason("linear light, BT.2020") }
      : { encoding: "linear-rec709", reason: reason("linear light, BT.709") };
  if (primaries === 12)
    return transfer === 13
      ? { encoding: "display-p3", reason: reason("P3, D65, with the sRGB curve") }
      : { encoding: "p3-d65", reason: reason("P3, D65") };
  if (primaries === 9) return { encoding: "rec2020", reason: reason("BT.2020") };
  if (transfer === 13) return { encoding: "srgb", reason: reason("sRGB") };
  if ([1, 6, 14, 15].includes(transfer)) return { encoding: "rec709", reason: reason("BT.709") };
  return null;
}

function fromTags({ cicp, srgb, icc, gamma, chromaticities, dpx }: ColourTags): Guess | null {
  const tagged = cicp && fromCicp(cicp);
  if (tagged) return tagged;
  if (srgb) return { encoding: "srgb", reason: "the file's sRGB chunk says so" };
  if (icc) {
    if (/display p3/i.test(icc)) return { encoding: "display-p3", reason: `its ICC profile is “${icc}”` };
    if (/p3/i.test(icc)) return { encoding: "p3-d65", reason: `its ICC profile is “${icc}”` };
    if (/2020/.test(icc)) return { encoding: "rec2020", reason: `its ICC profile is “${icc}”` };
    if (/709/.test(icc)) return { encoding: "rec709", reason: `its ICC profile is “${icc}”` };
    if (/srgb|61966/i.test(icc)) return { encoding: "srgb", reason: `its ICC profile is “${icc}”` };
  }
  if (gamma !== undefined && Math.abs(gamma - 1) < 0.01)
    return {
      encoding: matches(chromaticities, REC2020) ? "linear-rec2020" : "linear-rec709",
      reason: "its gAMA chunk says the samples are linear",
    };
  if (gamma !== undefined && Math.abs(gamma - 1 / 2.4) < 0.01)
    return { encoding: "rec709", reason: "its gAMA chunk says a gamma of 2.4" };
  if (dpx?.transfer === 1 || dpx?.transfer === 3)
    return {
      encoding: "log-film",
      reason: `its header says ${dpx.transfer === 1 ? "printing density" : "logarithmic"}`,
    };
  if (dpx?.transfer === 2) return { encoding: "linear-rec709", reason: "its header says linear" };
  if (dpx && dpx.transfer >= 5 && dpx.transfer <= 9)
    return { encoding: "rec709", reason: "its header says video (BT.709 and its kin)" };
  return null;
}

/** The share of samples of the middle pixels looked at. */
const STEP = 97;
/** A logarithmic picture has no code near black or near white: its blacks are lifted and its whites held back. */
const LOG_BLACK = 0.04;
const LOG_WHITE = 0.92;

/** The darkest and brightest codes but for one in two hundred, 0 to 1, of R, G and B. */
function extremes({ depth, data }: Pixels): { low: number; high: number } {
  const top = isFloatDepth(depth) ? 1 : 2 ** Number(depth) - 1;
  const values: number[] = [];
  for (let i = 0; i < data.length; i += 4 * STEP) for (let c = 0; c < 3; c++) values.push(data[i + c]! / top);
  values.sort((a, b) => a - b);
  return { low: values[Math.floor(values.length * 0.005)] ?? 0, high: values[Math.floor(values.length * 0.995)] ?? 1 };
}

const percent = (value: number) => `${Math.round(100 * value)} %`;

/** A guess from format, metadata and statistics, in that order of trust. */
export function guessEncoding({ pixels, info }: Pick<Decoded, "pixels" | "info">): Guess {
  if (isFloatDepth(info.depth)) {
    const named = LINEAR.find(([primaries]) => matches(info.tags.chromaticities, primaries));
    if (named) return { encoding: named[1], reason: `float samples whose header names ${named[2]} primaries` };
    const stated = info.tags.chromaticities && statedName(info.tags.chromaticities);
    if (stated) return { encoding: stated, reason: "float samples of the primaries that the header states" };
    if (info.tags.chromaticities)
      return { encoding: "linear-ap1", reason: "float samples; the header’s primaries are none, and are left aside" };
    return {
      encoding: "linear-rec709",
      reason: "float samples without stated primaries: those of BT.709, as OpenEXR's documentation says",
    };
  }
  const tagged = fromTags(info.tags);
  if (tagged) return tagged;
  const { low, high } = extremes(pixels);
  if (low > LOG_BLACK && high < LOG_WHITE && info.depth !== "8")
    return {
      encoding: "acescct",
      isOfCodes: true,
      reason: `no tag; codes from ${percent(low)} to ${percent(high)} look like a log curve, but which one is for you to say`,
    };
  if (info.tags.cicp || info.tags.dpx)
    return { encoding: "rec709", reason: "no usable colour tag; a picture for a BT.1886 display is likely" };
  return {
    encoding: "srgb",
    reason: `no colour tag; ${info.depth}-bit whole numbers are taken as a picture for an sRGB display`,
  };
}

/** The encoding a guess stands for. */
export const guessedEncoding = (guess: Guess): Encoding => findEncoding(guess.encoding)!;
