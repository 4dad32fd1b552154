import type { Triple } from "../../maths/matrix";
import { whiteGains } from "../../colour/daylight";
import { type EncodingName, encodingByName } from "../../colour/encodings";
import { LUMINANCE_709 } from "../../colour/primaries";
import { toCodes, toLight } from "../../engine/encode";
import type { PointOperation } from "../../engine/pointwise";
import { WORKING_LIGHT, type Trim } from "./parameters";
import { balanced, hues } from "./colours";

/**
 * Exposure and white as gains of the channels, at a strength: every number is taken that many times as far from the one
 * that does nothing.
 */
export const gainsOf = ({ exposure, temperature, tint }: Trim, s: number): Triple => {
  const white = whiteGains(temperature * s, tint * s);
  return white.map((gain) => gain * 2 ** (exposure * s)) as unknown as Triple;
};

/** The decision list, at a strength. */
export function listOf({ slope, offset, power, saturation }: Trim, s: number): List {
  const each = (of: Triple, change: (value: number) => number) => of.map(change) as unknown as Triple;
  return {
    slope: each(slope, (value) => value ** s),
    offset: each(offset, (value) => value * s),
    power: each(power, (value) => value ** s),
    saturation: Math.max(0, 1 + (saturation - 1) * s),
  };
}

export interface List {
  slope: Triple;
  offset: Triple;
  power: Triple;
  saturation: number;
}

const NO_LIST: List = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

const isNone = (list: List) => JSON.stringify(list) === JSON.stringify(NO_LIST);

export const times = (list: List, gains: Triple): List => ({
  ...list,
  slope: list.slope.map((value, c) => value * gains[c]!) as unknown as Triple,
});

/** What of a trim a colour decision list can say, in the trim's working space, and what of it that leaves out. */
export function decisionList(values: Trim, strength: number): { list: List; leftOut: string[] } {
  const list = listOf(values, strength);
  const gains = gainsOf(values, strength);
  const isLight = values.space === WORKING_LIGHT;
  const neutral = gains.every((gain) => Math.abs(gain - 1) < 1e-9);
  const others = [...balanced(values, strength), ...hues(values, strength)].length > 0;
  return {
    list: isLight ? times(list, gains) : list,
    leftOut: [
      ...(isLight || neutral ? [] : ["exposure and white, which act in light"]),
      ...(others ? ["balance, vibrance and single hues"] : []),
    ],
  };
}

/** Slope, offset and power of each channel, then saturation by the ASC's weights. */
function listOperation({ slope, offset, power, saturation }: List): PointOperation {
  const bends = power.some((value) => value !== 1);
  return {
    code: "cdl",
    fields: { slope, offset, power: [...power, 1], luminance: LUMINANCE_709, saturation, bends },
  };
}

/** Exposure and white in light, then the decision list in the encoding it was made in. */
export function corrected(values: Trim, strength: number): PointOperation[] {
  const [list, gains] = [listOf(values, strength), gainsOf(values, strength)];
  if (values.space === WORKING_LIGHT) return [listOperation(times(list, gains))];
  const space = encodingByName(values.space as EncodingName);
  return [
    listOperation(times(NO_LIST, gains)),
    ...(isNone(list) ? [] : [...toCodes(space), listOperation(list), ...toLight(space)]),
  ];
}
