import { LUMINANCE } from "../colour/primaries";
import { lightOfSpectrum, spectrumOfLight } from "../colour/spectrum";
import { CHANNELS } from "../elements/diffusion/scatter";
import { type Illumination, illuminationGain } from "../elements/illumination/illumination";
import { type Transmission, transmissionCurve } from "../elements/transmission/transmission";
import { cornerHeight } from "../frame/geometry";
import { flatField } from "./charts";
import { type Check, plainly, relatively } from "./quantity";

/** Checks on an evenly lit field. */
const LIGHT = 0.5;
/** % of the light, as optics asks of illumination; the same is asked of colour. */
const FIELD_BAR = 0.2;
/** % of the frame's mean light. */
const VEIL_BAR = 0.02;
/** Places along the diagonal, as shares of the way to the corner. */
const PLACES = [
  ["half field", 0.5],
  ["full field", 1],
] as const;

/** Light by image height, against the profile's curve to the strength. */
export const checkIllumination: Check = ({ state, context, through }) => {
  const { geometry } = context;
  const { width, height, axisX, axisY, pitchX, pitchY } = geometry;
  const out = through(flatField(width, height, LIGHT));
  const gain = illuminationGain(state.strength, state.values as unknown as Illumination, context);
  return PLACES.map(([label, share]) => {
    const [x, y] = [Math.round(axisX + share * axisX), Math.round(axisY + share * axisY)];
    const image = Math.hypot((x - axisX) * pitchX, (y - axisY) * pitchY);
    return relatively(
      "illumination",
      `relative illumination, ${label} (${image.toFixed(1)} of ${cornerHeight(geometry).toFixed(1)} mm)`,
      "",
      gain(image),
      out.data[(y * width + x) * 4 + 1]! / LIGHT,
      FIELD_BAR,
    );
  });
};

/** An evenly lit frame gains the veil's share of its own light. */
export const checkVeil: Check = ({ state, context, through }) => {
  const { width, height } = context.geometry;
  const out = through(flatField(width, height, LIGHT));
  const tint = (state.values.tint as readonly number[])[1]!;
  const measured = out.data[((height >> 1) * width + (width >> 1)) * 4 + 1]!;
  return [
    plainly(
      "veil",
      "glare over an even field, green",
      "% of its light",
      (state.values.fraction as number) * state.strength * tint,
      100 * (measured / LIGHT - 1),
      VEIL_BAR,
    ),
  ];
};

/**
 * White light through the glass: each channel against the sum over white's spectrum times the measured transmission to
 * the strength.
 */
export const checkTransmission: Check = ({ state, context, through }) => {
  const glass = transmissionCurve(state.strength, state.values as unknown as Transmission, context);
  const white = spectrumOfLight([1, 1, 1]);
  const passed = lightOfSpectrum((nm) => white(nm) * glass(nm));
  const gain = state.values.keepExposure ? passed.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0) : 1;
  const out = through(flatField(context.geometry.width, context.geometry.height, LIGHT));
  return CHANNELS.map((name, channel) =>
    relatively(
      "transmission",
      `white through the glass, ${name}`,
      "",
      passed[channel]! / gain,
      out.data[channel]! / LIGHT,
      FIELD_BAR,
    ),
  );
};
