import { planDouble, planHalve, planLay } from "../../spread/gaussian";
import type { Colour } from "../../spread/plan";
import { define, type Parameter, type ValuesOf } from "../definition";

type Veil = ValuesOf<typeof parameters>;

/** Height of the level that follows the bright side, cells: the frame's broadest lights and darks. */
const FOLLOWING_CELLS = 6;

const parameters = {
  fraction: {
    type: "number",
    label: "Glare",
    unit: "% of mean light",
    min: 0,
    max: 50,
    step: 0.1,
    default: 2,
    help: "Light spread over the frame, against the frame's mean.",
  },
  follows: {
    type: "number",
    label: "Follows the light",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.4,
    help: "0: even all over; 1: stronger on the bright side.",
  },
  tint: { type: "colour", label: "Tint", default: [1, 1, 1], help: "Colour that coatings give it." },
} as const satisfies Record<string, Parameter>;

/** Veiling glare: light of the whole frame spread over it, partly even, partly following its bright side. */
export const veil = define<Veil>({
  kind: "veil",
  label: "Veil",
  station: "lens",
  drawing: { outline: "M12 5 C18 18 18 46 12 59 H28 C22 46 22 18 28 5 Z", detail: "M20 16V48" },
  check: { name: "veil" },
  summary: "Veiling glare: a share of all the light in the frame lies over the whole of it.",
  advice:
    "Look at the blacks when a lamp enters the frame. Overdone, the picture looks as if it were shot through a curtain.",
  strengthLaw: "Multiplies the fraction.",
  source: "A share of the frame’s mean light, as ISO 9358 states veiling glare.",
  passes: "scatters",
  parameters,
  fromLens: ({ veil: measured }) => (measured ? { fraction: measured.fraction } : {}),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }) {
      const levels = [input];
      // Down to one cell: its light is the frame's mean.
      for (let size = builder.size(input); size.width > 1 || size.height > 1; size = builder.size(levels.at(-1)!))
        levels.push(planHalve(builder, levels.at(-1)!));
      const following = Math.max(
        1,
        levels.findIndex((level) => builder.size(level).height <= FOLLOWING_CELLS),
      );
      const gain = (values.fraction / 100) * strength;
      const weight = (share: number) => values.tint.map((t) => t * gain * share) as unknown as Colour;
      const expand = (from: number) => {
        let image = levels[from]!;
        for (let k = from - 1; k >= 1; k--) image = planDouble(builder, image, levels[k]!);
        return image;
      };
      let out = input;
      if (values.follows < 1) out = planLay(builder, out, expand(levels.length - 1), weight(1 - values.follows));
      if (values.follows > 0) out = planLay(builder, out, expand(following), weight(values.follows));
      return out;
    },
  },
  response({ strength, mix, values }) {
    const means = Array.from({ length: 41 }, (_, i) => i / 10 - 2);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: means,
      y: means.map((stops) => stops + Math.log2(Math.max((values.fraction / 100) * s, 1e-6))),
    });
    return {
      title: "What black becomes",
      x: { label: "Mean light of the frame", unit: "stops from mid-grey" },
      y: { label: "Light over black", unit: "stops from mid-grey" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
