import { invert, type Matrix3 } from "../maths/matrix";
import { AP1, conversion, type Primaries, REC709 } from "./primaries";
import { BT1886, LINEAR, SRGB, type Transfer } from "./transfer";

/** How code values map to light: a transfer function and a set of primaries. */
export interface Encoding {
  name: string;
  label: string;
  primaries: Primaries;
  transfer: Transfer;
  /** Light whose code values mean a picture on a display; it comes in through the inverse of the plain view. */
  displayReferred: boolean;
}

export const ENCODINGS = [
  { name: "linear-ap1", label: "Scene-linear, AP1 primaries (ACEScg)", primaries: AP1, transfer: LINEAR, displayReferred: false },
  { name: "linear-rec709", label: "Scene-linear, BT.709 primaries", primaries: REC709, transfer: LINEAR, displayReferred: false },
  { name: "srgb", label: "sRGB display (IEC 61966-2-1)", primaries: REC709, transfer: SRGB, displayReferred: true },
  { name: "rec709", label: "BT.709 on a BT.1886 display", primaries: REC709, transfer: BT1886, displayReferred: true },
] as const satisfies Encoding[];

export type EncodingName = (typeof ENCODINGS)[number]["name"];
export const ENCODING_NAMES = ENCODINGS.map((encoding) => encoding.name) as [EncodingName, ...EncodingName[]];

export function encodingByName(name: EncodingName): Encoding {
  return ENCODINGS.find((encoding) => encoding.name === name)!;
}

/** Linear light in the encoding's primaries to working light; null where they are the same. */
export function toWorking({ primaries }: Encoding): Matrix3 | null {
  return primaries === AP1 ? null : conversion(primaries, AP1);
}

export function fromWorking(encoding: Encoding): Matrix3 | null {
  const matrix = toWorking(encoding);
  return matrix && invert(matrix);
}
