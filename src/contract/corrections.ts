import { z } from "zod";
import { correctionSchema } from "../core/colour/correction";

const MAX_TEXT = 4 * 2 ** 20;

/** POST /api/corrections: text to corrections. */
export const readCorrectionsBody = z.object({ file: z.string().max(200), text: z.string().max(MAX_TEXT) }).strict();

/** PUT /api/corrections: corrections to text. */
export const writeCorrectionsBody = z
  .object({ kind: z.enum(["cdl", "ccc", "cc"]), corrections: z.array(correctionSchema).min(1).max(1000) })
  .strict();
