import { eq, sql } from "drizzle-orm";
import { type Look, lookSchema } from "../core/look/look";
import type { PgliteDatabase } from "drizzle-orm/pglite";
import type * as schema from "./schema";
import { looks, renders, versions } from "./schema";

/** Elements of the kind “curves” whose parameters are those of its first version, which had numbers where it has drawn curves. */
const EARLIER_CURVES =
  '$.elements[*] ? (@.kind == "curves").params.keyvalue() ? (@.key like_regex "^(blacks|shadows|middle|lights|brights)(RGB)?$")';

/** Every look as it is kept now says its overall strength, and draws its curves; one that does not is of an earlier version. */
const isEarlier = (column: typeof looks.body | typeof versions.body | typeof renders.look) =>
  sql`(not jsonb_exists(${column}, 'strength') or jsonb_path_exists(${column}, ${EARLIER_CURVES}::jsonpath))`;

/** A look of an earlier version as this one writes it: areas get ids, what was left out its default. Null where it is no look. */
function broughtAlong(earlier: Look): Look | null {
  const read = lookSchema.safeParse(earlier);
  return read.success ? read.data : null;
}

/** Every look that is kept with something it belongs to, and the number or name of that. */
const KEPT = [
  { table: looks, id: looks.shotId, body: looks.body, set: (body: Look) => ({ body }) },
  { table: versions, id: versions.id, body: versions.body, set: (body: Look) => ({ body }) },
  { table: renders, id: renders.id, body: renders.look, set: (look: Look) => ({ look }) as never },
];

/** Brings kept looks along when the database is opened, where SQL cannot, one after another. What is no look stays as it is. */
export async function bringLooksAlong(db: PgliteDatabase<typeof schema>): Promise<void> {
  await db.transaction(async (tx) => {
    for (const { table, id, body, set } of KEPT)
      for (const row of await tx.select({ id }).from(table).where(isEarlier(body))) {
        const own = eq(id, row.id);
        const [earlier] = await tx
          .select({ look: sql<Look>`${body}` })
          .from(table)
          .where(own);
        const now = broughtAlong(earlier!.look);
        if (now)
          await tx
            .update(table as typeof looks)
            .set(set(now))
            .where(own);
      }
  });
}
