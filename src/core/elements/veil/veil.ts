import { planResize } from "../../engine/operations";
import type { PlanBuilder } from "../../engine/plan";
import { addProgram, differenceOperation } from "../../engine/pointwise";
import { areaTaps, smoothTaps } from "../../maths/taps";
import { planLay } from "../../spread/gaussian";
import type { Colour } from "../../spread/plan";
import { define, type Parameter, type ValuesOf } from "../definition";

type Veil = ValuesOf<typeof parameters>;

/** Rows of cells over the frame's height that follow the bright side: the frame's broadest lights and darks. */
const FOLLOWING_ROWS = 6;
/** Most of them across, for a frame far wider than high. */
const MAX_COLUMNS = 64;
/** The frame's light in equal cells, each the mean of what it covers, and `follows` of each against the mean of all. */
function planCells(builder: PlanBuilder, input: number, follows: number): number {
  const { width, height } = builder.size(input);
  const rows = Math.min(height, FOLLOWING_ROWS);
  const columns = Math.min(width, MAX_COLUMNS, Math.max(1, Math.round((FOLLOWING_ROWS * width) / height)));
  const grid = () => builder.buffer(columns, rows);
  const cells = planResize(builder, input, grid(), areaTaps(width, columns), areaTaps(height, rows));
  if (follows === 1) return cells;
  const mean = planResize(builder, cells, builder.buffer(1, 1), areaTaps(columns, 1), areaTaps(rows, 1));
  const even = planResize(builder, mean, grid(), areaTaps(1, columns), areaTaps(1, rows));
  return addProgram(builder, cells, grid(), [differenceOperation(follows, true)], even);
}

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
      const cells = planCells(builder, input, values.follows);
      const half = builder.level(input, true, true);
      const { width: columns, height: rows } = builder.size(cells);
      const { width, height, edgeX, edgeY } = builder.size(half);
      const across = smoothTaps(columns, width, edgeX);
      const light = planResize(builder, cells, half, across, smoothTaps(rows, height, edgeY));
      const gain = (values.fraction / 100) * strength;
      return planLay(builder, input, light, values.tint.map((t) => t * gain) as unknown as Colour);
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
