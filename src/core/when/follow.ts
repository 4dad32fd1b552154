import { z } from "zod";
import { motionAt } from "../track/track";
import type { Generator } from "./generator";

/** What of a track a number follows. */
export const FOLLOWED = {
  x: "Across, % of width",
  y: "Down, % of height",
  rotation: "Turning, degrees",
  scale: "Growing, times",
} as const;
const NAMES = Object.keys(FOLLOWED) as [keyof typeof FOLLOWED, ...(keyof typeof FOLLOWED)[]];

const schema = z
  .object({
    id: z.string().min(1).max(40).describe("of one of the look's tracks"),
    what: z.enum(NAMES).describe("what of it"),
  })
  .strict();
export type Follow = z.infer<typeof schema>;

/** The value goes along with a track; what the look says without it is the value at the track's own frame. */
export const follow: Generator<Follow> = {
  label: "Track",
  summary: "Goes along with something in the picture.",
  schema,
  parameters: {},
  begin: () => ({ id: "track-1", what: "x" }),
  value: ({ id, what }, base, { frame, tracks }) => {
    const track = tracks?.get(id);
    const own = typeof base === "number" ? base : 0;
    if (!track) return own;
    const motion = motionAt(track, frame);
    return what === "scale" ? own * motion.scale : own + motion[what];
  },
  kind: () => "number",
  numbers: () => [],
};
