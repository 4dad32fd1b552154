import { clamp, lerp } from "../../maths/interpolate";
import { LUMINANCE } from "../../colour/primaries";
import { fitSpread, type SpreadFit } from "../../spread/fit";
import { planSpread, type Colour, type Lay } from "../../spread/plan";
import { define, type Trace } from "../definition";
import { keyOf, keyParameters, keyRecord, lightAt, type KeyValues } from "../key";

interface Glow extends KeyValues {
  size: number;
  falloff: number;
  gain: number;
  tintCore: Colour;
  tintTail: Colour;
  saturation: number;
  lay: Lay;
  hold: number;
  surround: "extend" | "black";
}

/**
 * The glow's spread with half its light within `half` px: from a tight exponential (falloff 0) to a power-law tail of exponent
 * -3 (falloff 1), after Moffat, Astronomy & Astrophysics 3, 1969. Unit sum over the plane.
 */
export function glowProfile(half: number, falloff: number): (r: number) => number {
  const a = half / 1.67835; // half of exp(-r/a)'s light lies within 1.67835 a
  const b = half / Math.sqrt(3); // half of (1 + r²/b²)^-1.5's light lies within sqrt(3) b
  const exponential = (r: number) => Math.exp(-r / a) / (2 * Math.PI * a * a);
  const power = (r: number) => (1 + (r / b) ** 2) ** -1.5 / (2 * Math.PI * b * b);
  return (r) => lerp(exponential(r), power(r), falloff);
}

const fits = new Map<string, SpreadFit>();
const FITS_KEPT = 24;

function fitGlow({ size, falloff }: Glow, height: number, width: number, stretch: number): SpreadFit {
  const half = (size / 100) * height;
  const key = [half, falloff, height, width, stretch].join(" ");
  let fit = fits.get(key);
  if (!fit) {
    fit = fitSpread(glowProfile(half, falloff), height, stretch, Math.hypot(height, width * stretch));
    if (fits.size >= FITS_KEPT) fits.delete(fits.keys().next().value!);
    fits.set(key, fit);
  }
  return fit;
}

/** A tint weighted to keep luminance, with its saturation. */
function tinted(tint: Colour, saturation: number): Colour {
  const luminance = Math.max(tint.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0), 1e-6);
  return tint.map((value) => Math.max(0, lerp(1, value / luminance, saturation))) as unknown as Colour;
}

/** Tint by a member's width: the core's at the narrow end, the tail's at the wide end, on the logarithm between. */
function tintOf(values: Glow, sigma: number, height: number): Colour {
  const half = (values.size / 100) * height;
  const t = clamp(Math.log(sigma / (0.3 * half)) / Math.log(10), 0, 1);
  const core = tinted(values.tintCore, values.saturation);
  const tail = tinted(values.tintTail, values.saturation);
  return core.map((value, i) => lerp(value, tail[i]!, t)) as unknown as Colour;
}

export const glow = define<Glow>({
  kind: "glow",
  label: "Glow",
  station: "front",
  summary: "Keyed highlights spread into their surroundings, with a shape and colour of one's own.",
  advice: "See the matte first, then the reach, then the roll-off. Overdone, highlights grow instead of wrapping around what stands before them.",
  strengthLaw: "Multiplies the light laid over the picture.",
  parameters: {
    ...keyParameters(2),
    size: { type: "number", label: "Size", unit: "% of height", min: 0.2, max: 40, step: 0.1, default: 4, logarithmic: true, help: "Radius that holds half of the glow's light." },
    falloff: { type: "number", label: "Falloff", unit: "", min: 0, max: 1, step: 0.01, default: 0.5, help: "From a tight exponential (0) to a wide power-law tail (1)." },
    gain: { type: "number", label: "Gain", unit: "%", min: 0, max: 200, step: 1, default: 20, help: "Glow light over keyed light, at strength 1." },
    tintCore: { type: "colour", label: "Core tint", default: [1, 1, 1], help: "Colour of the glow near its source." },
    tintTail: { type: "colour", label: "Tail tint", default: [1, 1, 1], help: "Colour of the glow far from its source." },
    saturation: { type: "number", label: "Tint amount", unit: "", min: 0, max: 1, step: 0.01, default: 1, help: "How much of the tints is used." },
    lay: { type: "choice", label: "Lay over", options: { add: "Add", screen: "Screen", lighten: "Lighten" }, default: "add", help: "How the glow joins the picture." },
    hold: { type: "number", label: "Hold highlights", unit: "stops", min: 0, max: 16, step: 0.1, default: 6, help: "What is brighter than this is left alone, so that the glow wraps and does not push." },
    surround: { type: "choice", label: "Outside the frame", options: { extend: "Mirrored", black: "Black" }, default: "extend", help: "What light is assumed to lie outside the frame." },
  },
  key: ({ values }) => keyOf(values),
  work: {
    kind: "spread",
    plan(builder, input, { strength, values }, { geometry }) {
      const stretch = (geometry.pitchX * geometry.squeeze) / geometry.pitchY;
      const fit = fitGlow(values, geometry.height, geometry.width, stretch);
      const gain = (values.gain / 100) * strength;
      return planSpread(builder, input, {
        fit,
        weights: fit.weights.map((weight, m) => tintOf(values, fit.members[m]!.sigma, geometry.height).map((t) => t * weight * gain) as unknown as Colour),
        under: [1, 1, 1],
        lay: values.lay,
        hold: lightAt(values.hold),
        key: builder.floats(keyRecord(keyOf(values))),
        surround: values.surround,
      });
    },
  },
  response({ strength, mix, values }, { geometry }) {
    const fit = fitGlow(values, geometry.height, geometry.width, 1);
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * (geometry.height / 2 / 1.5) ** (i / 59));
    const trace = (kind: Trace["kind"], gain: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((r) => (100 * r) / geometry.height),
        y: distances.map((r) => gain * fit.members.reduce((sum, m, i) => sum + fit.weights[i]! * tintOf(values, m.sigma, geometry.height)[c]! * m.at(r / Math.SQRT2, r / Math.SQRT2), 0)),
      }));
    return {
      title: "Spread",
      x: { label: "Distance from the source", unit: "% of frame height", logarithmic: true },
      y: { label: "Light", unit: "per px²", logarithmic: true },
      traces: [...trace("measured", values.gain / 100), ...trace("applied", (values.gain / 100) * strength * mix)],
      note: `Fitted within ${fit.error.toFixed(3)} log10 of the wanted shape.`,
    };
  },
});
