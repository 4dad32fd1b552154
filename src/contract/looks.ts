import { z } from "zod";
import { type Look, lookSchema } from "../core/look/look";

const revision = z.number().int().positive();
const shotId = z.string().min(1).max(80);

/** PUT /api/shots/ID/look: a look in place of the one of `revision`. */
export const saveLookBody = z.object({ look: lookSchema, revision }).strict();

export interface LookSaved {
  revision: number;
}

/** What stands where a look was changed since: told with 409. */
export interface LookStanding {
  look: Look;
  revision: number;
}

/** A look of the library as it is listed: one that ships with the application (no revision), or one's own. */
export interface ListedLook {
  id: string;
  name: string;
  purpose: string | null;
  tags: string[];
  revision: number | null;
}

/** GET /api/looks/ID: a look of the library whole. */
export interface LibraryLook {
  id: string;
  look: Look;
  revision: number | null;
}

/** GET /api/shots/ID/look: the look that a shot wears, with the shot's own camera. */
export interface CurrentLook {
  shotId: string;
  look: Look;
  revision: number;
}

/** A look that a shot wears, as it is listed; `table`: what it is seen through. */
export interface ListedWorn {
  shotId: string;
  name: string;
  revision: number;
  table: string | null;
}

/** GET /api/looks: what there is, without the looks themselves. */
export interface Library {
  looks: ListedLook[];
  worn: ListedWorn[];
}

/** POST /api/looks: keeps a look in the library. */
export const keepLookBody = z.object({ look: lookSchema }).strict();

/** PUT /api/looks/ID: a look of one's own in place of the one of `revision`. */
export const changeLookBody = saveLookBody;

const MAX_SHOTS = 500;
/** PUT /api/looks/shots: looks on several shots, all or none, each in place of the one of its revision. */
export const putLooksBody = z
  .array(z.object({ shotId, look: lookSchema, revision }).strict())
  .min(1)
  .max(MAX_SHOTS)
  .refine((all) => new Set(all.map((entry) => entry.shotId)).size === all.length, "a shot is named twice");

/** The new revisions, by shot. */
export interface LooksPut {
  revisions: Record<string, number>;
}
