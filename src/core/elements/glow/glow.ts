import { memoised, NOTHING } from "../../maths/memoise";
import { lightAt, MID_GREY } from "../../colour/grey";
import { rollOffOperations, rollOffParameter } from "../roll-off";
import { clamp, lerp } from "../../maths/interpolate";
import { frameSeed } from "../../maths/noise";
import { LUMINANCE } from "../../colour/primaries";
import { fitSpread, type SpreadFit } from "../../spread/fit";
import { planGaussian } from "../../spread/gaussian";
import { planSpread, type Colour } from "../../spread/plan";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram, layerOperation } from "../../engine/pointwise";
import type { FrameGeometry } from "../../frame/geometry";
import { planResample } from "../../spread/resample";
import { planSplit, splitParameters } from "./split";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import { layOverParameter } from "../lay-over";
import { surroundParameter } from "../surround";
import { keyOf, keyParameters, keyRecord, keyFields } from "../key";

type Glow = ValuesOf<typeof parameters>;

/**
 * The glow's spread with half its light within `half` px: from a tight exponential (falloff 0) to a power-law tail of
 * exponent
 * -3 (falloff 1), after Moffat, Astronomy & Astrophysics 3, 1969. Unit sum over the plane.
 */
export function glowProfile(half: number, falloff: number): (r: number) => number {
  const a = half / 1.67835; // half of exp(-r/a)'s light lies within 1.67835 a
  const b = half / Math.sqrt(3); // half of (1 + r²/b²)^-1.5's light lies within sqrt(3) b
  const exponential = (r: number) => Math.exp(-r / a) / (2 * Math.PI * a * a);
  const power = (r: number) => (1 + (r / b) ** 2) ** -1.5 / (2 * Math.PI * b * b);
  return (r) => lerp(exponential(r), power(r), falloff);
}

const fits = memoised<SpreadFit>(24);

function fitGlow(
  { size, falloff }: Glow,
  frameHeight: number,
  height: number,
  width: number,
  stretch: number,
): SpreadFit {
  const half = (size / 100) * frameHeight;
  const key = [half, falloff, height, width, stretch].join(" ");
  return fits(NOTHING, key, () =>
    fitSpread(glowProfile(half, falloff), height, stretch, Math.hypot(height, width * stretch)),
  );
}

/** A tint weighted to keep luminance, with its saturation. */
function tinted(tint: Colour, saturation: number): Colour {
  const luminance = Math.max(
    tint.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0),
    1e-6,
  );
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

/** Emits the keyed light's spread alone. */
function spreadOf(
  builder: PlanBuilder,
  input: number,
  values: Glow,
  key: { table: number } | undefined,
  geometry: FrameGeometry,
  stretch: number,
  gain: number,
): number {
  const { width, height } = builder.size(input);
  const fit = fitGlow(values, geometry.height, height, width, stretch);
  return planSpread(builder, input, {
    fit,
    weights: fit.weights.map(
      (weight, m) =>
        tintOf(values, fit.members[m]!.sigma, geometry.height).map((t) => t * weight * gain) as unknown as Colour,
    ),
    under: [0, 0, 0],
    key,
    surround: values.surround,
  });
}

/**
 * Standard deviation (px) of a blur before a frame is sheared: a single pixel's light would depend on where it falls on
 * the sheared grid.
 */
const SHEAR_BLUR = 0.8;

/** How a frame is sheared so that a leaning ellipse stands upright, and what the ellipse is there. */
interface Shear {
  /** Across (x moves with y) or down (y moves with x), px a px. */
  across: number;
  down: number;
  /** Size of the sheared frame, px. */
  width: number;
  height: number;
  /** Radius of the upright ellipse down, in the glow's size, and its width over its height. */
  size: number;
  aspect: number;
}

/**
 * An ellipse of half axes `aspect` and 1 whose long one leans by `angle` has the covariance [a b; b d]. Moving x by -(b
 * / d) y leaves it upright with variances A² / d and d, moving y by -(b / a) x with a and A² / a; the smaller of the
 * two frames is taken.
 */
