import { lightAt, stopsOf } from "../../colour/grey";
import { whiteFor, whiteGains } from "../../colour/daylight";
import { ENCODING_NAMES, type EncodingName, encodingByName } from "../../colour/encodings";
import { LUMINANCE, LUMINANCE_709 } from "../../colour/primaries";
import { toCodes, toLight } from "../../engine/encode";
import type { PointOperation } from "../../engine/pointwise";
import { tintParameter } from "../tint";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import { balanceOperation } from "../../engine/pointwise";

const SECONDARIES = ["cyan", "magenta", "yellow"] as const;

type Triple = readonly [number, number, number];

/** The encoding that is light itself. */
const WORKING_LIGHT = "linear-ap1";
const spaces = Object.fromEntries(ENCODING_NAMES.map((name) => [name, encodingByName(name).label]));

type Trim = ValuesOf<typeof parameters>;

/**
 * Exposure and white as gains of the channels, at a strength: every number is taken that many times as far from the one
 * that does nothing.
 */
const gainsOf = ({ exposure, temperature, tint }: Trim, s: number): Triple => {
  const white = whiteGains(temperature * s, tint * s);
  return white.map((gain) => gain * 2 ** (exposure * s)) as unknown as Triple;
};

/** The decision list, at a strength. */
function listOf({ slope, offset, power, saturation }: Trim, s: number): List {
  const each = (of: Triple, change: (value: number) => number) => of.map(change) as unknown as Triple;
  return {
    slope: each(slope, (value) => value ** s),
    offset: each(offset, (value) => value * s),
    power: each(power, (value) => value ** s),
    saturation: Math.max(0, 1 + (saturation - 1) * s),
  };
}

