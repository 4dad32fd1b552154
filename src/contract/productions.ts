import { z } from "zod";

/** A production as it is listed. */
export interface ListedProduction {
  id: string;
  name: string;
  /** Put away: its shots are not listed until it is taken up again. */
  archived: boolean;
  /** How many it has. */
  shots: number;
  renders: number;
}

const name = z.string().trim().min(1, "a name of 1 to 120 letters").max(120, "a name of 1 to 120 letters");

/** POST /api/productions */
export const makeProductionBody = z.object({ name }).strict();

/** PATCH /api/productions/ID */
export const changeProductionBody = z.object({ name, archived: z.boolean() }).partial().strict();
export type ProductionChange = z.infer<typeof changeProductionBody>;

/** POST /api/productions/files: the zip's name, for what is said of it. */
export const importQuery = z.object({ file: z.string().min(1).max(300).default("the production") });

/** What came of a production that was brought in. */
export interface ImportedProduction {
  production: { id: string; name: string };
  /** `footage`: where its files were found, in words; null: they are not here, and are found when they are taken in. */
  shots: { id: string; name: string; footage: string | null }[];
  /** What is called otherwise here, and what is lacking, in words. */
  notes: string[];
}

/** The production one is in, as the browser keeps it: a cookie that pages and server read. */
export const PRODUCTION_COOKIE = "pale-halo-production";
