import type { Correction } from "../../core/colour/correction";
import type { EncodingBody } from "../../store/schema/schema";
import type { SharedText } from "./shared-text";
import type { TableMade, TableWanted } from "../../contract/export";
import type { Profile } from "../../core/profile/profiles";
import type { Overscan } from "../../core/image/overscan";
import type { Look } from "../../core/look/look";
import type { Cleaned } from "../../core/image/clean";
import type { Depth } from "../../core/image/image";
import type { Samples } from "../../core/image/samples";
import type { FrameFile } from "../footage/source";

/** What threads that read pictures are asked, and what they answer. Plain data: it goes from thread to thread. */

/**
 * An encoding by its name, or what the user made of one, a table's text apart; `revision` changes when what it does
 * changes.
 */
export interface EncodingOrder {
  revision: string;
  encoding: string | { body: EncodingBody; text?: SharedText };
}

/** A table's text; `revision` changes when what it does changes. */
export interface TableText {
  file: string;
  revision: string;
  text: SharedText;
}
/** A table that a look is seen through, by the id the look knows it under. */
export type ViewTable = TableText & { id: string };

/** Light, or distance along the axis (m, in every lane). */
export type PlaneName = "light" | "depth";

/** A frame as it was read: RGBA float32, rows from the top. */
export interface ReadFrame {
  width: number;
  height: number;
  data: Float32Array;
  hasDepth: boolean;
  /** What its file held that is no light. */
  cleaned: Cleaned;
  /** As much of width and height lies around what is shown. */
  overscan?: Overscan;
  /** Its samples are halves, as they came in the file. */
  isHalf: boolean;
  /** As it is sent where the file holds whole numbers: its code values. */
  codes?: Samples;
}

/** The same in memory that threads share. */
export interface SharedFrame extends ReadFrame {
  data: Float32Array<SharedArrayBuffer>;
}

export interface Task {
  /**
   * A frame whole, and as it is sent: made smaller where `divide` is above 1, what lies around it with it or not;
   * `whole` where it has been read before.
   */
  frame: {
    file: FrameFile;
    encoding: EncodingOrder;
    plane: PlaneName;
    divide: number;
    overscan: boolean;
    whole?: SharedFrame;
  };
  /** A JPEG about `width` pixels wide. */
  thumbnail: { file: FrameFile; encoding: EncodingOrder; width: number; whole?: SharedFrame };
  /** What a file is, by reading it whole. `name`: what it is called in messages. */
  check: { path: string; name: string };
  /** The tonal part of a look as a table, measured over a frame. */
  table: {
    file: FrameFile;
    encoding: EncodingOrder;
    input: EncodingOrder;
    look: Look;
    profiles: Profile[];
    tables: ViewTable[];
    wanted: Omit<TableWanted, "look" | "input">;
  };
  /** A table's text read. */
  transform: { table: TableText };
  /** ASC CDL read. */
  corrections: { file: string; text: string };
  /** Working light of grey code values. */
  ramp: { encoding: EncodingOrder };
  /** A rendered frame as a display shows it; working light goes through the look's view. */
  rendered: {
    file: FrameFile;
    look: Look | null;
    tables: ViewTable[];
    frame: number;
  };
}

export interface Checked {
  width: number;
  height: number;
  depth: Depth;
  format: string;
  channels: string[];
  parts?: string[];
  framesPerSecond?: number;
  timeCode?: string;
  /** Width of a pixel over its height as it is shown. */
  pixelAspect?: number;
  /** Frames in the file. */
  frames: number;
  bytes: number;
  encoding: string;
  reason: string;
}

/** A frame in the fewest bytes that keep it exact, and whether the footage says how far things are. */
export interface Sent {
  samples: Samples;
  hasDepth: boolean;
  cleaned: Cleaned;
  overscan?: Overscan;
}

export interface Done {
  /** `whole`: to make other sizes from; left out where that would cost more than reading it again. */
  frame: { whole?: SharedFrame; sent: Sent };
  thumbnail: Uint8Array<ArrayBuffer>;
  check: Checked;
  table: TableMade;
  /** Its name, and its steps as JSON. */
  transform: { name: string; json: Uint8Array<ArrayBuffer> };
  corrections: Correction[];
  ramp: { codes: number[]; light: number[] };
  rendered: { width: number; height: number; codes: Uint8Array<ArrayBuffer> };
}

export type Kind = keyof Task;
export type Order = { [K in Kind]: { kind: K; task: Task[K] } }[Kind];
export type Answer = { done: Done[Kind] } | { failed: { file: string; reason: string } } | { broken: string };
