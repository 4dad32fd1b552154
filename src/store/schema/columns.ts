/** Columns that several tables have. */
import { integer, jsonb, text, timestamp } from "drizzle-orm/pg-core";
import type { LookSummary } from "../../core/look/summary";

/** Raised with every change; a change made to an older one is refused. */
export const revision = integer("revision").notNull().default(1);
/** Of the look beside it; null until it was read by this version of the program. */
export const summary = jsonb("summary").$type<LookSummary>();
/** Who made it; null where nobody had to say. */
export const madeBy = text("made_by");
export const created = timestamp("created_at", { withTimezone: true }).notNull().defaultNow();
