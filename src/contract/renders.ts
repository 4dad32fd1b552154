import { z } from "zod";
import { MAX_FRAME, type Ranges } from "../core/frame/ranges";
import { type Depth, DEPTHS } from "../core/image/image";
import { slateProblem, SLATE_TOKENS } from "../core/slate/slate";
import { type Look, lookSchema } from "../core/look/look";

export type RenderState = "queued" | "running" | "done" | "failed" | "cancelled";

/** A render as it is listed: without its look, but with the look's view. */
export interface ListedRender {
  id: number;
  shotId: string;
  /** Null where it is not known. */
  productionId: string | null;
  versionName: string;
  view: Look["view"];
  /** Extension of its files. */
  format: string;
  depth: Depth;
  compression: string | null;
  /** Name of the encoding written; null for the look's view, or working light in EXR. */
  encoding: string | null;
  frames: Ranges;
  /** Of the shot, frames a second. */
  frameRate: number;
  state: RenderState;
  /** No further frame is begun until it is gone on with. */
  paused: boolean;
  /** Those with a higher one are made first; alike, the older. */
  priority: number;
  /** Frames. */
  done: number;
  failed: { frame: number; reason: string }[];
  /** What of the footage's files does not go on into its own, in words. */
  losses: string[];
  /** As it renders. */
  framesPerSecond: number | null;
  folder: string;
  /** Who made it; null where nobody had to say. */
  madeBy: string | null;
  /** Movies that were made of it, by their kinds. */
  movies: string[];
}

/** GET /api/renders/ID/frames: those that are there to be looked at. */
export interface FramesMade {
  made: Ranges;
}

/** Movies that browsers make of a render's frames, by extension, with their media types. */
export const BROWSER_MOVIES = { mp4: "video/mp4", webm: "video/webm" } as const;
export type BrowserMovie = keyof typeof BROWSER_MOVIES;
/** All movies that may lie in a render's folder. */
export const MOVIE_TYPES = {
  ...BROWSER_MOVIES,
  mov: "video/quicktime",
  mxf: "application/mxf",
  mkv: "video/x-matroska",
} as const;
export type MovieExtension = keyof typeof MOVIE_TYPES;

interface OrderedFormat {
  format: string;
  depth: Depth;
  compression?: string;
}

/** What can be ordered: extension, depth and compression, by the name it is offered under. */
export const RENDER_FORMATS = {
  "EXR half, ZIP": { format: "exr", depth: "half", compression: "ZIP" },
  "EXR half, ZIPS": { format: "exr", depth: "half", compression: "ZIPS" },
  "EXR half, PIZ": { format: "exr", depth: "half", compression: "PIZ" },
  "EXR half, DWAA": { format: "exr", depth: "half", compression: "DWAA" },
  "EXR float, ZIP": { format: "exr", depth: "float", compression: "ZIP" },
  "DPX 10 bits": { format: "dpx", depth: "10" },
  "DPX 12 bits": { format: "dpx", depth: "12" },
  "DPX 16 bits": { format: "dpx", depth: "16" },
  "TIFF 16 bits": { format: "tif", depth: "16" },
  "TIFF float": { format: "tif", depth: "float" },
  "PNG 16 bits": { format: "png", depth: "16" },
  "PNG 8 bits": { format: "png", depth: "8" },
  "Y4M 10 bits, 4:4:4": { format: "y4m", depth: "10", compression: "444" },
} as const satisfies Record<string, OrderedFormat>;

