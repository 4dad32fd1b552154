import { layOverParameter } from "../lay-over";
import { rollOffParameter } from "../roll-off";
import { type Parameter, type ValuesOf } from "../definition";
import { surroundParameter } from "../surround";
import { keyParameters } from "../key";

export type Streak = ValuesOf<typeof parameters>;

export const parameters = {
  ...keyParameters(4),
  length: {
    type: "triple",
    label: "Length R, G, B",
    unit: "% of width",
    min: 0.2,
    max: 100,
    step: 0.1,
    default: [6, 8, 12],
    help: "Distance over which the line falls to 37 %.",
  },
  tail: {
    type: "number",
    label: "Tail",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.35,
    help: "How much of the light goes into a tail four times as long.",
  },
  thickness: {
    type: "number",
    label: "Thickness",
    unit: "% of height",
    min: 0.02,
    max: 3,
    step: 0.01,
    default: 0.12,
    logarithmic: true,
    help: "Standard deviation across the line.",
  },
  gain: {
    type: "number",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 200,
    step: 1,
    default: 12,
    help: "Light of the line over the keyed light, at strength 1.",
  },
  tint: { type: "colour", label: "Tint", default: [0.55, 0.8, 1.6], help: "Colour of the line; coatings make it." },
  tintTail: {
    type: "colour",
    label: "Tint of the tail",
    default: [0.55, 0.8, 1.6],
    help: "Colour far from the source.",
  },
  angle: {
    type: "number",
    label: "Angle",
    unit: "°",
    min: -90,
    max: 90,
    step: 0.5,
    default: 0,
    help: "Clockwise from the horizontal, as the cylinder is turned.",
  },
  count: {
    type: "number",
    label: "Lines",
    unit: "",
    min: 1,
    max: 8,
    step: 1,
    default: 1,
    help: "Lines through each source, evenly turned; they share the light.",
  },
  surround: surroundParameter("black"),
  rollOff: rollOffParameter("Roll-off"),
  lay: layOverParameter("the line"),
} as const satisfies Record<string, Parameter>;
