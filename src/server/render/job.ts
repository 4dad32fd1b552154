import type { Encoding, EncodingName } from "../../core/colour/encodings";
import type { OwnEncoding } from "../../core/colour/own-encoding";
import type { Ranges } from "../../core/frame/ranges";
import type { Depth } from "../../core/image/image";
import type { Look } from "../../core/look/look";
import type { Cabinet } from "../../core/profile/profiles";
import type { Choice } from "../../formats/format";
import type { Pattern } from "../footage/sequence";
import type { GapPolicy, Source } from "../footage/source";
import type { Ledger } from "./ledger";
import type { Sink } from "./output";

/** Footage that may be laid over a shot. */
export interface PlateFootage {
  source: Source;
  /** The frames of it that are laid: of a shot, from its in to its out. */
  frames: Ranges;
  choice?: Choice;
  gaps?: GapPolicy;
  encoding: Encoding;
}

/** Frames of more pixels than this are computed one at a time. */
export const LARGE = 4 * 2 ** 20;

export const LAYER_POLICIES = ["keep", "warp", "drop"] as const;
export type LayerPolicy = (typeof LAYER_POLICIES)[number];

/** An encoding by its name, or one of the user's own, whole. */
export type EncodingText = EncodingName | OwnEncoding;

/** What a job's encodings and tables are as data, which the job itself holds as functions. */
export interface RecipeTexts {
  inEncoding: EncodingText;
  outEncoding: EncodingText | null;
  tables: { id: string; file: string; text: string }[];
  plateEncodings: ReadonlyMap<string, EncodingText>;
}

export interface RenderJob {
  look: Look;
  /** By the names looks know them under. */
  plates?: ReadonlyMap<string, PlateFootage>;
  cabinet: Cabinet;
  source: Source;
  choice?: Choice;
  gaps?: GapPolicy;
  frames: Ranges;
  /** Those of them that are made now; what stands beside all of them is left to whoever makes the last. Default: all. */
  portion?: Ranges;
  /** The shot they are of, from its in to its out: what is counted from a first frame is counted from this one's. */
  shot: Ranges;
  /** Where a frame goes, by its number; one file for all where the sink holds them so. */
  output: Pattern;
  inEncoding: Encoding;
  /** Null: the look's view, or working light in EXR. */
  outEncoding: Encoding | null;
  depth: Depth;
  compression?: string;
  framesPerSecond?: number;
  /**
   * Light that the footage holds beyond the frame goes out too, where the format has a place for it: on each side as
   * much of the frame's width as this says, as far as it is there. Default: none.
   */
  overscan?: number;
  /** What becomes of the footage's other layers: as they are, moved as the picture is, or left. Default: left. */
  layers?: LayerPolicy;
  /** Words burnt into frames that are looked at (core/slate), what frames differ in not filled in. Default: none. */
  slate?: string;
  /** Size of the output over that of the input. */
  scale: number;
  resume: boolean;
  /** What the recipe beside the render says that the job holds as functions. Default: no recipe is written. */
  texts?: RecipeTexts;
  sink?: Sink;
  /** What is made already. Default: what the folder says. */
  ledger?: Ledger;
}
