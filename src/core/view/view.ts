import { conversion, AP1, REC709 } from "../colour/primaries";
import { BT1886, SRGB } from "../colour/transfer";
import { curveOperation, matrixOperation, quantiseOperation, type PointOperation } from "../engine/pointwise";
import { MID_GREY } from "../elements/key";

export interface View {
  kind: "plain" | "soft";
  display: "srgb" | "bt1886";
}

/** Slope of the soft view at mid-grey, log light out over log light in. */
const CONTRAST = 1.2;
const SHOULDER_STOPS = 6.5;
const TOE_STOPS = -8;

/**
 * The soft view's tone curve: working light to display light, 0 to 1. Mid-grey is kept, the slope there is CONTRAST, the
 * shoulder reaches white at +6.5 stops with no slope left, the toe black at -8. Once differentiable everywhere, monotonic.
 */
export function softTone(light: number): number {
  if (light <= 0) return 0;
  const stops = Math.log2(light / MID_GREY);
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
 * The view as pixel-local operations: working light to code values, 0 to 1. The soft tone acts on the working primaries, so
 * that bright colours ease towards white as they do on film.
 */
export function viewOperations({ kind, display }: View): PointOperation[] {
  const transfer = display === "srgb" ? SRGB : BT1886;
  const encode = curveOperation((light) => Math.min(1, transfer.toCode(light)));
  return [...(kind === "soft" ? [curveOperation(softTone)] : []), matrixOperation(conversion(AP1, REC709)), encode];
}

export const displayOperations = (view: View): PointOperation[] => [...viewOperations(view), quantiseOperation];
