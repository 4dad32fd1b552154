/** Productions, their footage and shots. */
import { boolean, integer, jsonb, pgTable, real, text } from "drizzle-orm/pg-core";
import type { Gaps } from "../../core/frame/gaps";
import type { Ranges } from "../../core/frame/ranges";
import type { Depth } from "../../core/image/image";
import type { DepthPlate } from "../../core/frame/depth-plate";
import { revision, created } from "./columns";

export const productions = pgTable("productions", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  /** Put away: its shots are not listed until it is taken up again. */
  archived: boolean("archived").notNull().default(false),
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
