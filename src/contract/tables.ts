import { z } from "zod";
import { MAX_TABLE_TEXT } from "../core/colour/own-encoding";

/** Largest request with a table: its text, and what JSON and its name add, bytes. */
export const MAX_TABLE = MAX_TABLE_TEXT * 1.25;

/** PUT /api/tables: a `.cube` or CLF file. */
export const tableBody = z
  .object({ file: z.string().min(1).max(200), text: z.string().min(1).max(MAX_TABLE_TEXT) })
  .strict();

export interface ListedTable {
  id: string;
  name: string;
  file: string;
}
