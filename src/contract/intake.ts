import { z } from "zod";
import { GAPS } from "../core/frame/gaps";
import { MAX_FRAME, type Ranges } from "../core/frame/ranges";
import type { Depth } from "../core/image/image";

/** Pictures of one kind that belong together, as they were found. */
export interface FoundGroup {
  /** Folder inside what was sent or named, "" for its own, and the pattern of the names in it. */
  folder: string;
  pattern: string;
  files: string[];
  numbers: Ranges;
  gaps: Ranges;
  /** px */
  width: number;
  height: number;
  depth: Depth;
  format: string;
  channels: string[];
  framesPerSecond?: number;
  timeCode?: string;
  /** Width of a pixel over its height: the squeeze the shot begins with. */
  pixelAspect?: number;
  bytes: number;
  /** As it was guessed, and why. */
  encoding: string;
  reason: string;
}

interface RefusedFile {
  name: string;
  reason: string;
}

/** What was found in files before they are taken in. */
export interface Finding {
  groups: FoundGroup[];
  refused: RefusedFile[];
}

export interface TakenIn {
  /** Ids of the new shots. */
  shots: string[];
  refused: RefusedFile[];
}

/** What the user decided of a group found. */
export const decisionSchema = z
  .object({
    folder: z.string().max(4000),
    pattern: z.string().min(1).max(300),
    /** The number of the group's first frame: names with a long gap between them are several groups of one pattern. */
    first: z.number().int().nonnegative().max(MAX_FRAME),
    take: z.boolean(),
    gaps: z.enum(GAPS),
    encoding: z.string().min(1).max(120).optional(),
  })
  .strict();
export type Decision = z.infer<typeof decisionSchema>;

const MAX_GROUPS = 1000;
/** POST /api/intake/BATCH */
export const decisionsBody = z.array(decisionSchema).max(MAX_GROUPS);

const folder = z.string().min(1).max(4000);
/** POST and PUT /api/intake-folder */
export const folderBody = z.object({ folder }).strict();
export const takeFolderBody = z.object({ folder, decisions: decisionsBody }).strict();

/** Files about to be sent. */
export const offersBody = z
  .array(
    z
      .object({
        path: z.string().min(1).max(4000),
        /** Bytes. Left out where it is not known before: whatever is whole here under the name is taken for it. */
        size: z.number().int().nonnegative().optional(),
        sha256: z.string().length(64).optional(),
      })
      .strict(),
  )
  .max(20_000);
export type Offer = z.infer<typeof offersBody>[number];

/** What is here of a file already, bytes. */
export interface Offered {
  path: string;
  received: number;
}

/** PUT /api/intake/BATCH/files/PATH: a body's place in its file, bytes: where it begins and ends, and the file's length. */
export interface Piece {
  at: number;
  until: number;
  size: number;
}
