import { z } from "zod";
import { FARTHEST } from "../image/image";

/** Other footage whose first channel says how far things are, in place of the shot's own depth channel. */
export const depthPlateSchema = z
  .object({
    footage: z.string().min(1).max(120).describe("the shot that holds distances"),
    reads: z
      .enum(["distance", "nearness"])
      .default("distance")
      .describe("distance: even in metres from near to far; nearness: brighter is nearer, even in 1/m"),
    near: z.number().min(0).max(FARTHEST).default(0).describe("distance at 0 (nearness: at 1), m"),
    far: z
      .number()
      .positive()
      .max(FARTHEST)
      .default(1)
      .describe("distance at 1 (nearness: at 0), m; 0 and 1 read values as metres"),
  })
  .strict()
  .refine(({ near, far }) => near < far, { path: ["far"], message: "is farther than near" })
  .refine(({ reads, near }) => reads === "distance" || near > 0, {
    path: ["near"],
    message: "is above 0 where nearness is read",
  });

export type DepthPlate = z.infer<typeof depthPlateSchema>;

/** Distance (m) that a value of a depth plate stands for. Nothing, and less, is as far as anything. */
export function distanceOf({ reads, near, far }: Omit<DepthPlate, "footage">, value: number): number {
  if (reads === "nearness")
    return Math.min(FARTHEST, 1 / Math.max(1 / FARTHEST, 1 / far + (1 / near - 1 / far) * value));
  const metres = near + (far - near) * value;
  return metres > 0 ? Math.min(FARTHEST, metres) : FARTHEST;
}
