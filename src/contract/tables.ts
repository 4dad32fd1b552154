import { z } from "zod";

/** Largest table that is kept, bytes of text. */
export const LARGEST_TABLE = 64 * 2 ** 20;

/** PUT /api/tables: a `.cube` or CLF file. */
export const tableBody = z
  .object({ file: z.string().min(1).max(200), text: z.string().min(1).max(LARGEST_TABLE) })
  .strict();

export interface ListedTable {
  id: string;
  name: string;
  file: string;
}
