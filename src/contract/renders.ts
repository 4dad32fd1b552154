import { z } from "zod";
import { MAX_FRAME, type Ranges } from "../core/frame/ranges";
import { type Depth, DEPTHS } from "../core/image/image";
import { type Look, lookSchema } from "../core/look/look";

export type RenderState = "queued" | "running" | "done" | "failed" | "cancelled";

/** A render as it is listed: without its look, but with the look's view. */
export interface ListedRender {
  id: number;
  shotId: string;
  versionName: string;
  view: Look["view"];
  /** Extension of its files. */
  format: string;
  depth: Depth;
  compression: string | null;
  /** Name of the encoding written; null for the look's view, or working light in EXR. */
  encoding: string | null;
  frames: Ranges;
  /** Of the shot, frames a second. */
  frameRate: number;
  state: RenderState;
  /** Frames. */
  done: number;
  failed: { frame: number; reason: string }[];
  /** As it renders. */
  framesPerSecond: number | null;
  folder: string;
  /** Movies that were made of it, by their kinds. */
  movies: string[];
}

/** POST /api/renders: formats, depths and compressions are held against what the formats write by the server. */
export const renderBody = z
  .object({
    shotId: z.string().max(80),
    versionName: z.string().min(1).max(120),
    look: lookSchema,
    format: z.enum(["exr", "dpx", "tif", "png", "y4m"]),
    depth: z.enum(DEPTHS),
    compression: z.string().max(20).optional(),
    encoding: z.string().min(1).max(120).nullable().default(null),
    first: z.number().int().nonnegative().max(MAX_FRAME),
    last: z.number().int().nonnegative().max(MAX_FRAME),
  })
  .strict();
export type RenderOrder = z.infer<typeof renderBody>;
