/** Looks as shots wear them, and as they are kept. */
import { integer, jsonb, pgTable, serial, text, timestamp, uniqueIndex } from "drizzle-orm/pg-core";
import type { Look } from "../../core/look/look";
import { revision, summary, madeBy, created } from "./columns";
import { shots } from "./footage";

/** The look a shot has now; it changes with every movement of a control. */
export const looks = pgTable("looks", {
  shotId: text("shot_id")
    .primaryKey()
    .references(() => shots.id),
  body: jsonb("body").$type<Look>().notNull(),
  summary,
  revision,
  updated: timestamp("updated_at", { withTimezone: true }).notNull().defaultNow(),
});

/** Kept looks of a shot, numbered from 1. */
export const versions = pgTable(
  "versions",
  {
    id: serial("id").primaryKey(),
    shotId: text("shot_id")
      .notNull()
      .references(() => shots.id),
    number: integer("number").notNull(),
    name: text("name").notNull(),
    note: text("note").notNull().default(""),
    body: jsonb("body").$type<Look>().notNull(),
    /** Revisions of the profiles it named when it was kept, by their ids. */
    glass: jsonb("glass").$type<Record<string, number>>().notNull().default({}),
    summary,
    revision,
    madeBy,
    created,
  },
  (table) => [uniqueIndex("versions_shot_number").on(table.shotId, table.number)],
);

/** Looks that were kept for any shot: one's own library. */
export const library = pgTable("library", {
  id: text("id").primaryKey(),
  body: jsonb("body").$type<Look>().notNull(),
  summary,
  revision,
  madeBy,
  created,
});

/** Kept pictures of single frames, with the look that made each: light as the path left it, half floats, on disk. */
export const stills = pgTable("stills", {
  id: serial("id").primaryKey(),
  shotId: text("shot_id")
    .notNull()
    .references(() => shots.id),
  frame: integer("frame").notNull(),
  note: text("note").notNull().default(""),
  look: jsonb("look").$type<Look>().notNull(),
  summary,
  /** px */
  width: integer("width").notNull(),
  height: integer("height").notNull(),
  madeBy,
  created,
});
