import { ENCODING_NAMES, encodingByName } from "../../colour/encodings";
import type { PlanBuilder } from "../../engine/plan";
import {
  addProgram,
  clampOperation,
  layerOperation,
  everywhereOperation,
  clearOperation,
} from "../../engine/pointwise";
import type { FrameGeometry } from "../../frame/geometry";
import { planGaussian } from "../../spread/gaussian";
import { planResample } from "../../spread/resample";
import { define, type Parameter, type ValuesOf } from "../definition";
import { OWN_ENCODING } from "../../frame/plate";

type Plate = ValuesOf<typeof parameters>;

/** What other footage may be read as: its own encoding, or one by name. */
export const encodingChoices = {
  [OWN_ENCODING]: "Its own",
  ...Object.fromEntries(ENCODING_NAMES.map((name) => [name, encodingByName(name).label])),
};

const parameters = {
  footage: {
    type: "footage",
    group: "Footage",
    label: "Plate",
    default: "",
    help: "The shot that is laid over this one.",
  },
  encoding: {
    type: "choice",
    group: "Footage",
    label: "Encoding",
    options: encodingChoices,
    default: OWN_ENCODING,
    help: "How the plate is encoded, where it is not as its shot says.",
  },
  offset: {
    type: "number",
    group: "Footage",
    label: "Time offset",
    unit: "frames",
    min: -2000,
    max: 2000,
    step: 1,
    default: 0,
    help: "The plate's frame that stands at the shot's first; negative starts later.",
  },
  ends: {
    type: "choice",
    group: "Footage",
    label: "At its ends",
    options: { hold: "Hold the last frame", loop: "Begin again" },
    default: "loop",
    help: "What a plate that is shorter than the shot does.",
  },
  blend: {
    type: "choice",
    group: "Lay over",
    label: "Lay over",
    options: {
      add: "Add",
      screen: "Screen",
      lighten: "Lighten",
      multiply: "Multiply",
      over: "Over, by its alpha",
      soft: "Soft light",
      overlay: "Overlay",
      dodge: "Dodge",
    },
    default: "add",
    help: "How the plate joins the picture.",
  },
  gain: {
    type: "number",
    group: "Lay over",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 400,
    step: 1,
    default: 100,
    help: "Light of the plate, at strength 1.",
  },
  x: {
    type: "number",
    group: "ViewTransform",
    label: "Across",
    unit: "% of width",
    min: -200,
    max: 200,
    step: 0.5,
    default: 0,
    help: "The plate's middle from the frame's, to the right.",
  },
  y: {
    type: "number",
    group: "ViewTransform",
    label: "Down",
    unit: "% of height",
    min: -200,
    max: 200,
    step: 0.5,
    default: 0,
    help: "The plate's middle from the frame's, downwards.",
  },
  size: {
    type: "number",
    group: "ViewTransform",
    label: "Size",
    unit: "% of frame",
    min: 5,
    max: 800,
    step: 1,
    default: 100,
    logarithmic: true,
    help: "At 100 the plate covers the frame.",
  },
  rotation: {
    type: "number",
    group: "ViewTransform",
    label: "Rotation",
    unit: "°",
    min: -180,
    max: 180,
    step: 0.5,
    default: 0,
    help: "Clockwise, about the plate's middle.",
  },
} as const satisfies Record<string, Parameter>;

/** Blur before a plate is made smaller, px of it, so that its detail does not flicker. */
const smallerBlur = (size: number) => (size < 1 ? 0.45 * Math.sqrt(1 / size ** 2 - 1) : 0);

/**
 * Lays the plate where it is placed; returns it and where it is (white), or null where it covers the frame as it came
 * in.
 */
function planPlaced(builder: PlanBuilder, light: number, values: Plate, geometry: FrameGeometry) {
  const { x, y, size, rotation } = values;
  if (x === 0 && y === 0 && size === 100 && rotation === 0) return null;
  const { axisX, axisY, width, height, pitchX, pitchY, squeeze } = geometry;
  const square = (pitchX * squeeze) / pitchY;
  const [scale, turn] = [size / 100, (rotation * Math.PI) / 180];
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  const [centreX, centreY] = [axisX + (x / 100) * width, axisY + (y / 100) * height];
  const sourceAt = (px: number, py: number): [number, number] => {
    const [across, down] = [(px - centreX) * square, py - centreY];
    return [axisX + (across * c + down * s) / square, axisY - across * s + down * c];
  };
  const blur = smallerBlur(scale);
  const smooth = blur ? planGaussian(builder, light, blur, blur) : light;
  const white = addProgram(builder, light, builder.buffer(), [clearOperation, everywhereOperation]);
  return {
    laid: planResample(builder, smooth, { sourceAt: sourceAt, black: true }),
    where: addProgram(builder, planResample(builder, white, { sourceAt: sourceAt, black: true }), builder.buffer(), [
      clampOperation(0, 1),
    ]),
  };
}

/**
 * Other footage laid over the picture: drifting dust, snow, haze. At its own size it covers the frame, cut to its
 * shape.
 */
export const plate = define<Plate>({
  kind: "plate",
  label: "Plate",
  station: "front",
  drawing: { outline: "M15 4 H25 V60 H15 Z" },
  summary: "Other footage laid over the picture: drifting dust, snow, haze.",
  advice:
    "Match its grain and its light to the shot before you judge it. Overdone, it moves in front of the scene and not in it.",
  strengthLaw: "Multiplies the plate's light.",
  source: "The blend modes of W3C Compositing and Blending, on scene-linear light.",
  passes: "adds",
  parameters,
  handles: [{ kind: "placing", label: "Plate", x: "x", y: "y", size: "size", rotation: "rotation" }],
  changesWithFrame: true,
  missing: ({ values }) => (values.footage ? null : "No footage is chosen."),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { frame, shot, geometry }) {
      const { footage, encoding, ends } = values;
      const light = builder.source({
        kind: "plate",
        footage,
        encoding,
        ends,
        index: frame - shot.first + Math.round(values.offset),
      });
      const layer = layerOperation({ mode: values.blend, amount: (values.gain / 100) * strength, isPicture: true });
      const placed = planPlaced(builder, light, values, geometry);
      if (!placed) return addProgram(builder, light, builder.buffer(), [layer], input);
      const laid = [layer, { code: "blend" as const, floats: [0] }];
      return addProgram(builder, placed.laid, builder.buffer(), laid, input, placed.where);
    },
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 41 }, (_, i) => i / 4 - 6);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: stops,
      y: stops.map((stop) => stop + Math.log2(Math.max((values.gain / 100) * s, 1e-6))),
    });
    return {
      title: "Light laid over the picture",
      x: { label: "Light of the plate", unit: "stops from mid-grey" },
      y: { label: "Light laid", unit: "stops from mid-grey" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
