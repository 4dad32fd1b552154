import { MID_GREY, stopsOf } from "../colour/grey";
import { type EncodingName, encodingByName } from "../colour/encodings";
import { AP1, conversion, P3_D65, type Primaries, REC709 } from "../colour/primaries";
import { BT1886, GAMMA26, SRGB } from "../colour/transfer/display";
import type { Transfer } from "../colour/transfer/transfer";
import { transformOperations } from "./transform";
import type { Transform } from "../colour/transform/transform";
import { NOTHING, memoised } from "../maths/memoise";
import { curveOperation, matrixOperation, quantiseOperation, type PointOperation } from "../engine/pointwise";
import { toCodes } from "../engine/encode";

export const DISPLAYS = ["srgb", "bt1886", "p3-d65"] as const;
export type Display = (typeof DISPLAYS)[number];

export interface View {
  /** `lut`: a user's table makes code values of the display. */
  kind: "plain" | "soft" | "lut";
  display: Display;
  /** Id of the table, and what working light is encoded as before it. */
  lut?: string;
  lutInput: EncodingName;
}

/** The view a shot opens with: what was made for a display is shown as it came in. */
export const defaultViewKind = (isForDisplay: boolean): "plain" | "soft" => (isForDisplay ? "plain" : "soft");

/** Encoding of the picture a display shows: what comes in by it goes out unchanged through the plain view. */
export const DISPLAY_ENCODING: Record<Display, EncodingName> = { srgb: "srgb", bt1886: "rec709", "p3-d65": "p3-d65" };
const DISPLAY_LIGHT: Record<Display, { primaries: Primaries; transfer: Transfer }> = {
  srgb: { primaries: REC709, transfer: SRGB },
  bt1886: { primaries: REC709, transfer: BT1886 },
  "p3-d65": { primaries: P3_D65, transfer: GAMMA26 },
};

/** Slope of the soft view at mid-grey, log light out over log light in. */
const CONTRAST = 1.2;
const SHOULDER_STOPS = 6.5;
const TOE_STOPS = -8;

/**
 * The soft view's tone curve: working light to display light, 0 to 1. Mid-grey is kept, the slope there is CONTRAST,
 * the shoulder reaches white at +6.5 stops with no slope left, the toe black at -8. Once differentiable everywhere,
 * monotonic.
 */
export function softTone(light: number): number {
  if (light <= 0) return 0;
  const stops = stopsOf(light);
  const roomUp = -Math.log2(MID_GREY);
  if (stops >= SHOULDER_STOPS) return 1;
  if (stops >= 0) {
    const power = (CONTRAST * SHOULDER_STOPS) / roomUp;
    return MID_GREY * 2 ** (roomUp * (1 - (1 - stops / SHOULDER_STOPS) ** power));
  }
  // Below mid-grey a power law less the little that is left at the toe; its exponent makes the slope exact.
  const black = 2 ** (TOE_EXPONENT * TOE_STOPS);
  return Math.max(0, (MID_GREY * (2 ** (TOE_EXPONENT * stops) - black)) / (1 - black));
}

/** Solves e / (1 - 2^(e TOE)) = CONTRAST. */
const TOE_EXPONENT = (() => {
  let exponent = CONTRAST;
  for (let i = 0; i < 50; i++) exponent = CONTRAST * (1 - 2 ** (exponent * TOE_STOPS));
  return exponent;
})();

/**
 * The view as pixel-local operations: working light to code values, 0 to 1. The soft tone acts on the working
 * primaries, so that bright colours ease towards white as they do on film. Throws RangeError where its table is not
 * among `tables`.
 */
export function viewOperations(view: View, tables: ReadonlyMap<string, Transform>): PointOperation[] {
  if (view.kind === "lut") return tableView(view, tables);
  const { primaries, transfer } = DISPLAY_LIGHT[view.display];
  const encode = curves(NOTHING, view.display, () => curveOperation((light) => Math.min(1, transfer.toCode(light))));
  return [
    ...(view.kind === "soft" ? [curves(NOTHING, "soft", () => curveOperation(softTone))] : []),
    matrixOperation(conversion(AP1, primaries)),
    encode,
  ];
}

/** A curve's table depends on nothing but its name, and takes milliseconds to make. */
const curves = memoised<PointOperation>(8);

function tableView({ lut, lutInput }: View, tables: ReadonlyMap<string, Transform>): PointOperation[] {
  const table = tables.get(lut ?? "");
  if (!table) throw new RangeError(`view: lut: there is no table “${lut ?? ""}” among those given`);
  return [...toCodes(encodingByName(lutInput)), ...transformOperations(table)];
}

export const displayOperations = (view: View, tables: ReadonlyMap<string, Transform>): PointOperation[] => [
  ...viewOperations(view, tables),
  quantiseOperation,
];
