/** Renders, as they are ordered and as they are made. */
import { sql } from "drizzle-orm";
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
  timestamp,
} from "drizzle-orm/pg-core";
import type { OwnEncoding } from "../../core/colour/own-encoding";
import type { Ranges } from "../../core/frame/ranges";
import type { Depth } from "../../core/image/image";
import type { Look } from "../../core/look/look";
import type { Profile } from "../../core/profile/profiles";
import { summary, madeBy, created } from "./columns";
import { footage } from "./footage";
import { shots } from "./footage";

/** A shot with its footage, as they stood. */
export interface KeptShot {
  shot: typeof shots.$inferSelect;
  footage: typeof footage.$inferSelect;
}

/** What a render takes by name, as it was when it was queued: what changes later changes nothing of it. */
export interface RenderSnapshot {
  /** The shot itself, and those laid over it by the names the look knows them under; left out in renders of before. */
  own?: KeptShot;
  plates?: ({ name: string } & KeptShot)[];
  profiles: Profile[];
  encodings: OwnEncoding[];
  tables: { id: string; file: string; text: string }[];
  /** Name of the encoding the shot was read in. */
  encoding: string;
}

/** What of an EXR's file goes on beside its picture. */
export interface CarriedOn {
  layers: "keep" | "warp" | "drop";
  /** Light beyond the frame: all there is, or none. */
  overscan: "keep" | "crop";
}

export type RenderState = "queued" | "running" | "done" | "failed" | "cancelled";

/** Ways in which shots are delivered, each under its name. */
export const deliveries = pgTable("deliveries", {
  id: serial("id").primaryKey(),
  name: text("name").notNull().unique(),
  body: jsonb("body").$type<unknown>().notNull(),
  created,
});

export const renders = pgTable("renders", {
  id: serial("id").primaryKey(),
  /** The shot it was made of; it may be gone since: what was rendered stays. */
  shotId: text("shot_id").notNull(),
  /** The production its shot was in, which may be gone since. */
  productionId: text("production_id"),
  versionName: text("version_name").notNull(),
  /** What its files' names begin with; null for the shot's id, in renders of before. */
  stem: text("stem"),
  look: jsonb("look").$type<Look>().notNull(),
  summary,
  /** Extension of the files, without its dot. */
  format: text("format").notNull(),
  depth: text("depth").$type<Depth>().notNull(),
  compression: text("compression"),
  /** Name of the encoding written; null for the look's view, or working light in EXR. */
  encoding: text("encoding"),
  frames: jsonb("frames").$type<Ranges>().notNull(),
  /** Of the shot, frames a second. */
  frameRate: real("frame_rate").notNull().default(24),
  /** Null in renders of before it could be said: layers moved as the picture is, nothing beyond the frame. */
  carried: jsonb("carried").$type<CarriedOn>(),
  /** What is written beside its frames. */
  besides: jsonb("besides").$type<("table" | "maps" | "sheet")[]>().notNull().default([]),
  /** Words burnt into its frames; null for none. */
  slate: text("slate"),
  /** What of the footage's files does not go on into its own, in words. */
  losses: jsonb("losses").$type<string[]>().notNull().default([]),
  /** What the look and the shot named when it was queued; null for renders of before there was one. */
  snapshot: jsonb("snapshot").$type<RenderSnapshot>(),
  state: text("state").$type<RenderState>().notNull().default("queued"),
  /** No further frame of it is begun until it is gone on with. */
  paused: boolean("paused").notNull().default(false),
  /** Those with a higher one are made first; alike, the older. */
  priority: integer("priority").notNull().default(0),
  /** Version of the engine it was queued for; null for any, in renders of before. */
  engine: integer("engine"),
  /** Frames, of renders of before there were portions; of others it is counted by them. */
  done: integer("done").notNull().default(0),
  failed: jsonb("failed").$type<{ frame: number; reason: string }[]>().notNull().default([]),
  /** Of those that have ended; while one is made, it is what its workers say. */
  framesPerSecond: real("frames_per_second"),
  folder: text("folder").notNull(),
  madeBy,
  created,
  started: timestamp("started_at", { withTimezone: true }),
  ended: timestamp("ended_at", { withTimezone: true }),
});

/** A file that was read for a render, by the first frame that lies in it. */
export interface ReadFile {
  frame: number;
  name: string;
  sha256: string;
}

/** Files that were read for frames of a render: its own footage's, and those of each plate, in their order. */
export interface ReadFiles {
  input: ReadFile[];
  plates: ReadFile[][];
}

/** Frames of a render that one worker makes at a time, and what ends the render when all of them are made. */
export const portions = pgTable(
  "portions",
  {
    id: serial("id").primaryKey(),
    renderId: integer("render_id")
      .notNull()
      .references(() => renders.id, { onDelete: "cascade" }),
    kind: text("kind").$type<"frames" | "close">().notNull(),
    /** Empty for what ends the render. */
    frames: jsonb("frames").$type<Ranges>().notNull(),
    state: text("state").$type<"open" | "leased" | "done">().notNull().default("open"),
    /** Whose it is while it is leased. */
    workerId: text("worker_id"),
    /** Its worker must be heard before; else another takes it. */
    leasedUntil: timestamp("leased_until", { withTimezone: true }),
    /** Leases since the last frame of it that was made. */
    attempts: integer("attempts").notNull().default(0),
    /** Frames of it that are made. */
    made: integer("made").notNull().default(0),
    /** Of those that are done. */
    read: jsonb("read").$type<ReadFiles>(),
  },
  (table) => [
    index("portions_render").on(table.renderId),
    index("portions_to_do")
      .on(table.renderId, table.id)
      .where(sql`state <> 'done'`),
    index("portions_held")
      .on(table.workerId)
      .where(sql`state = 'leased'`),
  ],
);

/** What became of each frame of a render; a frame has one line, whoever made it. */
export const renderedFrames = pgTable(
  "rendered_frames",
  {
    renderId: integer("render_id")
      .notNull()
      .references(() => renders.id, { onDelete: "cascade" }),
    frame: integer("frame").notNull(),
    /** Null for one that failed, and where all frames lie in one file; so are the next three. */
    file: text("file"),
    recipe: text("recipe"),
    bytes: integer("bytes"),
    sha256: text("sha256"),
    /** Why it is not there; null for one that is. */
    reason: text("reason"),
  },
  (table) => [primaryKey({ columns: [table.renderId, table.frame] })],
);

/** Programs that make frames, as they said last. */
export const workers = pgTable("workers", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  host: text("host").notNull(),
  pid: integer("pid").notNull(),
  /** Versions of the program and of its engine. */
  program: text("program").notNull(),
  engine: integer("engine").notNull(),
  /** It takes no more work. */
  draining: boolean("draining").notNull().default(false),
  /** What it makes frames of; null while it waits. */
  renderId: integer("render_id"),
  /** Made since it was started. */
  frames: integer("frames").notNull().default(0),
  framesPerSecond: real("frames_per_second"),
  started: timestamp("started_at", { withTimezone: true }).notNull().defaultNow(),
  heard: timestamp("heard_at", { withTimezone: true }).notNull().defaultNow(),
});
