import type { PgDatabase, PgQueryResultHKT } from "drizzle-orm/pg-core";
import type * as schema from "./schema/schema";

/** What queries are put to: the embedded database, or one on a PostgreSQL server, with the same schema. */
export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;
