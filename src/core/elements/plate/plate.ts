import { ENCODING_NAMES, encodingByName } from "../../colour/encodings";
import { addProgram, layerOperation } from "../../engine/pointwise";
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
} as const satisfies Record<string, Parameter>;

/** Other footage laid over the picture: drifting dust, snow, haze. It covers the frame, cut to its shape. */
export const plate = define<Plate>({
  kind: "plate",
  label: "Plate",
  station: "front",
  drawing: { outline: "M15 4 H25 V60 H15 Z" },
  summary: "Other footage laid over the picture: drifting dust, snow, haze.",
  advice:
    "Match its grain and its light to the shot before you judge it. Overdone, it moves in front of the scene and not in it.",
  strengthLaw: "Multiplies the plate's light.",
  parameters,
  changesWithFrame: true,
  missing: ({ values }) => (values.footage ? null : "No footage is chosen."),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { frame, shot }) {
      const { footage, encoding, ends } = values;
      const light = builder.source({
        kind: "plate",
        footage,
        encoding,
        ends,
        index: frame - shot.first + Math.round(values.offset),
      });
      return addProgram(
        builder,
        light,
        builder.buffer(),
        [layerOperation({ mode: values.blend, amount: (values.gain / 100) * strength })],
        input,
      );
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