/** Movies that the server makes where it has ffmpeg. */
export const RENDER_MOVIES = {
  "ProRes 422 HQ, MOV": { format: "mov", depth: "10", compression: "prores-422-hq" },
  "ProRes 4444, MOV": { format: "mov", depth: "10", compression: "prores-4444" },
  "DNxHR HQX, MXF": { format: "mxf", depth: "10", compression: "dnxhr-hqx" },
  "DNxHR HQX, MOV": { format: "mov", depth: "10", compression: "dnxhr-hqx" },
  "H.264 8 bits, MP4": { format: "mp4", depth: "8", compression: "h264" },
  "H.264 10 bits, MP4": { format: "mp4", depth: "10", compression: "h264" },
  "HEVC 8 bits, MP4": { format: "mp4", depth: "8", compression: "hevc" },
  "HEVC 10 bits, MP4": { format: "mp4", depth: "10", compression: "hevc" },
  "FFV1 10 bits, MKV": { format: "mkv", depth: "10", compression: "ffv1" },
} as const satisfies Record<string, OrderedFormat>;

const RENDER_EXTENSIONS = [
  ...new Set([...Object.values(RENDER_FORMATS), ...Object.values(RENDER_MOVIES)].map(({ format }) => format)),
];

/** What goes on of footage's files beside the picture. */
export const carriedSchema = z
  .object({
    layers: z.enum(["keep", "warp", "drop"]).default("warp").describe("an EXR’s other layers"),
    overscan: z.enum(["keep", "crop"]).default("crop").describe("light beyond the frame, in EXR"),
  })
  .strict();

/** What goes along with the frames, by its name, and in words. */
export const BESIDES = {
  table: "a table (.cube)",
  maps: "distortion maps (EXR)",
  sheet: "the glass sheet (HTML)",
} as const;
export type Beside = keyof typeof BESIDES;

export const besidesSchema = z
  .array(z.enum(Object.keys(BESIDES) as [Beside]))
  .max(Object.keys(BESIDES).length)
  .describe("what is written beside the frames; their recipe always is");

/** Words burnt into frames that are looked at. */
export const slateSchema = z
  .string()
  .superRefine((slate, context) => {
    const problem = slateProblem(slate);
    if (problem) context.addIssue({ code: "custom", message: problem });
  })
  .describe(
    `a line burnt into pictures for a display, not into EXR or log: ${SLATE_TOKENS.map((token) => `{${token}}`).join(", ")} are filled in`,
  );

/** Where a render's folder lies, for people: under the data folder, or under a root by its name. */
export const folderLabel = (folder: string): string => {
  const [, root, below] = /^root:([^/]+)\/(.*)$/.exec(folder) ?? [];
  return root ? `${root}: ${below}` : `renders/${folder}`;
};

const MAX_DEPTH = 12;

/** A folder under a root that renders may be written to; each render has one of its own in it. */
export const placeSchema = z
  .object({
    root: z.string().min(1).max(40).describe("one of those that GET /api/formats names"),
    folder: z
      .string()
      .trim()
      .max(200)
      .default("")
      .refine(
        (path) =>
          path === "" ||
          (path.split("/").length <= MAX_DEPTH &&
            path.split("/").every((name) => name !== "" && !name.startsWith(".") && !/[\\\0]/.test(name))),
        "is names of folders with / between them, none of which begins with a point",
      )
      .describe("below it, for example reel 2/v3"),
  })
  .strict();
export type RenderPlace = z.output<typeof placeSchema>;

/** POST /api/renders: formats, depths and compressions are held against what the formats write by the server. */
export const renderBody = z
  .object({
    shotId: z.string().max(80),
    versionName: z.string().min(1).max(120),
    look: lookSchema,
    format: z.enum(RENDER_EXTENSIONS),
    depth: z.enum(DEPTHS),
    compression: z.string().max(20).optional(),
    encoding: z.string().min(1).max(120).nullable().default(null),
    carried: carriedSchema.optional(),
    slate: slateSchema.nullable().default(null),
    besides: besidesSchema.default([]),
    into: placeSchema.nullable().optional(),
    first: z.number().int().nonnegative().max(MAX_FRAME),
    last: z.number().int().nonnegative().max(MAX_FRAME),
  })
  .strict();
export type RenderOrder = z.infer<typeof renderBody>;
