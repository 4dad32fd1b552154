import { edgeVisibility } from "../../colour/vision";
import { addProgram } from "../../engine/pointwise";
import { define, type ElementState, type Trace } from "../definition";
import type { FrameContext } from "../../frame/context";
import { type Vignette, parameters } from "./parameters";
import { quintic, reachesFrame } from "./shape";
import { shading, softened } from "./plan";

/** Words on an edge that would be seen, or none. */
function edgeCautions({ strength, mix, values }: ElementState<Vignette>, context: FrameContext): string[] {
  const width = ((values.outer - values.inner) / 200) * Math.min(1, values.aspect);
  const seen = edgeVisibility(values.exposure * strength * mix, width);
  return seen > 1 && reachesFrame(values, context)
    ? [`Its edge is visible, ${seen.toFixed(1)} times the threshold: draw the lines apart, or take some of it back.`]
    : [];
}

export const vignette = define<Vignette>({
  kind: "vignette",
  label: "Vignette",
  station: "lens",
  drawing: { outline: "M9 4 H31 V17 H25 V47 H31 V60 H9 V47 H15 V17 H9 Z" },
  summary: "A shaped darkening (or brightening) outside an inner line, full beyond an outer one.",
  advice: "Toggle it. If the shape can be seen, move the outer line out and take half of it back.",
  strengthLaw:
    "Multiplies the exposure in stops, the change of saturation and the blur, and is the power of the colour.",
  source:
    "A superellipse with a quintic step, smooth to the second derivative; its edge judged by P. Barten’s contrast sensitivity, SPIE 5294, 2003.",
  passes: "dims",
  parameters,
  cautions: edgeCautions,
  handles: [
    {
      kind: "lines",
      label: "Vignette",
      x: "x",
      y: "y",
      rotation: "rotation",
      roundness: "roundness",
      inner: { height: "inner", aspect: "aspect" },
      outer: { height: "outer" },
      full: "outside",
    },
  ],
  work: ({ values }) =>
    values.blur > 0
      ? {
          kind: "buffers",
          plan: (builder, input, state, context) =>
            addProgram(builder, softened(builder, input, state, context), builder.buffer(), [shading(state, context)]),
        }
      : { kind: "point", program: (state, context) => [shading(state, context)] },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => ((i / 60) * Math.max(values.outer * 1.1, 210)) / 2);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: distances,
      y: distances.map(
        (d) => s * values.exposure * quintic((2 * d - values.inner) / Math.max(values.outer - values.inner, 0.1)),
      ),
    });
    return {
      title: "Fall-off along the shape's height",
      x: { label: "Distance from the shape's centre", unit: "% of frame height" },
      y: { label: "Exposure", unit: "stops" },
      grips: [
        { label: "Inner line", x: values.inner / 2, y: 0, set: (x: number) => ({ inner: 2 * x }) },
        {
          label: "Outer line and exposure",
          x: values.outer / 2,
          y: strength * mix * values.exposure,
          set: (x: number, y: number) => ({
            outer: 2 * x,
            ...(strength * mix ? { exposure: y / (strength * mix) } : {}),
          }),
        },
      ],
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
