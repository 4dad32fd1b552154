import { invert, type Matrix3 } from "../maths/matrix";
import { AP0, AP1, conversion, P3_D65, type Primaries, REC2020, REC709 } from "./primaries";
import { BT1886, GAMMA26, SRGB } from "./transfer/display";
import { HLG, PQ } from "./transfer/hdr";
import { ACESCC, ACESCCT, LOG_FILM } from "./transfer/log";
import { LINEAR, type Transfer } from "./transfer/transfer";
import type { Transform } from "./transform/transform";

/** How code values map to light: a transfer function and a set of primaries, or a table in their place. */
export interface Encoding {
  name: string;
  label: string;
  /**
   * `linear`: light itself. `log`: scene light on a logarithmic scale. `hdr`: PQ and HLG. `display`: code values mean a
   * picture on a display; it comes in through the inverse of the plain view.
   */
  family: "linear" | "log" | "hdr" | "display";
  /** Null where the user gave a matrix instead. */
  primaries: Primaries | null;
  transfer: Transfer;
  /** Linear light of the encoding to working light; null where they are the same. */
  toWorking: Matrix3 | null;
  /**
   * A table that takes code values first; what it gives is in this encoding's transfer and primaries. It has no
   * inverse.
   */
  table?: Transform;
}

type Family = Encoding["family"];
const encoding = <Name extends string>(
  name: Name,
  label: string,
  family: Family,
  primaries: Primaries,
  transfer: Transfer,
) => ({
  name,
  label,
  family,
  primaries,
  transfer,
  toWorking: primaries === AP1 ? null : conversion(primaries, AP1),
});

/** Every encoding there is by itself; those a user makes are in made.ts. White to white by Bradford adaptation. */
export const ENCODINGS = [
  encoding("linear-ap1", "Scene-linear, AP1 primaries (ACEScg)", "linear", AP1, LINEAR),
  encoding("linear-ap0", "Scene-linear, AP0 primaries (ACES2065-1)", "linear", AP0, LINEAR),
  encoding("linear-rec709", "Scene-linear, BT.709 primaries", "linear", REC709, LINEAR),
  encoding("linear-rec2020", "Scene-linear, BT.2020 primaries", "linear", REC2020, LINEAR),
  encoding("srgb", "sRGB display (IEC 61966-2-1)", "display", REC709, SRGB),
  encoding("rec709", "BT.709 on a BT.1886 display", "display", REC709, BT1886),
  encoding("rec2020", "BT.2020 on a BT.1886 display", "display", REC2020, BT1886),
  encoding("p3-d65", "P3, D65 white, gamma 2.6", "display", P3_D65, GAMMA26),
  encoding("display-p3", "Display P3: P3, D65 white, the sRGB curve", "display", P3_D65, SRGB),
  encoding("acescc", "ACEScc log (S-2014-003)", "log", AP1, ACESCC),
  encoding("acescct", "ACEScct log (S-2016-001)", "log", AP1, ACESCCT),
  encoding("pq", "PQ, BT.2020 primaries (ST 2084); 1 is 203 cd/m²", "hdr", REC2020, PQ),
  encoding("hlg", "HLG, BT.2020 primaries (BT.2100), scene light; 1 is 75 %", "hdr", REC2020, HLG),
  encoding("log-film", "Film printing density (SMPTE 268M), BT.709 primaries", "log", REC709, LOG_FILM),
] as const satisfies Encoding[];

export type EncodingName = (typeof ENCODINGS)[number]["name"];
export const ENCODING_NAMES = ENCODINGS.map(({ name }) => name) as [EncodingName, ...EncodingName[]];

export const isEncodingName = (name: string): name is EncodingName => (ENCODING_NAMES as string[]).includes(name);

export function encodingByName(name: EncodingName): Encoding {
  return ENCODINGS.find((entry) => entry.name === name)!;
}

/** Working light to linear light in the encoding's primaries; null where they are the same. */
export const fromWorking = ({ toWorking }: Encoding): Matrix3 | null => toWorking && invert(toWorking);
