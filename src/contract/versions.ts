import { z } from "zod";
import { type Look, lookSchema } from "../core/look/look";

/** A kept look of a shot, numbered from 1. */
export interface Version {
  id: number;
  number: number;
  name: string;
  body: Look;
  revision: number;
}

const name = z.string().trim().min(1).max(120);

/** POST /api/shots/ID/versions: keeps a look, under a name or the next number. */
export const keepVersionBody = z.object({ name: name.optional(), look: lookSchema }).strict();

/** PATCH /api/shots/ID/versions/VERSION */
export const renameVersionBody = z.object({ name, revision: z.number().int().positive() }).strict();
