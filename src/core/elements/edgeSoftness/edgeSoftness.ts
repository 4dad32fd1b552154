import { fitGains } from "../../contrast/fit";
import { gainTable, planContrast } from "../../contrast/plan";
import { NOTHING, remembering } from "../../maths/remember";
import { addProgram, differenceOperation } from "../../engine/pointwise";
import { cornerHeight } from "../../engine/geometry";
import { define, type FrameContext } from "../definition";
import { keyOf, keyParameters, keyRecord, type KeyValues } from "../key";

interface EdgeSoftness extends KeyValues {
  softens: "all" | "highlights";
  blur: number;
  start: number;
  growth: number;
  ratio: number;
  curvature: number;
}

/** Standard deviation along the radius and across it (µm) at an image height, as a share of the corner's. */
export function softnessAt({ blur, start, growth, ratio, curvature }: EdgeSoftness, strength: number, share: number): { radial: number; tangential: number } {
  const t = Math.max(0, (share - start / 100) / Math.max(1 - start / 100, 1e-3));
  // A curved field is sharp again where it crosses the focus.
  const amount = blur * strength * Math.abs(t ** growth - curvature * t);
  return { radial: amount * Math.sqrt(ratio), tangential: amount / Math.sqrt(ratio) };
}

/** Fitting a table of gains takes as long as a frame, and every frame of a shot asks for the same. */
const tables = remembering<number[]>(16);

export const edgeSoftness = define<EdgeSoftness>({
  kind: "edgeSoftness",
  label: "Edge softness",
  station: "lens",
  summary: "A blur that grows from a radius to the corners, more along the radius or more across it.",
  advice: "Look at the corners together. Overdone, the middle looks cut out.",
  strengthLaw: "Multiplies the blur.",
  parameters: {
    blur: { type: "number", label: "Blur in the corner", unit: "µm", min: 0, max: 60, step: 0.5, default: 22, help: "Standard deviation on the sensor at the frame's corner." },
    start: { type: "number", label: "Starts at", unit: "% of corner", min: 0, max: 95, step: 1, default: 35, help: "Image height up to which nothing changes." },
    growth: { type: "number", label: "Growth", unit: "", min: 0.5, max: 6, step: 0.1, default: 2, help: "1: grows evenly; more: holds back, then comes quickly." },
    ratio: { type: "number", label: "Radial to tangential", unit: ":1", min: 0.2, max: 5, step: 0.05, default: 1, logarithmic: true, help: "Above 1 smears along the radius, below 1 across it." },
    curvature: { type: "number", label: "Field curvature", unit: "", min: 0, max: 1, step: 0.01, default: 0, help: "Brings a ring of the field back into focus." },
    softens: { type: "choice", label: "Softens", options: { all: "All of the picture", highlights: "Only the light of the key" }, default: "all", help: "Highlights alone can go soft while what they light stays sharp." },
    ...keyParameters(3),
  },
  key: ({ values }) => keyOf(values),
  work: {
    kind: "spread",
    plan: (builder, input, { strength, values }, context: FrameContext) => {
      const { pitchY } = context.geometry;
      const corner = cornerHeight(context.geometry);
      const key = JSON.stringify([strength, values, context.geometry]);
      const contrast = (micrometres: number) => (f: number) => Math.exp(-2 * (Math.PI * f * (micrometres / 1000 / pitchY)) ** 2);
      const table = tables(NOTHING, key, () =>
        gainTable(context.geometry, (height) => {
          const { radial, tangential } = softnessAt(values, strength, height / corner);
          return fitGains(contrast(radial), contrast(tangential));
        }),
      );
      if (values.softens === "all") return planContrast(builder, input, context.geometry, table);
      // What the key takes is taken away sharp and given back soft.
      const taken = addProgram(builder, input, builder.buffer(), [{ code: "take", floats: keyRecord(keyOf(values)) }]);
      const soft = planContrast(builder, taken, context.geometry, table);
      const change = addProgram(builder, soft, builder.buffer(), [differenceOperation(1, false)], taken);
      return addProgram(builder, input, builder.buffer(), [{ code: "sum", floats: [] }], change);
    },
  },
  response({ strength, mix, values }) {
    const shares = Array.from({ length: 51 }, (_, i) => i / 50);
    const trace = (kind: "measured" | "applied", s: number) =>
      (["radial", "tangential"] as const).map((direction, i) => ({ name: `${direction}, ${kind}`, colour: i ? ("blue" as const) : ("green" as const), kind, x: shares.map((share) => 100 * share), y: shares.map((share) => softnessAt(values, s, share)[direction]) }));
    return { title: "Blur along the radius (green) and across it (blue)", x: { label: "Image height", unit: "% of corner" }, y: { label: "Standard deviation", unit: "µm" }, traces: [...trace("measured", 1), ...trace("applied", strength * mix)] };
  },
});
