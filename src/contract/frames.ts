/** What is asked of a frame in its address: routes check by these, and /api describes them. */
import { z } from "zod";

/** Sizes a frame is sent in, as parts of its own. */
export const DIVISORS = [1, 2, 4, 8];

const divide = z.coerce
  .number()
  .refine((value) => DIVISORS.includes(value), `is one of ${DIVISORS.join(", ")}`)
  .default(1)
  .describe("the part of its size it is sent at: 1, 2, 4 or 8");
const encoding = z.string().max(120).optional().describe("read by another encoding than the shot’s");

/** GET /api/shots/ID/frames/FRAME */
export const frameQuery = z.object({
  divide,
  plane: z.enum(["light", "depth"]).default("light"),
  encoding,
  overscan: z.enum(["yes", "no"]).default("no").describe("with what its file holds around what is shown"),
});

/** The furthest that a plate's index lies from its first frame. */
const MAX_INDEX = 1_000_000;
/** GET /api/shots/ID/plate */
export const plateQuery = z.object({
  index: z.coerce.number().int().min(-MAX_INDEX).max(MAX_INDEX).describe("counted from the shot’s first frame, 0"),
  ends: z.enum(["hold", "loop"]),
  divide,
  encoding,
});

/** GET /api/stills/ID/light */
export const stillLightQuery = z.object({ divide });
