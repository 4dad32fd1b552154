import { LUMINANCE } from "../../colour/primaries";
import type { PointOperation } from "../../engine/pointwise";
import { balanceOperation } from "../../engine/pointwise";
import { type Trim } from "./parameters";
import type { Triple } from "../../maths/matrix";

/** Tints of shadows, middles and highlights that keep luminance, and vibrance; nothing where all of them do nothing. */
export function balanced({ shadows, middles, highlights, vibrance }: Trim, s: number): PointOperation[] {
  const tints = [shadows, middles, highlights].map((tint) => tint.map((value) => value ** s));
  if (vibrance * s === 0 && tints.flat().every((value) => value === 1)) return [];
  return [balanceOperation(tints, vibrance * s)];
}

/** Entries of the hue table in a quarter of the turn. */
const QUARTER = 32;

/** The six hues, degrees about the wheel. */
const WHEEL = [0, 60, 120, 180, 240, 300];

/** What a hue asks for: its neighbours on the wheel, blended smoothly. */
function byHue(values: number[], degrees: number): number {
  const weights = WHEEL.map((hue) => {
    const apart = Math.abs(((degrees - hue + 540) % 360) - 180);
    return apart < 60 ? (1 + Math.cos((Math.PI * apart) / 60)) / 2 : 0;
  });
  return weights.reduce((sum, weight, i) => sum + weight * values[i]!, 0);
}

/** Saturation and hue by hue; nothing where all of them do nothing. */
export function hues({ saturationRGB, saturationCMY, hueRGB, hueCMY }: Trim, s: number): PointOperation[] {
  const round = ([r, g, b]: Triple, [c, m, y]: Triple) => [r, y, g, c, b, m];
  const saturations = round(saturationRGB, saturationCMY);
  const turns = round(hueRGB, hueCMY);
  if (saturations.every((value) => value === 1) && turns.every((value) => value === 0)) return [];
  const table = new Float32Array(2 * (4 * QUARTER + 2));
  for (let i = 0; i <= 4 * QUARTER + 1; i++) {
    // The diamond angle back to a true one.
    const [quadrant, t] = [Math.floor(i / QUARTER) % 4, (i % QUARTER) / QUARTER];
    const degrees = quadrant * 90 + (Math.atan2(t, 1 - t) * 180) / Math.PI;
    const scale = Math.max(0, 1 + (byHue(saturations, degrees) - 1) * s);
    const turn = (byHue(turns, degrees) * s * Math.PI) / 180;
    table.set([scale * Math.cos(turn), scale * Math.sin(turn)], 2 * i);
  }
  return [{ code: "hues", fields: { luminance: LUMINANCE, quarter: QUARTER, table } }];
}
