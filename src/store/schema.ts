import { integer, jsonb, pgTable, real, serial, text, timestamp, uniqueIndex } from "drizzle-orm/pg-core";
import type { EncodingName } from "../core/colour/encodings";
import type { Depth } from "../core/image/image";
import type { Look } from "../core/look/look";
import type { Profile } from "../core/profile/profiles";

const created = timestamp("created_at", { withTimezone: true }).notNull().defaultNow();

export const productions = pgTable("productions", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  created,
});

/** Frames as they came in; never modified. */
export const footage = pgTable("footage", {
  id: text("id").primaryKey(),
  /** Folder under the data root. */
  folder: text("folder").notNull(),
  /** File name, with %04d where the frame number stands. */
  pattern: text("pattern").notNull(),
  frames: jsonb("frames").$type<number[]>().notNull(),
  width: integer("width").notNull(),
  height: integer("height").notNull(),
  depth: text("depth").$type<Depth>().notNull(),
  format: text("format").notNull(),
  created,
});

export const shots = pgTable("shots", {
  id: text("id").primaryKey(),
  productionId: text("production_id").notNull().references(() => productions.id),
  footageId: text("footage_id").notNull().references(() => footage.id),
  name: text("name").notNull(),
  encoding: text("encoding").$type<EncodingName>().notNull(),
  encodingReason: text("encoding_reason").notNull(),
  /** mm */
  sensorWidth: real("sensor_width").notNull(),
  sensorHeight: real("sensor_height").notNull(),
  frameRate: real("frame_rate").notNull().default(24),
  position: integer("position").notNull().default(0),
  created,
});

export const profiles = pgTable("profiles", {
  id: text("id").primaryKey(),
  kind: text("kind").$type<"lens" | "filter">().notNull(),
  name: text("name").notNull(),
  body: jsonb("body").$type<Profile>().notNull(),
  created,
});

/** The look a shot has now; it changes with every movement of a control. */
export const looks = pgTable("looks", {
  shotId: text("shot_id").primaryKey().references(() => shots.id),
  body: jsonb("body").$type<Look>().notNull(),
  updated: timestamp("updated_at", { withTimezone: true }).notNull().defaultNow(),
});

/** Kept looks of a shot, numbered from 1. */
export const versions = pgTable(
  "versions",
  {
    id: serial("id").primaryKey(),
    shotId: text("shot_id").notNull().references(() => shots.id),
    number: integer("number").notNull(),
    name: text("name").notNull(),
    body: jsonb("body").$type<Look>().notNull(),
    created,
  },
  (table) => [uniqueIndex("versions_shot_number").on(table.shotId, table.number)],
);

export type RenderState = "queued" | "running" | "done" | "failed" | "cancelled";

export const renders = pgTable("renders", {
  id: serial("id").primaryKey(),
  shotId: text("shot_id").notNull().references(() => shots.id),
  versionName: text("version_name").notNull(),
  look: jsonb("look").$type<Look>().notNull(),
  format: text("format").$type<"exr" | "png">().notNull(),
  depth: text("depth").$type<"half" | "float" | "8" | "16">().notNull(),
  frames: jsonb("frames").$type<number[]>().notNull(),
  state: text("state").$type<RenderState>().notNull().default("queued"),
  done: integer("done").notNull().default(0),
  failed: jsonb("failed").$type<{ frame: number; reason: string }[]>().notNull().default([]),
  framesPerSecond: real("frames_per_second"),
  folder: text("folder").notNull(),
  created,
  started: timestamp("started_at", { withTimezone: true }),
  ended: timestamp("ended_at", { withTimezone: true }),
});
