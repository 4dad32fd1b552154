import { sensorSideSchema, squeezeSchema } from "../core/frame/camera";
import { z } from "zod";
import { type DepthPlate, depthPlateSchema } from "../core/frame/depth-plate";
import { GAPS, type Gaps } from "../core/frame/gaps";
import { MAX_FRAME, type Ranges } from "../core/frame/ranges";
import type { Depth } from "../core/image/image";
import type { LensRow } from "../core/when/lens-data";
import type { ListedVersion } from "./versions";

/** Frames as they came in. */
export interface Footage {
  id: string;
  pattern: string;
  frames: Ranges;
  /** px */
  width: number;
  height: number;
  depth: Depth;
  format: string;
  channels: string[];
  timeCode: string | null;
}

/** A shot, with its footage and production. */
export interface Shot {
  id: string;
  name: string;
  footageId: string;
  /** Name of an encoding, or id of one the user made; and why it is that one. */
  encoding: string;
  encodingReason: string;
  /** mm */
  sensorWidth: number;
  sensorHeight: number;
  squeeze: number;
  /** The squeeze is already undone in the frames. */
  desqueezed: boolean;
  /** Frames a second. */
  frameRate: number;
  /** First and last frame in use; the footage's own where left open. */
  firstFrame: number | null;
  lastFrame: number | null;
  gaps: Gaps;
  /** Name of the channel that holds depth, where it is not the usual one. */
  depthChannel: string | null;
  /** Other footage that holds distances, in place of a depth channel. */
  depth: DepthPlate | null;
  notes: string;
  /** Raised with every change. */
  revision: number;
  footage: Footage;
  production: { id: string; name: string };
  /** The frames in use, from in to out; missing ones count where something stands in for them. */
  frames: Ranges;
  /** How much of it is there, 0 to 1. */
  progress: number;
  /** The frames that are there, while others are being made. Left out: all. */
  made?: Ranges;
  /** Whether the footage says how far things are. */
  hasDepth: boolean;
}

/** A shot with the looks that were kept of it; the one it wears is told by itself. */
export interface ShotDetail extends Shot {
  versions: ListedVersion[];
}

const MAX_ID_LENGTH = 80;
const frameNumber = z.number().int().nonnegative().max(MAX_FRAME).nullable();

export const shotChangeSchema = z
  .object({
    name: z.string().trim().min(1).max(120),
    encoding: z.string().min(1).max(120),
    sensorWidth: sensorSideSchema,
    sensorHeight: sensorSideSchema,
    squeeze: squeezeSchema,
    desqueezed: z.boolean(),
    frameRate: z.number().positive().max(1000),
    firstFrame: frameNumber,
    lastFrame: frameNumber,
    gaps: z.enum(GAPS),
    depthChannel: z.string().max(255).nullable(),
    depth: depthPlateSchema.nullable(),
    notes: z.string().max(10_000),
    productionId: z.string().min(1).max(MAX_ID_LENGTH).describe("id of the production they go into"),
  })
  .partial()
  .strict();
export type ShotChange = z.infer<typeof shotChangeSchema>;

/** PATCH /api/shots: changes several shots at once, all or none. `revisions`: of the shots as they were seen. */
export const changeShotsBody = z
  .object({
    ids: z.array(z.string().max(MAX_ID_LENGTH)).min(1).max(500),
    change: shotChangeSchema,
    revisions: z.record(z.string().max(MAX_ID_LENGTH), z.number().int().positive()).optional(),
  })
  .strict();

/** The new revisions, by shot. */
export interface ShotsChanged {
  revisions: Record<string, number>;
}

/** How the lens was set on each frame, by the footage's own headers, and the sensor's size, mm. */
export interface RecordedLensData {
  rows: LensRow[];
  sensor: { width: number; height: number } | null;
}

/** What hangs on something that may be removed: said before it is. */
export interface Uses {
  /** Shots whose look, or a version of it, names it: it cannot be removed while they do. */
  usedBy: string[];
  /** What goes with it, in words. */
  goes: string[];
  /** What stays, in words. */
  stays: string[];
}

/** Ids that are made up when footage is taken in say nothing to anybody. */
export const isMadeUpId = (id: string): boolean => /^shot-[0-9a-f]{8}$/.test(id);
