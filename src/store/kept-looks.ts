import { sql } from "drizzle-orm";
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

/** Brings kept looks along when the database is opened, where SQL cannot. What is no look stays as it is. */
export async function bringLooksAlong(db: PgliteDatabase<typeof schema>): Promise<void> {
  await db.transaction(async (tx) => {
    for (const { shotId, body } of await tx
      .select({ shotId: looks.shotId, body: looks.body })
      .from(looks)
      .where(isEarlier(looks.body))) {
      const now = broughtAlong(body);
      if (now)
        await tx
          .update(looks)
          .set({ body: now })
          .where(sql`${looks.shotId} = ${shotId}`);
    }
    for (const { id, body } of await tx
      .select({ id: versions.id, body: versions.body })
      .from(versions)
      .where(isEarlier(versions.body))) {
      const now = broughtAlong(body);
      if (now)
        await tx
          .update(versions)
          .set({ body: now })
          .where(sql`${versions.id} = ${id}`);
    }
    for (const { id, look } of await tx
      .select({ id: renders.id, look: renders.look })
      .from(renders)
      .where(isEarlier(renders.look))) {
      const now = broughtAlong(look);
      if (now)
        await tx
          .update(renders)
          .set({ look: now })
          .where(sql`${renders.id} = ${id}`);
    }
  });
}
