import { z } from "zod";
import { type Look, lookSchema } from "../core/look/look";

/** A kept look of a shot as it is listed, numbered from 1. */
export interface ListedVersion {
  id: number;
  number: number;
  name: string;
  note: string;
  /** Who made it; null where nobody had to say. */
  madeBy: string | null;
  revision: number;
}

/** GET /api/shots/ID/versions/VERSION: a kept look whole. */
export interface Version extends ListedVersion {
  body: Look;
}

const note = z.string().max(4000);
const name = z.string().trim().min(1).max(120);

/** POST /api/shots/ID/versions: keeps a look, under a name or the next number. */
export const keepVersionBody = z.object({ name: name.optional(), note: note.optional(), look: lookSchema }).strict();

/** PATCH /api/shots/ID/versions/VERSION: what is left out stays. */
export const changeVersionBody = z
  .object({ name: name.optional(), note: note.optional(), revision: z.number().int().positive() })
  .strict();
