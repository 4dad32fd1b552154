import type { AreaNumber } from "./definition";

/** Numbers that belong to no kind of area: those of areas together, and those of points, which are set together. */

export const WHERE_NUMBERS = {
  feather: {
    label: "Feather",
    unit: "% of height",
    help: "blur of the whole matte, % of height",
    default: 0,
    min: 0,
    max: 50,
    track: { min: 0, max: 30, step: 0.1 },
  },
  strength: { label: "Opacity", unit: "", default: 1, min: 0, max: 1, track: { min: 0, max: 1, step: 0.01 } },
} as const satisfies Record<string, AreaNumber>;

/** The points of a polygon. */
export const POINTS: AreaNumber = {
  label: "Points",
  unit: "% of width and height",
  default: 0,
  min: -500,
  max: 500,
  track: { min: -500, max: 500, step: 0.5 },
};
