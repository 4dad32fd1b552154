import { and, eq, inArray, sql } from "drizzle-orm";
import type { PgColumn } from "drizzle-orm/pg-core";
import type { Look } from "../core/look/look";
import type { Database } from "./database";
import { library, looks, renders, stills, versions } from "./schema";

/** Where a look is kept, and whose it is. */
export interface LookPlace {
  in: "shot" | "version" | "still" | "library" | "render";
  /** Id of the shot, version, still, look of the library or render. */
  id: string;
  /** Null for a look of the library. */
  shotId: string | null;
}

interface Kept {
  in: LookPlace["in"];
  table: typeof looks | typeof versions | typeof stills | typeof library | typeof renders;
  id: PgColumn;
  body: PgColumn;
  shotId?: PgColumn;
}

/** Everything that keeps a look. */
const KEPT: Kept[] = [
  { in: "shot", table: looks, id: looks.shotId, body: looks.body, shotId: looks.shotId },
  { in: "version", table: versions, id: versions.id, body: versions.body, shotId: versions.shotId },
  { in: "still", table: stills, id: stills.id, body: stills.look, shotId: stills.shotId },
  { in: "library", table: library, id: library.id, body: library.body },
  { in: "render", table: renders, id: renders.id, body: renders.look, shotId: renders.shotId },
];

/** Renders that have ended keep their looks as a record, not to be made again. */
const isPending = inArray(renders.state, ["queued", "running"]);

/**
 * The looks that use something they name: `name` is looked for in their text first, and only those that have it are read, one at a
 * time, for `uses` to tell. Looks of shots, versions, stills, the library, and renders that are still to be made.
 */
export async function looksThatUse(db: Database, name: string, uses: (look: Look) => boolean): Promise<LookPlace[]> {
  const found: LookPlace[] = [];
  for (const { in: place, table, id, body, shotId } of KEPT) {
    const names = sql`position(${JSON.stringify(name)} in ${body}::text) > 0`;
    const rows = await db
      .select({ id: sql<string>`${id}::text`, shotId: shotId ? sql<string>`${shotId}` : sql<null>`null` })
      .from(table)
      .where(place === "render" ? and(names, isPending) : names);
    for (const row of rows) {
      const [kept] = await db
        .select({ look: sql<Look>`${body}` })
        .from(table)
        .where(eq(sql`${id}::text`, row.id));
      if (kept && uses(kept.look)) found.push({ in: place, ...row });
    }
  }
  return found;
}
