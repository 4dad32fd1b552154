import { z } from "zod";
import { MAX_FRAME } from "../core/frame/ranges";
import { type Look, lookSchema } from "../core/look/look";

/** A kept picture of one frame as it is listed. */
export interface ListedStill {
  id: number;
  shotId: string;
  frame: number;
  note: string;
  /** Who made it; null where nobody had to say. */
  madeBy: string | null;
  /** px */
  width: number;
  height: number;
}

/** GET /api/stills/ID: with the look that made it. */
export interface Still extends ListedStill {
  look: Look;
}

const note = z.string().max(4000);

/** POST /api/stills: makes a still of a frame with a look. */
export const keepStillBody = z
  .object({
    shotId: z.string().min(1).max(80),
    frame: z.number().int().nonnegative().max(MAX_FRAME),
    look: lookSchema,
    note: note.default(""),
  })
  .strict();
export type StillOrder = z.input<typeof keepStillBody>;

/** PATCH /api/stills/ID */
export const noteStillBody = z.object({ note }).strict();

/** GET /api/stills/ID/picture: as a display shows it, or (exr) its light as it lies on the disk. */
export const STILL_FORMATS = ["png", "exr", "jpg"] as const;

const MAX_PICTURE_WIDTH = 1600;
/** GET /api/stills/ID/picture */
export const stillPictureQuery = z.object({
  format: z.enum(STILL_FORMATS).default("jpg"),
  width: z.coerce.number().int().min(16).max(MAX_PICTURE_WIDTH).optional().describe("px; its own where left out"),
});
