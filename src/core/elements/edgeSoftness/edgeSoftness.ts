import { pixelShape } from "../../contrast/bank";
import { planContrast, squash } from "../../contrast/plan";
import { blurTables, type HeightTables } from "../../contrast/tables";
import { NOTHING, memoised } from "../../maths/memoise";
import { addProgram, differenceOperation, sumOperation } from "../../engine/pointwise";
import { cornerHeight } from "../../frame/geometry";
import type { PlanBuilder } from "../../engine/plan";
import { FALLING_VARIANCE, planArc, varianceAcross } from "../arc";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyFields } from "../key";
import type { FrameContext } from "../../frame/context";

type EdgeSoftness = ValuesOf<typeof parameters>;

/** Standard deviation along the radius and across it (µm) at an image height, as a share of the corner's. */
export function softnessAt(
  { blur, start, growth, ratio, smear, curvature }: EdgeSoftness,
  strength: number,
  share: number,
): { radial: number; tangential: number } {
  const t = Math.max(0, (share - start / 100) / Math.max(1 - start / 100, 1e-3));
  // A curved field is sharp again where it crosses the focus; one curved the other way leaves it all the sooner.
  const amount = blur * strength * Math.abs(t ** growth - curvature * t);
  return {
    radial: Math.hypot(amount * Math.sqrt(ratio), smear * strength * t ** growth),
    tangential: amount / Math.sqrt(ratio),
  };
}

/** Passes of a smear, each of which takes light from between pixels. */
const SMEAR_PASSES = 2;

/** Making the tables takes a while, and every frame of a shot asks for the same. */
const tables = memoised<HeightTables>(16);

/**
 * Emits the softening of all of a picture: what is alike all round, then what more there is along the radius or across
 * it.
 */
function planSoft(
  builder: PlanBuilder,
  input: number,
  strength: number,
  values: EdgeSoftness,
  { geometry }: FrameContext,
): number {
  const corner = cornerHeight(geometry);
  const at = (height: number) => softnessAt(values, strength, height / corner);
  const variance = (micrometres: number) => (micrometres / 1000 / pixelShape(geometry).unit) ** 2;
  // A smear along the radius or across it is a little soft across itself, too: the blur all round is less by that.
  const own = (height: number) => {
    const { radial, tangential } = at(height);
    const length = Math.sqrt(Math.abs(variance(radial) - variance(tangential)) / FALLING_VARIANCE);
    return length > 0 ? varianceAcross(length, SMEAR_PASSES) : 0;
  };
  const round = (height: number) =>
    Math.max(0, variance(Math.min(at(height).radial, at(height).tangential)) - own(height));
  const softens = SHARES.some((share) => round(share * corner) > 0);
  const table = tables(NOTHING, JSON.stringify([strength, values, geometry]), () => blurTables(geometry, round));
  let image = softens ? planContrast(builder, input, geometry, table, values.aspect) : input;
  const [across, down] = squash(geometry, values.aspect);
  const shape = { ...geometry, pitchX: geometry.pitchX * across, pitchY: geometry.pitchY * down };
  const smear = (more: (height: number) => number) => (height: number) =>
    height > 0 ? Math.sqrt(Math.max(0, more(height)) / FALLING_VARIANCE) / 1000 / height : 0;
  const further = {
    radial: smear((h) => at(h).radial ** 2 - at(h).tangential ** 2),
    tangential: smear((h) => at(h).tangential ** 2 - at(h).radial ** 2),
  };
  for (const [direction, amount] of Object.entries(further)) {
    if (!SHARES.some((share) => amount(share * corner) > 0)) continue;
    const arc = {
      centreX: geometry.axisX,
      centreY: geometry.axisY,
      angle: Number(direction === "tangential"),
      scale: Number(direction === "radial"),
      amount,
      channels: [1, 1, 1],
      fade: null,
      fallsOff: true,
      passes: SMEAR_PASSES,
    } as const;
    image = planArc(builder, image, shape, arc);
  }
  return image;
}

/** Where between axis and corner the softening is asked for its greatest. */
const SHARES = Array.from({ length: 33 }, (_, i) => i / 32);