interface List {
  slope: Triple;
  offset: Triple;
  power: Triple;
  saturation: number;
}
const NO_LIST: List = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };
const isNone = (list: List) => JSON.stringify(list) === JSON.stringify(NO_LIST);
const times = (list: List, gains: Triple): List => ({
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
function corrected(values: Trim, strength: number): PointOperation[] {
  const [list, gains] = [listOf(values, strength), gainsOf(values, strength)];
  if (values.space === WORKING_LIGHT) return [listOperation(times(list, gains))];
  const space = encodingByName(values.space as EncodingName);
  return [
    listOperation(times(NO_LIST, gains)),
    ...(isNone(list) ? [] : [...toCodes(space), listOperation(list), ...toLight(space)]),
  ];
}

/** Tints of shadows, middles and highlights that keep luminance, and vibrance; nothing where all of them do nothing. */
function balanced({ shadows, middles, highlights, vibrance }: Trim, s: number): PointOperation[] {
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
function hues({ saturationRGB, saturationCMY, hueRGB, hueCMY }: Trim, s: number): PointOperation[] {
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

const parameters = {
  exposure: {
    type: "number",
    group: "Exposure and white",
    label: "Exposure",
    unit: "stops",
    min: -6,
    max: 6,
    step: 0.05,
    default: 0,
    help: "A factor of two a stop.",
  },
  temperature: {
    type: "number",
    group: "Exposure and white",
    label: "Temperature",
    unit: "mired",
    min: -100,
    max: 80,
    step: 1,
    default: 0,
    help: "Warmer (more) or cooler (less) along daylight from 6000 K; white keeps its luminance.",
  },
  tint: {
    type: "number",
    group: "Exposure and white",
    label: "Tint",
    unit: "10⁻³ uv",
    min: -30,
    max: 30,
    step: 0.5,
    default: 0,
    help: "More magenta (more) or greener (less), in thousandths of the CIE 1960 chart.",
  },
  space: {
    type: "choice",
    group: "Decision list",
    label: "Working space",
    options: spaces,
    default: WORKING_LIGHT,
    help: "The encoding the list acts in: the one it was made in.",
  },
  slope: {
    type: "triple",
    group: "Decision list",
    label: "Slope R, G, B",
    unit: "",
    min: 0.01,
    max: 4,
    step: 0.005,
    default: [1, 1, 1],
    help: "Multiplies each channel.",
  },
  offset: {
    type: "triple",
    group: "Decision list",
    label: "Offset R, G, B",
    unit: "",
    min: -0.5,
    max: 0.5,
    step: 0.001,
    default: [0, 0, 0],
    help: "Adds to each channel, in the working space.",
  },
  power: {
    type: "triple",
    group: "Decision list",
    label: "Power R, G, B",
    unit: "",
    min: 0.1,
    max: 4,
    step: 0.005,
    default: [1, 1, 1],
    help: "Bends each channel about 1.",
  },
  saturation: {
    type: "number",
    group: "Decision list",
    label: "Saturation",
    unit: "",
    min: 0,
    max: 3,
    step: 0.01,
    default: 1,
    help: "Distance of colours from their grey, by the weights of BT.709 as the ASC has them.",
  },
  shadows: tintParameter("Balance", "Shadows", "well below"),
  middles: tintParameter("Balance", "Middles", "about"),
  highlights: tintParameter("Balance", "Highlights", "well above"),
  vibrance: {
    type: "number",
    group: "Balance",
    label: "Vibrance",
    unit: "",
    min: -1,
    max: 2,
    step: 0.01,
    default: 0,
    help: "Saturation that weak colours feel more than strong ones.",
  },
  saturationRGB: {
    type: "triple",
    group: "Single hues",
    label: "Saturation R, G, B",
    unit: "",
    min: 0,
    max: 3,
    step: 0.01,
    default: [1, 1, 1],
    help: "Of reds, of greens, of blues; luminance is kept.",
  },
  saturationCMY: {
    type: "triple",
    group: "Single hues",
    label: "Saturation C, M, Y",
    unit: "",
    min: 0,
    max: 3,
    step: 0.01,
    default: [1, 1, 1],
    parts: SECONDARIES,
    help: "Of cyans, of magentas, of yellows; luminance is kept.",
  },
  hueRGB: {
    type: "triple",
    group: "Single hues",
    label: "Hue R, G, B",
    unit: "°",
    min: -45,
    max: 45,
    step: 0.5,
    default: [0, 0, 0],
    help: "Turns reds, greens, blues about the wheel, red towards yellow; luminance is kept.",
  },
  hueCMY: {
    type: "triple",
    group: "Single hues",
    label: "Hue C, M, Y",
    unit: "°",
    min: -45,
    max: 45,
    step: 0.5,
    default: [0, 0, 0],
    parts: SECONDARIES,
    help: "Turns cyans, magentas, yellows about the wheel; luminance is kept.",
  },
} as const satisfies Record<string, Parameter>;

/**
 * Exposure and white, then ASC CDL v1.2 (slope, offset, power, saturation) in a working space, without its clamps, then
 * balance, vibrance and single hues.
 */
export const trim = define<Trim>({
  kind: "trim",
  label: "Trim",
  station: "print",
  isTonal: true,
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M15 46L25 18" },
  exchanges: "cdl",
  summary:
    "Exposure, white, the colour decision list (slope, offset, power, saturation), balance, vibrance and single hues.",
  advice: "Use it to bring back what the scatter took, not to grade.",
  strengthLaw: "Takes every number that many times as far from doing nothing.",
  source: "ASC Color Decision List 1.2 (slope, offset, power, saturation); white along CIE daylight (CIE 15:2018).",
  passes: "tints",
  parameters,
  picks: {
    label: "Pick what is to be white",
    take: (light) => {
      const { mired, tint } = whiteFor([...light]);
      return { temperature: mired, tint };
    },
  },
  work: {
    kind: "point",
    program: ({ strength, values }) => [
      ...corrected(values, strength),
      ...balanced(values, strength),
      ...hues(values, strength),
    ],
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 57 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace[] => {
      const [list, gains] = [listOf(values, s), gainsOf(values, s)];
      const { toCode, toLight } = encodingByName(values.space as EncodingName).transfer;
      const out = (light: number, c: number) =>
        toLight(Math.max(toCode(light * gains[c]!) * list.slope[c]! + list.offset[c]!, 0) ** list.power[c]!);
      return (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: stops,
        y: stops.map((t) => stopsOf(Math.max(out(lightAt(t), c), 1e-6))),
      }));
    };
    return {
      title: "Light in, light out",
      x: { label: "Light in", unit: "stops from mid-grey" },
      y: { label: "Light out", unit: "stops from mid-grey" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
