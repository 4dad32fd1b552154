import type { MatrixName } from "../core/colour/yuv";
import type { Alpha, Depth, RawImage } from "../core/image/image";
import type { Notes } from "./notes";

/** What a file's header says of its colour; everything is optional, and none of it is believed blindly. */
export interface ColourTags {
  /** CIE xy of red, green, blue and white. */
  chromaticities?: number[];
  /** Code points of ITU-T H.273, as PNG's cICP and movies carry them. */
  cicp?: { primaries: number; transfer: number; matrix: number; fullRange: boolean };
  /** Encoding exponent of PNG's gAMA: code = light^gamma. */
  gamma?: number;
  /** PNG's sRGB chunk is there. */
  srgb?: boolean;
  /** Description of an embedded ICC profile. */
  icc?: string;
  /** Transfer and colorimetric characteristics of SMPTE 268M. */
  dpx?: { transfer: number; colorimetric: number };
}

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** A picture in a file that holds several. */
export interface PartInfo {
  name: string;
  channels: string[];
  /** Fields of its header. */
  attributes: readonly HeaderAttribute[];
}

/** How a lens was set when a frame was shot: mm, T-stop, m; and the sensor's size, mm. */
export interface RecordedLens {
  focalLength?: number;
  stop?: number;
  focusDistance?: number;
  sensor?: { width: number; height: number };
}

/** A field of an OpenEXR header as it stands in the file. */
export interface HeaderAttribute {
  name: string;
  type: string;
  value: Buffer;
}

/** A DPX file's header and user data as they stand in it. */
export interface DpxHeader {
  bytes: Buffer;
  byteOrder: "big" | "little";
}

/** A format as it is told. */
export interface FormatDescription {
  name: string;
  extensions: string[];
  read: Depth[];
  /** The first is what is written where nothing else is asked for. */
  write: Depth[];
  /** Compressions it can be written with, the usual one first. */
  compressions: string[];
  note: string;
  /** How colour and alpha are kept in it; "none" where it has no alpha. */
  alpha: Alpha | "none";
}

/** What a file says of itself. */
export interface ImageInfo {
  width: number;
  height: number;
  depth: Depth;
  channels: string[];
  /** The channel that holds depth, where there is one. */
  depthChannel?: string;
  compression?: string;
  /** px, inclusive; only where they are part of the format. */
  dataWindow?: Box;
  displayWindow?: Box;
  tile?: { width: number; height: number };
  parts?: PartInfo[];
  /** Which part and layer the picture is; the bare layer is "" (OpenEXR). */
  chosen?: { part: string; layer: string };
  framesPerSecond?: number;
  /** HH:MM:SS:FF of SMPTE ST 12. */
  timeCode?: string;
  /** Name of the reel it was shot on. */
  reel?: string;
  /** How the lens was set, and the sensor, where the file's header says so. */
  lens?: RecordedLens;
  /** Width of a pixel over its height as it is shown, where the file says so. */
  pixelAspect?: number;
  /** All fields of the header (OpenEXR). */
  attributes?: readonly HeaderAttribute[];
  dpxHeader?: DpxHeader;
  /** How a movie's pictures are coded, as ffmpeg names it. */
  coding?: string;
  /** The file says that a frame's lines are of two moments by turns. */
  isInterlaced?: boolean;
  /** Frames in this one file; 1 where left out. */
  frames?: number;
  byteOrder?: "big" | "little";
  tags: ColourTags;
  text: Record<string, string>;
  /** What people wrote of it, where the format has a place for that. */
  notes?: Notes;
  /** What the file does not say and was taken to be, in words. */
  assumed?: string[];
}

/** Said of files whose frames are interlaced, or are marked so: many that are hold pictures of one moment. */
export const TAKEN_AS_ONE = "it is marked as interlaced; each frame is taken as one picture, its lines as they stand";

/** A channel beside the picture's own: a matte, a motion vector, an id. One sample a pixel. */
export interface Layer {
  name: string;
  /** The part of the file it stands in, where that is not the picture's own (OpenEXR). */
  part?: string;
  type: "half" | "float" | "uint";
  data: Float32Array | Uint32Array;
}

export interface Decoded extends RawImage {
  info: ImageInfo;
  /** Other channels of the same picture, where they were asked for; of the size of the pixels, overscan included. */
  layers?: Layer[];
}

/** Which picture of a file: a part and a layer by name (EXR), the name of its depth channel, a frame by index (Y4M). */
export interface Choice {
  part?: string;
  layer?: string;
  depthChannel?: string;
  /** What lies in the file around the display window is read too: as far as it is used (core/image/overscan), or all. */
  overscan?: boolean | "all";
  /** Gives memory for so many samples, which are all written; it may be used again. Default: new memory. */
  memory?: (samples: number) => Float32Array;
  /** Depth is not read, even where there is a channel of it. */
  withoutDepth?: boolean;
  /** Other channels of the picture are read too (OpenEXR). */
  layers?: boolean;
  /** From 0. */
  frame?: number;
  /**
   * What a movie's luma and chroma are made by, and whether its codes use their whole range, whatever the file says
   * (Y4M).
   */
  matrix?: MatrixName;
  range?: "full" | "limited";
}

/** Field that carries the hash of what a picture was made by. */
export const RECIPE_FIELD = "haloRecipe";
/** Field that carries all of a recipe but its footage, as JSON (OpenEXR). */
export const RECIPE_TERMS_FIELD = "haloRecipeTerms";

/** What is written beside the pixels. */
export interface Metadata {
  framesPerSecond?: number;
  timeCode?: string;
  reel?: string;
  lens?: RecordedLens;
  text?: Record<string, string>;
  notes?: Notes;
  tags?: ColourTags;
  pixelAspect?: number;
  /** Fields of another file's header that go on where the format is the same. */
  attributes?: readonly HeaderAttribute[];
  /** Parts of another file by name, the picture's own too: layers say which of them they stand in (OpenEXR). */
  parts?: readonly PartInfo[];
  /** The part that the picture is, by name, where there are several. */
  chosen?: { part: string };
  dpxHeader?: DpxHeader;
  /** px, inclusive: where the picture's pixels lie, and what of them is shown (OpenEXR). Default: both the picture. */
  windows?: { data: Box; display: Box };
}

/**
 * Pixels to write: RGBA floats, code values 0 to 1 for whole-number depths, and the depth plane (m) where there is one.
 */
export interface Picture {
  width: number;
  height: number;
  data: Float32Array;
  /** Whether there is alpha; left out, where any pixel is not opaque. */
  hasAlpha?: boolean;
  z?: Float32Array;
  /** Further channels (OpenEXR). */
  layers?: Layer[];
}

export interface WriteOptions extends Metadata {
  depth: Depth;
  compression?: string;
}