const parameters = {
  blur: {
    type: "number",
    label: "Blur in the corner",
    unit: "µm",
    min: 0,
    max: 60,
    step: 0.5,
    default: 22,
    help: "Standard deviation on the sensor at the frame's corner.",
  },
  start: {
    type: "number",
    label: "Starts at",
    unit: "% of corner",
    min: 0,
    max: 95,
    step: 1,
    default: 35,
    help: "Image height up to which nothing changes.",
  },
  growth: {
    type: "number",
    label: "Growth",
    unit: "",
    min: 0.5,
    max: 6,
    step: 0.1,
    default: 2,
    help: "1: grows evenly; more: holds back, then comes quickly.",
  },
  ratio: {
    type: "number",
    label: "Radial ratio",
    unit: ":1",
    min: 0.2,
    max: 5,
    step: 0.05,
    default: 1,
    logarithmic: true,
    help: "Radial blur over tangential: above 1 smears along the radius, below 1 across it.",
  },
  smear: {
    type: "number",
    label: "Radial smear",
    unit: "µm",
    min: 0,
    max: 120,
    step: 0.5,
    default: 0,
    help: "Further blur in the corner, along the radius alone: what lies across it is drawn out.",
  },
  curvature: {
    type: "number",
    label: "Field curvature",
    unit: "",
    min: -1,
    max: 1,
    step: 0.01,
    default: 0,
    help: "Above 0 brings a ring of the field back into focus; below 0 the field bends the other way and goes soft sooner.",
  },
  aspect: {
    type: "number",
    label: "Aspect",
    unit: ":1",
    min: 0.25,
    max: 4,
    step: 0.05,
    default: 1,
    logarithmic: true,
    help: "Width over height of the sharp middle. The corner keeps its blur.",
  },
  softens: {
    type: "choice",
    label: "Softens",
    options: { all: "All of the picture", highlights: "Only the light of the key" },
    default: "all",
    help: "Highlights alone can go soft while what they light stays sharp.",
  },
  ...keyParameters(3, { softens: ["highlights"] }),
} as const satisfies Record<string, Parameter>;

export const edgeSoftness = define<EdgeSoftness>({
  kind: "edgeSoftness",
  label: "Edge softness",
  station: "lens",
  drawing: { outline: "M18 5 C30 17 30 47 18 59 C14 47 14 17 18 5 Z", detail: "M22 10v5M25 18v3M25 43v3M22 49v5" },
  summary: "A blur that grows from a radius to the corners, more along the radius or more across it.",
  advice: "Look at the corners together. Overdone, the middle looks cut out.",
  strengthLaw: "Multiplies the blur.",
  source: "A blur in µm that grows with image height, along the radius and across it: a model of field curvature.",
  passes: "blurs",
  parameters,
  handles: [{ kind: "radius", label: "Where it starts", radius: "start" }],
  key: ({ values }) => (values.softens === "highlights" ? keyOf(values) : null),
  work: {
    kind: "buffers",
    plan: (builder, input, { strength, values }, context: FrameContext) => {
      if (values.softens === "all") return planSoft(builder, input, strength, values, context);
      // What the key takes is taken away sharp and given back soft.
      const taken = addProgram(builder, input, builder.buffer(), [{ code: "take", fields: keyFields(keyOf(values)) }]);
      const change = addProgram(
        builder,
        planSoft(builder, taken, strength, values, context),
        builder.buffer(),
        [differenceOperation(1, false)],
        taken,
      );
      return addProgram(builder, input, builder.buffer(), [sumOperation], change);
    },
  },
  response({ strength, mix, values }) {
    const shares = Array.from({ length: 51 }, (_, i) => i / 50);
    const trace = (kind: "measured" | "applied", s: number) =>
      (["radial", "tangential"] as const).map((direction, i) => ({
        name: `${direction}, ${kind}`,
        colour: i ? ("blue" as const) : ("green" as const),
        kind,
        x: shares.map((share) => 100 * share),
        y: shares.map((share) => softnessAt(values, s, share)[direction]),
      }));
    return {
      title: "Radial (green), tangential (blue)",
      x: { label: "Image height", unit: "% of corner" },
      y: { label: "Blur", unit: "µm" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