export function shearFor(
  { aspect, angle }: Pick<Glow, "aspect" | "angle">,
  { width, height }: Pick<FrameGeometry, "width" | "height">,
  square: number,
): Shear {
  const turn = (angle * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const a = aspect ** 2 * c ** 2 + s ** 2;
  const d = aspect ** 2 * s ** 2 + c ** 2;
  const b = (aspect ** 2 - 1) * c * s;
  const across = b / d / square;
  const down = (b / a) * square;
  const wide = width + Math.ceil(Math.abs(across) * height);
  const high = height + Math.ceil(Math.abs(down) * width);
  return wide * height <= width * high
    ? { across, down: 0, width: wide, height, size: Math.sqrt(d), aspect: aspect / d }
    : { across: 0, down, width, height: high, size: aspect / Math.sqrt(a), aspect: a / aspect };
}

/** Emits the glow's light. A long glow that leans is spread on a sheared frame, on which it stands upright. */
function planGlow(builder: PlanBuilder, input: number, values: Glow, geometry: FrameGeometry, gain: number): number {
  const { axisX, axisY, pitchX, pitchY, squeeze } = geometry;
  const { width, height } = builder.size(input);
  const square = (pitchX * squeeze) / pitchY;
  const key = builder.table(keyRecord(keyOf(values)));
  if (values.aspect === 1 || values.angle % 90 === 0) {
    const aspect = values.angle % 180 === 0 ? values.aspect : 1 / values.aspect;
    const upright = { ...values, size: values.angle % 180 === 0 ? values.size : values.size * values.aspect };
    return spreadOf(builder, input, upright, key, geometry, square / aspect, gain);
  }
  const shear = shearFor(values, { width, height }, square);
  const black = values.surround === "black";
  const taken = addProgram(builder, input, builder.buffer(), [{ code: "take", fields: keyFields(keyOf(values)) }]);
  const [middleX, middleY] = [(shear.width - 1) / 2, (shear.height - 1) / 2];
  const sheared = planResample(builder, planGaussian(builder, taken, SHEAR_BLUR, SHEAR_BLUR, { black }), {
    width: shear.width,
    height: shear.height,
    black,
    sourceAt: (x, y) => [
      axisX + x - middleX + shear.across * (y - middleY),
      axisY + y - middleY + shear.down * (x - middleX),
    ],
  });
  const upright = { ...values, size: values.size * shear.size };
  const spread = spreadOf(builder, sheared, upright, undefined, geometry, square / shear.aspect, gain);
  return planResample(builder, spread, {
    width,
    height,
    black,
    sourceAt: (x, y) => [
      middleX + x - axisX - shear.across * (y - axisY),
      middleY + y - axisY - shear.down * (x - axisX),
    ],
  });
}

/** A whole number from an element's name: FNV-1a. */
const seedOf = (id: string) =>
  [...id].reduce((hash, letter) => Math.imul(hash ^ letter.charCodeAt(0), 0x01000193), 0x811c9dc5);

const parameters = {
  ...keyParameters(2),
  size: {
    type: "number",
    group: "Shape",
    label: "Size",
    unit: "% of height",
    min: 0.2,
    max: 40,
    step: 0.1,
    default: 4,
    logarithmic: true,
    help: "Radius that holds half of the glow's light.",
  },
  falloff: {
    type: "number",
    group: "Shape",
    label: "Falloff",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.5,
    help: "From a tight exponential (0) to a wide power-law tail (1).",
  },
  aspect: {
    type: "number",
    group: "Shape",
    label: "Width to height",
    unit: ":1",
    min: 0.1,
    max: 10,
    step: 0.05,
    default: 1,
    logarithmic: true,
    help: "A round glow is 1; above it, long along its angle.",
  },
  angle: {
    type: "number",
    group: "Shape",
    label: "Angle",
    unit: "°",
    min: -90,
    max: 90,
    step: 1,
    default: 0,
    help: "Which way a long glow leans, clockwise from the horizontal.",
  },
  gain: {
    type: "number",
    group: "Shape",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 200,
    step: 1,
    default: 20,
    help: "Glow light over keyed light, at strength 1.",
  },
  tintCore: {
    type: "colour",
    group: "Colour",
    label: "Core tint",
    default: [1, 1, 1],
    help: "Colour of the glow near its source.",
  },
  tintTail: {
    type: "colour",
    group: "Colour",
    label: "Tail tint",
    default: [1, 1, 1],
    help: "Colour of the glow far from its source.",
  },
  saturation: {
    type: "number",
    group: "Colour",
    label: "Tint amount",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    help: "How much of the tints is used.",
  },
  gamma: {
    type: "number",
    group: "Shape",
    label: "Roll-off",
    unit: "",
    min: 0.25,
    max: 4,
    step: 0.01,
    default: 1,
    help: "Power the glow's light is raised to: above 1 it falls off faster around its middle.",
  },
  rollOff: rollOffParameter("Shape"),
  ...splitParameters,
  lay: layOverParameter("the glow", "Lay over"),
  level: {
    type: "number",
    group: "Lay over",
    label: "Picture level",
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 100,
    help: "How much of the picture is left under the glow; 0 shows the glow alone.",
  },
  hold: {
    type: "number",
    group: "Lay over",
    label: "Hold highlights",
    unit: "stops",
    min: 0,
    max: 16,
    step: 0.1,
    default: 6,
    help: "What is brighter than this is left alone, so that the glow wraps and does not push.",
  },
  dither: {
    type: "number",
    group: "Lay over",
    label: "Dither",
    unit: "%",
    min: 0,
    max: 5,
    step: 0.1,
    default: 1.5,
    help: "Noise in the glow's light, against banding where it is wide and the frame is stored in few bits.",
  },
  surround: surroundParameter("extend", "Lay over"),
} as const satisfies Record<string, Parameter>;

export const glow = define<Glow>({
  kind: "glow",
  label: "Glow",
  station: "front",
  drawing: { outline: "M14 4 H26 V60 H14 Z", detail: "M20 12v40M17 20v24M23 20v24" },
  summary: "Keyed highlights spread into their surroundings, with a shape and colour of one's own.",
  advice:
    "See the matte first, then the reach, then the roll-off. Overdone, highlights grow instead of wrapping around what stands before them.",
  strengthLaw: "Multiplies the light laid over the picture.",
  source:
    "Tail after A. Moffat, Astronomy & Astrophysics 3, 1969; joined to the picture by the blend modes of W3C Compositing and Blending.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle of the glow", angle: "angle", plane: "scene", unless: { aspect: 1 } }],
  key: ({ values }) => keyOf(values),
  changesWithFrame: true,
  work: {
    kind: "buffers",
    plan(builder, input, { id, strength, values }, { geometry, frame }) {
      const spread = planGlow(builder, input, values, geometry, values.gain / 100);
      const light = planSplit(builder, spread, strength, values, geometry);
      // Strength multiplies what is laid, after its roll-off; with one, light of mid-grey keeps its place.
      const amount = strength * (values.gamma === 1 ? 1 : MID_GREY ** (1 - values.gamma));
      const layer = layerOperation({
        mode: values.lay,
        amount,
        level: values.level / 100,
        gamma: values.gamma,
        hold: lightAt(values.hold),
        dither: values.dither / 100,
        seed: frameSeed(seedOf(id), frame),
      });
      return addProgram(builder, light, builder.buffer(), [...rollOffOperations(values.rollOff), layer], input);
    },
  },
  response({ strength, mix, values }, { geometry }) {
    const fit = fitGlow(values, geometry.height, geometry.height, geometry.width, 1);
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * (geometry.height / 2 / 1.5) ** (i / 59));
    const trace = (kind: Trace["kind"], gain: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((r) => (100 * r) / geometry.height),
        y: distances.map(
          (r) =>
            gain *
            fit.members.reduce(
              (sum, m, i) =>
                sum +
                fit.weights[i]! * tintOf(values, m.sigma, geometry.height)[c]! * m.at(r / Math.SQRT2, r / Math.SQRT2),
              0,
            ),
        ),
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
