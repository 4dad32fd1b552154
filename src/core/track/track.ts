import { z } from "zod";
import { clamp } from "../maths/interpolate";

/** The highest number a frame can have, either way. */
const MAX_FRAME = 2 ** 31 - 1;
/** Most frames of a track. */
const MAX_FRAMES = 20_000;
const number = z.number().min(-1e4).max(1e4);
const frame = z.number().int().min(-MAX_FRAME).max(MAX_FRAME);
const list = (of: z.ZodNumber) => z.array(of).max(MAX_FRAMES);

export const TRACK_MODELS = ["position", "similarity"] as const;
export type TrackModel = (typeof TRACK_MODELS)[number];

/**
 * How something in the picture moves: per frame from `first` on, where the middle of its region is (% of the frame's
 * width and height from its centre), how many times its size and how far it is turned (degrees, clockwise) against
 * `reference`, the frame its region was drawn on, and how sure that is (0 to 1).
 */
export const trackSchema = z
  .object({
    id: z.string().min(1).max(40),
    name: z.string().min(1).max(80),
    model: z.enum(TRACK_MODELS),
    reference: frame.describe("the frame the region was drawn on"),
    region: z
      .object({
        x: number.describe("its middle, % of the frame's width from its centre"),
        y: number.describe("% of its height"),
        width: z.number().positive().max(400).describe("% of the frame's width"),
        height: z.number().positive().max(400).describe("% of its height"),
      })
      .strict(),
    first: frame,
    x: list(number),
    y: list(number),
    scale: list(z.number().positive().max(1000)),
    rotation: list(number),
    confidence: list(z.number().min(0).max(1)),
    corrected: z.array(frame).max(MAX_FRAMES).optional().describe("frames on which it was set by hand"),
  })
  .strict()
  .refine(
    ({ x, y, scale, rotation, confidence }) =>
      x.length > 0 && [y, scale, rotation, confidence].every(({ length }) => length === x.length),
    "x, y, scale, rotation and confidence hold a number for every frame",
  );
export type Track = z.infer<typeof trackSchema>;

/** How far something has gone from where it was on the track's reference frame. */
export interface Motion {
  /** % of the frame's width and height. */
  x: number;
  y: number;
  /** Degrees, clockwise. */
  rotation: number;
  scale: number;
  confidence: number;
}

/** Place of a frame in the track's lists; before its first and after its last it stands still. */
const indexAt = ({ first, x }: Track, at: number) => clamp(at - first, 0, x.length - 1);

/** The motion at a frame, against the reference frame. */
export function motionAt(track: Track, at: number): Motion {
  const [here, from] = [indexAt(track, at), indexAt(track, track.reference)];
  return {
    x: track.x[here]! - track.x[from]!,
    y: track.y[here]! - track.y[from]!,
    rotation: track.rotation[here]! - track.rotation[from]!,
    scale: track.scale[here]! / track.scale[from]!,
    confidence: track.confidence[here]!,
  };
}

export const hasFrameOf = ({ first, x }: Track, at: number): boolean => at >= first && at < first + x.length;

/** Where a followed thing is: % of the frame from its centre, degrees, times its size. */
export type TrackPose = Pick<Motion, "x" | "y" | "rotation" | "scale">;

export function poseAt(track: Track, at: number): TrackPose {
  const index = indexAt(track, at);
  return { x: track.x[index]!, y: track.y[index]!, rotation: track.rotation[index]!, scale: track.scale[index]! };
}

/** Standard deviation of the smoothing that leaves what is slower than a time constant, against it. */
const SIGMA = 0.5;
/** Standard deviations after which frames count no more. */
const REACH = 3;

/**
 * The pose without what is faster than a time constant, frames: a Gaussian mean, of what there is towards the track's
 * ends.
 */
export function smoothedPose(track: Track, at: number, constant: number): TrackPose {
  const sigma = Math.max(1e-3, constant * SIGMA);
  const reach = Math.ceil(REACH * sigma);
  const sum = { x: 0, y: 0, rotation: 0, scale: 0 };
  let weights = 0;
  for (let by = -reach; by <= reach; by++) {
    if (!hasFrameOf(track, at + by)) continue;
    const pose = poseAt(track, at + by);
    const weight = Math.exp(-0.5 * (by / sigma) ** 2);
    weights += weight;
    for (const name of ["x", "y", "rotation", "scale"] as const) sum[name] += weight * pose[name];
  }
  if (!weights) return poseAt(track, at);
  return { x: sum.x / weights, y: sum.y / weights, rotation: sum.rotation / weights, scale: sum.scale / weights };
}
