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
  uniqueIndex,
} from "drizzle-orm/pg-core";
import { sql } from "drizzle-orm";
import type { OwnEncoding, TableEncoding } from "../core/colour/own-encoding";
import type { Gaps } from "../core/frame/gaps";
import type { Ranges } from "../core/frame/ranges";
import type { Depth } from "../core/image/image";
import type { DepthPlate } from "../core/frame/depth-plate";
import type { Look } from "../core/look/look";
import type { LookSummary } from "../core/look/summary";
import type { Profile } from "../core/profile/profiles";

/** Raised with every change; a change made to an older one is refused. */
const revision = integer("revision").notNull().default(1);
/** Of the look beside it; null until it was read by this version of the program. */
const summary = jsonb("summary").$type<LookSummary>();
/** Who made it; null where nobody had to say. */
const madeBy = text("made_by");
const created = timestamp("created_at", { withTimezone: true }).notNull().defaultNow();

export const productions = pgTable("productions", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  created,
});

/** Frames as they came in; never modified. */
export const footage = pgTable("footage", {
  id: text("id").primaryKey(),
  /** Folder under the data root; an absolute one lies under a footage root and is used where it is. */
  folder: text("folder").notNull(),
  /** File name, with %04d where the frame number stands. */
  pattern: text("pattern").notNull(),
  frames: jsonb("frames").$type<Ranges>().notNull(),
  width: integer("width").notNull(),
  height: integer("height").notNull(),
  depth: text("depth").$type<Depth>().notNull(),
  format: text("format").notNull(),
  channels: jsonb("channels").$type<string[]>().notNull().default([]),
  /** What the files say, frames a second. */
  framesPerSecond: real("frames_per_second"),
  timeCode: text("time_code"),
  /** Part and layer of files that hold several pictures. */
  part: text("part"),
  layer: text("layer"),
  created,
});

export const shots = pgTable("shots", {
  id: text("id").primaryKey(),
  productionId: text("production_id")
    .notNull()
    .references(() => productions.id),
  footageId: text("footage_id")
    .notNull()
    .references(() => footage.id),
  name: text("name").notNull(),
  /** Name of an encoding, or id of one the user made. */
  encoding: text("encoding").notNull(),
  encodingReason: text("encoding_reason").notNull(),
  /** mm */
  sensorWidth: real("sensor_width").notNull(),
  sensorHeight: real("sensor_height").notNull(),
  squeeze: real("squeeze").notNull().default(1),
  /** The squeeze is already undone in the frames. */
  desqueezed: boolean("desqueezed").notNull().default(false),
  frameRate: real("frame_rate").notNull().default(24),
  /** First and last frame in use; the footage's own where left open. */
  firstFrame: integer("first_frame"),
  lastFrame: integer("last_frame"),
  gaps: text("gaps").$type<Gaps>().notNull().default("hold"),
  /** Name of the channel that holds depth, where it is not the usual one. */
  depthChannel: text("depth_channel"),
  /** Other footage that holds distances, in place of a depth channel. */
  depth: jsonb("depth").$type<DepthPlate>(),
  notes: text("notes").notNull().default(""),
  position: integer("position").notNull().default(0),
  revision,
  created,
});

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

/** Who may come in. Where there is anybody, everybody has to say who they are. */
export const users = pgTable("users", {
  name: text("name").primaryKey(),
  /** As scrypt made it, with its salt and cost. */
  passphrase: text("passphrase").notNull(),
  /** Sessions that were begun before have ended. */
  sessionsFrom: timestamp("sessions_from", { withTimezone: true }).notNull().defaultNow(),
  created,
});

/** What programs come in with, for a user each. */
export const tokens = pgTable("tokens", {
  id: text("id").primaryKey(),
  userName: text("user_name")
    .notNull()
    .references(() => users.name, { onDelete: "cascade" }),
  label: text("label").notNull(),
  /** SHA-256 of it; the token itself is not kept. */
  digest: text("digest").notNull().unique(),
  created,
});

/** What the program itself keeps, by name. */
export const settings = pgTable("settings", {
  name: text("name").primaryKey(),
  value: text("value").notNull(),
});

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
