/** Profiles, encodings and tables: what looks and shots name. */
import { boolean, integer, jsonb, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import type { OwnEncoding, TableEncoding } from "../../core/colour/own-encoding";
import type { Profile } from "../../core/profile/profiles";
import { revision, created } from "./columns";

export const profiles = pgTable("profiles", {
  id: text("id").primaryKey(),
  kind: text("kind").$type<"lens" | "filter">().notNull(),
  name: text("name").notNull(),
  body: jsonb("body").$type<Profile>().notNull(),
  /** It ships with the application, and is never written over. */
  shipped: boolean("shipped").notNull().default(false),
  /** Id of the profile it began as a copy of. */
  copiedFrom: text("copied_from"),
  revision,
  created,
});

/** What profiles were before they were changed: versions that were kept with them go on using them. */
export const profileRevisions = pgTable(
  "profile_revisions",
  {
    profileId: text("profile_id")
      .notNull()
      .references(() => profiles.id, { onDelete: "cascade" }),
    revision: integer("revision").notNull(),
    body: jsonb("body").$type<Profile>().notNull(),
    created,
  },
  (table) => [primaryKey({ columns: [table.profileId, table.revision] })],
);

/** An encoding the user made, a table without its text. */
export type EncodingBody = Exclude<OwnEncoding, TableEncoding> | Omit<TableEncoding, "text">;

/** Encodings the user made: a log curve with a matrix, or a table in its place, whose text lies beside it. */
export const encodings = pgTable("encodings", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  body: jsonb("body").$type<EncodingBody>().notNull(),
  tableText: text("table_text"),
  /** Of all that it is: another one does something else. */
  digest: text("digest").notNull(),
  created,
});

/** Tables a view can show light through: `.cube` or CLF files as they came. */
export const tables = pgTable("tables", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  file: text("file").notNull(),
  text: text("text").notNull(),
  /** Of its text and file name. */
  digest: text("digest").notNull(),
  created,
});
