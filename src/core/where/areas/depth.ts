import { z } from "zod";
import { type AreaDefinition, common, type Named, schemasOf } from "../definition";

const numbers = {
  near: {
    label: "Near",
    unit: "m",
    help: "m",
    default: 0,
    min: 0,
    max: 1e5,
    track: { min: 0, max: 200, step: 0.1 },
  },
  far: {
    label: "Far",
    unit: "m",
    help: "m",
    default: 1e5,
    min: 0,
    max: 1e5,
    track: { min: 0.1, max: 500, step: 0.1 },
    reset: 100,
  },
  soft: {
    label: "Softness",
    unit: "of distance",
    help: "beyond them, as a share of the distance",
    default: 0.2,
    min: 0,
    max: 4,
    track: { min: 0, max: 2, step: 0.01 },
  },
} as const;

export const depthSchema = z.object({ kind: z.literal("depth"), ...common, ...schemasOf(numbers) }).strict();
type Depth = Named<z.infer<typeof depthSchema>>;

/** What is so far away. */
export const depth: AreaDefinition<Depth> = {
  label: "Range of depth",
  numbers,
  limits: [["near", "far", 0]],
  fresh: { kind: "depth", near: 3, far: 20 },
  record: ({ near, far, soft }) => ({ code: "depthMatte", fields: { near, far, soft } }),
};
