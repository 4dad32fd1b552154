import type { PlanBuilder } from "../../engine/plan";
import { addProgram, curvesOperation } from "../../engine/pointwise";
import { planHalve, planLay } from "../../spread/gaussian";
import type { Colour } from "../../spread/plan";
import { planArc } from "../arc";
import { planDepth } from "../depth";
import { define } from "../definition";
import { keyOf, keyParameters, keyRecord, type KeyValues } from "../key";

interface Shafts extends KeyValues {
  x: number;
  y: number;
  length: number;
  fade: number;
  gain: number;
  tint: Colour;
  occlusion: number;
}

const inverse = (x: number) => 1 / Math.max(x, NEAREST);
/** Nearer than this nothing is, m; and over the farthest distance, 1/m. */
const NEAREST = 1e-5;
const inverseOperation = () => curvesOperation([inverse, inverse, inverse]);

/**
 * The part of the rays before what stands at each place. Air is lit from the camera to the light's own distance; of that, a thing nearer than the
 * light hides all but its distance over the light's. Rays of light over distance, times the distance of the place, are those that are seen
 * where they are fewer.
 */
function planHidden(builder: PlanBuilder, depth: number, keyed: number, rays: number, drawnOut: (light: number) => number, occlusion: number): number {
  const nearness = planHalve(builder, addProgram(builder, depth, builder.buffer(), [inverseOperation()]));
  const overDistance = drawnOut(addProgram(builder, keyed, builder.level(keyed), [{ code: "product", floats: [] }], nearness));
  return addProgram(builder, nearness, builder.level(rays), [inverseOperation(), { code: "product", floats: [] }, { code: "least", floats: [occlusion] }], overDistance, rays);
}

/** Keyed light drawn out away from a point, as through mist. */
export const shafts = define<Shafts>({
  kind: "shafts",
  label: "Shafts",
  station: "front",
  summary: "Rays from a point, in the frame or outside it, through what is bright.",
  advice: "Put the point where the light comes from. Overdone, every window throws a searchlight.",
  strengthLaw: "Multiplies the light of the rays.",
  parameters: {
    x: { type: "number", label: "Point across", unit: "% of width", min: -300, max: 300, step: 0.5, default: 0, help: "From the frame's centre, to the right." },
    y: { type: "number", label: "Point down", unit: "% of height", min: -300, max: 300, step: 0.5, default: -60, help: "From the frame's centre, downwards." },
    length: { type: "number", label: "Length", unit: "% of distance", min: 2, max: 95, step: 1, default: 55, help: "How far a ray goes, against its distance from the point." },
    fade: { type: "number", label: "Fade", unit: "", min: 0.01, max: 1, step: 0.01, default: 0.25, help: "Light left at a ray's end." },
    gain: { type: "number", label: "Gain", unit: "%", min: 0, max: 300, step: 1, default: 45, help: "Light of the rays over the keyed light." },
    occlusion: { type: "number", label: "Hidden by depth", unit: "", min: 0, max: 1, step: 0.01, default: 1, help: "How much what stands before a ray hides of it. Needs a depth channel." },
    tint: { type: "colour", label: "Tint", default: [1, 0.95, 0.88], help: "Colour of the air." },
    ...keyParameters(2.5),
  },
  key: ({ values }) => keyOf(values),
  work: {
    kind: "spread",
    plan(builder, input, { strength, values }, context) {
      const { geometry, hasDepth } = context;
      const half = planHalve(builder, input, builder.floats(keyRecord(keyOf(values))), 1);
      const centre = { centreX: geometry.axisX + (values.x / 100) * geometry.width, centreY: geometry.axisY + (values.y / 100) * geometry.height };
      // Looking back towards the point: what lies nearer to it shines through here.
      const drawnOut = (light: number) => planArc(builder, light, geometry, { ...centre, angle: 0, scale: Math.log(1 - values.length / 100), amount: () => 1, channels: [1, 1, 1], fade: values.fade });
      let rays = drawnOut(half);
      if (hasDepth && values.occlusion > 0) rays = planHidden(builder, planDepth(builder, context), half, rays, drawnOut, values.occlusion);
      const gain = (values.gain / 100) * strength;
      return planLay(builder, input, rays, values.tint.map((t) => t * gain) as unknown as Colour);
    },
  },
  response({ strength, mix, values }) {
    const places = Array.from({ length: 51 }, (_, i) => i / 50);
    const trace = (kind: "measured" | "applied", s: number) => ({ name: kind, colour: "grey" as const, kind, x: places.map((t) => values.length * t), y: places.map((t) => values.gain * s * values.fade ** t) });
    return { title: "Light along a ray", x: { label: "Way from its source", unit: "% of distance" }, y: { label: "Light", unit: "% of keyed light" }, traces: [trace("measured", 1), trace("applied", strength * mix)] };
  },
});
