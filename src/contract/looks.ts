import { z } from "zod";
import { type Look, lookSchema } from "../core/look/look";

/** PUT /api/shots/ID/look: a look in place of the one of `revision`. */
export const saveLookBody = z.object({ look: lookSchema, revision: z.number().int().positive() }).strict();

export interface LookSaved {
  revision: number;
}

/** What stands where a look was changed since: told with 409. */
export interface LookStanding {
  look: Look;
  revision: number;
}

/** A look to begin from, and what it is for. */
export interface ReadyLook {
  id: string;
  purpose: string;
  look: Look;
}
