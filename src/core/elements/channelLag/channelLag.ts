import { addProgram } from "../../engine/pointwise";
import { clamp } from "../../maths/interpolate";
import { define, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

type ChannelLag = ValuesOf<typeof parameters>;

const CHANNELS = ["red", "green", "blue"] as const;

/** Whole frames each channel lags behind, at a strength. */
const lags = (values: ChannelLag, strength: number) =>
  CHANNELS.map((channel) => Math.round(values[channel] * strength));

/** The frames that red, green and blue come from; the ends of the shot hold. */
const framesOf = (values: ChannelLag, strength: number, { frame, shot }: Pick<FrameContext, "frame" | "shot">) =>
  lags(values, strength).map((lag) => clamp(frame - lag, shot.first, shot.last));

/** The further frames of a program, in order. */
const FURTHER = ["other", "third"] as const;

const parameters = {
  red: {
    type: "number",
    label: "Red lags",
    unit: "frames",
    min: -12,
    max: 12,
    step: 1,
    default: 0,
    help: "Frames red comes from, before this one.",
  },
  green: {
    type: "number",
    label: "Green lags",
    unit: "frames",
    min: -12,
    max: 12,
    step: 1,
    default: 1,
    help: "Frames green comes from, before this one.",
  },
  blue: {
    type: "number",
    label: "Blue lags",
    unit: "frames",
    min: -12,
    max: 12,
    step: 1,
    default: 2,
    help: "Frames blue comes from, before this one.",
  },
} as const satisfies Record<string, Parameter>;

/** Red, green and blue of the path so far, at frames t - a, t - b, t - c; the ends of the shot hold. */
export const channelLag = define<ChannelLag>({
  kind: "channelLag",
  label: "Channel lag",
  station: "film",
  drawing: { outline: "M9 4 H14 V60 H9 Z M18 4 H23 V60 H18 Z M27 4 H32 V60 H27 Z" },
  summary: "Colours that arrive some frames apart, as from a camera that exposed them one after another.",
  advice:
    "It shows only where something moves. All that stands before it is computed for the late frames, too, so it is quickest at the front.",
  strengthLaw: "Multiplies the frames of lag, rounded to whole ones.",
  source: "Each channel is taken from a frame of its own.",
  passes: "splits",
  parameters,
  changesWithFrame: true,
  takesPathBefore: true,
  framesBeside: ({ strength, values }, context) => framesOf(values, strength, context),
  work: {
    kind: "buffers",
    plan(builder, input, { id, strength, values }, { frame, shot, pathBefore }: FrameContext) {
      const path = pathBefore(id);
      const lightAt = (number: number) =>
        builder.source(path ? { kind: "look", ...path, frame: number } : { kind: "frame", number });
      const numbers = framesOf(values, strength, { frame, shot });
      if (numbers.every((number) => number === frame)) return input;
      const others = [...new Set(numbers.filter((number) => number !== frame))].slice(0, 2);
      const buffers = others.map(lightAt);
      // Three different frames, none of them this one: red's stands in for the row.
      const first = new Set(numbers).size === 3 && !numbers.includes(frame) ? lightAt(numbers[0]!) : input;
      const rest = first === input ? others : [...new Set(numbers.slice(1))];
      const further = first === input ? buffers : rest.map(lightAt);
      const choice = numbers.map((number, c) =>
        (first !== input && c === 0) || number === frame ? "row" : FURTHER[rest.indexOf(number)]!,
      );
      return addProgram(
        builder,
        first,
        builder.buffer(),
        [{ code: "lanes", fields: { red: choice[0]!, green: choice[1]!, blue: choice[2]! } }],
        further[0] ?? input,
        further[1] ?? further[0] ?? input,
      );
    },
  },
  response({ strength, values }) {
    const at = (s: number) => lags(values, s);
    const trace = (kind: "measured" | "applied", s: number) =>
      CHANNELS.map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: [-at(s)[c]!, -at(s)[c]!],
        y: [0, 1],
      }));
    return {
      title: "Frame each channel comes from",
      x: { label: "Frame, against this one", unit: "frames" },
      y: { label: "", unit: "" },
      traces: [...trace("measured", 1), ...trace("applied", strength)],
    };
  },
});
