import type { PlanBuilder } from "../../engine/plan";
import { addProgram, curvesOperation, productOperation } from "../../engine/pointwise";
import { planGaussian, planHalve, planLay } from "../../spread/gaussian";
import type { Colour } from "../../spread/plan";
import { planArc } from "../arc";
import { planDepth } from "../depth";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";

type Shafts = ValuesOf<typeof parameters>;

/**
 * Standard deviation of the light that is drawn out, as a share of the frame's height: air scatters a little to the
 * side as well, and light from a thing smaller than a pixel becomes rays of the same width at every size of frame.
 */
const SOFTNESS = 0.007;

/**
 * Variance that drawing at half the size brings by itself, its cells squared: halving and doubling 5/8, and three
 * passes along the rays through places between pixels 1/6 each.
 */
const OWN_VARIANCE = 5 / 8 + 3 / 6;

/** Rays before a thing so near that less than this share of them is there are not told apart. */
const MIN_SHARE = 1e-3;
const inverse = (share: number) => 1 / Math.max(share, MIN_SHARE);

/**
 * The part of the rays before what stands at each place. Of all the air a ray lights, that up to a distance z holds 1 -
 * exp(-z / air) (as in fog); a ray is lit up to its light, and a thing nearer than the light hides what is behind it.
 * So what is seen is the rays of light over its light's own share of the air, times the share up to the place, where
 * that is less than the rays.
 */
function planHidden(
  builder: PlanBuilder,
  depth: number,
  keyed: number,
  rays: number,
  drawnOut: (light: number) => number,
  { occlusion, air }: Shafts,
): number {
  const overShare = (z: number) => inverse(1 - Math.exp(-Math.max(z, 0) / air));
  const through = planHalve(
    builder,
    addProgram(builder, depth, builder.buffer(), [curvesOperation([overShare, overShare, overShare])]),
  );
  const overOwn = drawnOut(addProgram(builder, keyed, builder.level(keyed), [productOperation], through));
  return addProgram(
    builder,
    through,
    builder.level(rays),
    [curvesOperation([inverse, inverse, inverse]), productOperation, { code: "least", fields: { amount: occlusion } }],
    overOwn,
    rays,
  );
}

const parameters = {
  x: {
    type: "number",
    label: "Point across",
    unit: "% of width",
    min: -300,
    max: 300,
    step: 0.5,
    default: 0,
    help: "From the frame's centre, to the right.",
  },
  y: {
    type: "number",
    label: "Point down",
    unit: "% of height",
    min: -300,
    max: 300,
    step: 0.5,
    default: -60,
    help: "From the frame's centre, downwards.",
  },
  length: {
    type: "number",
    label: "Length",
    unit: "% of distance",
    min: 2,
    max: 95,
    step: 1,
    default: 55,
    help: "How far a ray goes, against its distance from the point.",
  },
  fade: {
    type: "number",
    label: "Fade",
    unit: "",
    min: 0.01,
    max: 1,
    step: 0.01,
    default: 0.25,
    help: "Light left at a ray's end.",
  },
  gain: {
    type: "number",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 300,
    step: 1,
    default: 45,
    help: "Light of the rays over the keyed light.",
  },
  occlusion: {
    type: "number",
    label: "Hidden by depth",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    help: "How much what stands before a ray hides of it. Needs a depth channel.",
  },
  air: {
    type: "number",
    label: "Depth of the air",
    unit: "m",
    min: 0.5,
    max: 500,
    step: 0.5,
    default: 10,
    logarithmic: true,
    help: "Distance in which 63 % of the rays' air lies: with less of it near things hide less. Needs a depth channel.",
  },
  tint: { type: "colour", label: "Tint", default: [1, 0.95, 0.88], help: "Colour of the air." },
  ...keyParameters(2.5),
} as const satisfies Record<string, Parameter>;

/** Keyed light drawn out away from a point, as through mist. */
export const shafts = define<Shafts>({
  kind: "shafts",
  label: "Shafts",
  station: "front",
  drawing: { outline: "M10 4 L30 12 V52 L10 60 Z", detail: "M34 18L38 16M34 32H39M34 46L38 48" },
  summary: "Rays from a point, in the frame or outside it, through what is bright.",
  advice: "Put the point where the light comes from. Overdone, every window throws a searchlight.",
  strengthLaw: "Multiplies the light of the rays.",
  source: "Keyed light drawn out from a point, thinning exponentially along the ray (Bouguer and Lambert).",
  passes: "adds",
  parameters,
  handles: [{ kind: "point", label: "Source of the rays", x: "x", y: "y" }],
  key: ({ values }) => keyOf(values),
  usesDepth: ({ values }) => values.occlusion > 0,
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const { geometry, hasDepth } = context;
      const half = planHalve(builder, input, { key: builder.table(keyRecord(keyOf(values))), black: true });
      const wanted = (SOFTNESS * geometry.height) / 2;
      const softness = Math.sqrt(Math.max(0, wanted ** 2 - OWN_VARIANCE));
      const centre = {
        centreX: geometry.axisX + (values.x / 100) * geometry.width,
        centreY: geometry.axisY + (values.y / 100) * geometry.height,
      };
      // Looking back towards the point: what lies nearer to it shines through here.
      const drawnOut = (light: number) =>
        planArc(builder, planGaussian(builder, light, softness, softness, { black: true }), geometry, {
          ...centre,
          angle: 0,
          scale: Math.log(1 - values.length / 100),
          amount: () => 1,
          channels: [1, 1, 1],
          fade: values.fade,
          passes: 3,
        });
      let rays = drawnOut(half);
      if (hasDepth && values.occlusion > 0)
        rays = planHidden(builder, planDepth(builder, context), half, rays, drawnOut, values);
      const gain = (values.gain / 100) * strength;
      return planLay(builder, input, rays, values.tint.map((t) => t * gain) as unknown as Colour);
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 51 }, (_, i) => i / 50);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: distances.map((t) => values.length * t),
      y: distances.map((t) => values.gain * s * values.fade ** t),
    });
    return {
      title: "Light along a ray",
      x: { label: "Way from its source", unit: "% of distance" },
      y: { label: "Light", unit: "% of keyed light" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
