import { inArray, type SQL, sql } from "drizzle-orm";
import type { PgColumn } from "drizzle-orm/pg-core";
import type { LookSummary } from "../core/look/summary";
import type { Database } from "./database";
import { library, looks, renders, stills, versions } from "./schema/schema";

/** Where a look is kept, and whose it is. */
export interface LookPlace {
  in: "shot" | "version" | "still" | "library" | "render";
  /** Id of the shot, version, still, look of the library or render. */
  id: string;
  /** Null for a look of the library. */
  shotId: string | null;
  /** Of the look. */
  name: string;
}

interface Kept {
  in: LookPlace["in"];
  table: typeof looks | typeof versions | typeof stills | typeof library | typeof renders;
  id: PgColumn;
  shotId?: PgColumn;
  /** Of those that count. */
  only?: SQL;
}

/** Everything that keeps a look. Renders that have ended keep theirs as a record, not to be made again. */
const KEPT: Kept[] = [
  { in: "shot", table: looks, id: looks.shotId, shotId: looks.shotId },
  { in: "version", table: versions, id: versions.id, shotId: versions.shotId },
  { in: "still", table: stills, id: stills.id, shotId: stills.shotId },
  { in: "library", table: library, id: library.id },
  {
    in: "render",
    table: renders,
    id: renders.id,
    shotId: renders.shotId,
    only: inArray(renders.state, ["queued", "running"]),
  },
];

/**
 * The looks that use something: those whose summary says so. Of shots, versions, stills, the library, and renders still
 * to be made.
 */
export async function looksThatUse(db: Database, uses: (summary: LookSummary) => boolean): Promise<LookPlace[]> {
  const found: LookPlace[] = [];
  for (const { in: place, table, id, shotId, only } of KEPT) {
    const rows = await db
      .select({
        id: sql<string>`${id}::text`,
        shotId: shotId ? sql<string>`${shotId}` : sql<null>`null`,
        summary: table.summary,
      })
      .from(table)
      .where(only);
    for (const { summary, ...row } of rows)
      if (summary && uses(summary)) found.push({ in: place, ...row, name: summary.name });
  }
  return found;
}
