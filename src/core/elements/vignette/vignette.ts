import { LUMINANCE } from "../../colour/primaries";
import { edgeVisibility } from "../../colour/vision";
import { superellipsePower } from "../../maths/superellipse";
import type { PlanBuilder } from "../../engine/plan";
import {
  addProgram,
  clampOperation,
  offsetMatrixOperation,
  type PointOperation,
  blendOperation,
  clearOperation,
} from "../../engine/pointwise";
import type { SUPERELLIPSE, Values } from "../../engine/records";
import { planGaussian } from "../../spread/gaussian";
import { define, type ElementState, type Trace, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

type Vignette = ValuesOf<typeof parameters>;

/** Quintic step: 0 to 1 with first and second derivatives of 0 at both ends. */
export const quintic = (t: number) => {
  const u = Math.min(1, Math.max(0, t));
  return u * u * u * (u * (6 * u - 15) + 10);
};

/** From pixels to the shape: its centre, the way to its own axes (1 at the inner line), its power and outer line. */
function shapeOf(values: Vignette, { geometry }: FrameContext): Values<typeof SUPERELLIPSE> {
  const { width, height, axisX, axisY } = geometry;
  const b = ((values.inner / 100) * height) / 2;
  const a = b * values.aspect;
  const turn = (values.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return {
    centreX: axisX + (values.x / 100) * width,
    centreY: axisY + (values.y / 100) * height,
    acrossX: cos / a,
    acrossY: sin / a,
    downX: -sin / b,
    downY: cos / b,
    power: superellipsePower(values.roundness),
    outer: Math.max(values.outer / values.inner, 1 + 1e-3),
  };
}

function shading({ strength, values }: ElementState<Vignette>, context: FrameContext): PointOperation {
  const saturation = Math.max(0, 1 + (values.saturation - 1) * strength);
  const colour = values.colour.map((value) => value ** strength);
  return {
    code: "shape",
    fields: {
      ...shapeOf(values, context),
      exposure: values.exposure * strength,
      saturation,
      luminance: LUMINANCE,
      colour: [...colour, 1],
    },
  };
}

/** Where a matte of the outside lies between `from` and `to`, as 0 to 1 in every lane. */
function outsideMatte(
  builder: PlanBuilder,
  input: number,
  values: Vignette,
  context: FrameContext,
  from: number,
  to: number,
): number {
  const gain = 1 / (to - from);
  const inverted: PointOperation = {
    code: "shapeMatte",
    fields: { combine: "union", inverted: true, strength: 1, ...shapeOf(values, context) },
  };
  const ramp = offsetMatrixOperation([gain, 0, 0, 0, gain, 0, 0, 0, gain], [-from * gain, -from * gain, -from * gain]);
  return addProgram(builder, input, builder.buffer(), [clearOperation, inverted, ramp, clampOperation(0, 1)]);
}

/** The outside goes out of focus in two steps, so that no sharp picture shows through a blurred one. */
function softened(
  builder: PlanBuilder,
  input: number,
  { strength, values }: ElementState<Vignette>,
  context: FrameContext,
): number {
  const sigma = (values.blur / 100) * context.geometry.height * strength;
  const near = planGaussian(builder, input, sigma / 2, sigma / 2);
  const far = planGaussian(builder, input, sigma, sigma);
  const first = addProgram(
    builder,
    near,
    builder.buffer(),
    [blendOperation],
    input,
    outsideMatte(builder, input, values, context, 0, 0.5),
  );
  return addProgram(
    builder,
    far,
    builder.buffer(),
    [blendOperation],
    first,
    outsideMatte(builder, input, values, context, 0.4, 1),
  );
}

const parameters = {
  inner: {
    type: "number",
    group: "Shape",
    label: "Inner line",
    unit: "% of height",
    min: 5,
    max: 300,
    step: 1,
    default: 70,
    help: "Height of the region that is left alone; may exceed the frame.",
  },
  outer: {
    type: "number",
    group: "Shape",
    label: "Outer line",
    unit: "% of height",
    min: 10,
    max: 500,
    step: 1,
    default: 190,
    help: "Height of the line beyond which the effect is full.",
  },
  aspect: {
    type: "number",
    group: "Shape",
    label: "Width to height",
    unit: ":1",
    min: 0.2,
    max: 5,
    step: 0.01,
    default: 1.5,
    help: "Shape of both lines.",
  },
  roundness: {
    type: "number",
    group: "Shape",
    label: "Roundness",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 1,
    help: "From a rectangle with round corners (0) to an ellipse (1).",
  },
  x: {
    type: "number",
    group: "Shape",
    label: "Centre across",
    unit: "% of width",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "From the frame's centre, to the right.",
  },
  y: {
    type: "number",
    group: "Shape",
    label: "Centre down",
    unit: "% of height",
    min: -100,
    max: 100,
    step: 0.5,
    default: 0,
    help: "From the frame's centre, downwards.",
  },
  rotation: {
    type: "number",
    group: "Shape",
    label: "Rotation",
    unit: "°",
    min: -180,
    max: 180,
    step: 0.5,
    default: 0,
    help: "Of the shape, clockwise.",
  },
  exposure: {
    type: "number",
    group: "Outside it",
    label: "Exposure outside",
    unit: "stops",
    min: -8,
    max: 4,
    step: 0.05,
    default: -1,
    help: "What the outside loses, or gains.",
  },
  saturation: {
    type: "number",
    group: "Outside it",
    label: "Saturation outside",
    unit: "",
    min: 0,
    max: 2,
    step: 0.01,
    default: 1,
    help: "1 leaves colour as it is.",
  },
  colour: {
    type: "colour",
    group: "Outside it",
    label: "Colour outside",
    default: [1, 1, 1],
    help: "Multiplies the light of the outside.",
  },
  blur: {
    type: "number",
    group: "Outside it",
    label: "Blur outside",
    unit: "% of height",
    min: 0,
    max: 10,
    step: 0.05,
    default: 0,
    help: "Standard deviation; the outside goes soft towards the outer line.",
  },
} as const satisfies Record<string, Parameter>;

/** Whether any of the frame lies beyond the inner line: what lies within it shows no edge. */
function reachesFrame(values: Vignette, context: FrameContext): boolean {
  const { width, height } = context.geometry;
  const { centreX, centreY, acrossX, acrossY, downX, downY, power } = shapeOf(values, context);
  return [0, width].some((x) =>
    [0, height].some((y) => {
      const [dx, dy] = [x - centreX, y - centreY];
      return Math.abs(dx * acrossX + dy * acrossY) ** power + Math.abs(dx * downX + dy * downY) ** power > 1;
    }),
  );
}

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
