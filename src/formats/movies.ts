import { extname } from "node:path";
import type { Depth } from "../core/image/image";
import type { FormatDescription } from "./format";

/** Movies that are written through ffmpeg: what each coding is made of, and what each container holds. */

export interface MovieCoding {
  /** How chroma is kept, and the depths it is coded in, the usual one first. */
  chroma: "420" | "422" | "444";
  depths: ("8" | "10")[];
  /** What ffmpeg's encoder is told, of a depth. */
  encoder(depth: Depth): string[];
}

/** At constant quality: nothing is seen of the coding at 1:1. */
const CONSTANT_QUALITY = ["-crf", "14", "-preset", "medium"];
const planar = (chroma: MovieCoding["chroma"], depth: Depth) => `yuv${chroma}p${depth === "10" ? "10le" : ""}`;

export const MOVIE_CODINGS = {
  "prores-422-hq": {
    chroma: "422",
    depths: ["10"],
    encoder: (depth) => ["prores_ks", "-profile:v", "3", "-pix_fmt", planar("422", depth)],
  },
  "prores-4444": {
    chroma: "444",
    depths: ["10"],
    encoder: (depth) => ["prores_ks", "-profile:v", "4", "-pix_fmt", planar("444", depth)],
  },
  "dnxhr-hqx": {
    chroma: "422",
    depths: ["10"],
    encoder: (depth) => ["dnxhd", "-profile:v", "dnxhr_hqx", "-pix_fmt", planar("422", depth)],
  },
  h264: {
    chroma: "420",
    depths: ["8", "10"],
    encoder: (depth) => ["libx264", ...CONSTANT_QUALITY, "-pix_fmt", planar("420", depth)],
  },
  hevc: {
    chroma: "420",
    depths: ["8", "10"],
    encoder: (depth) => [
      ...["libx265", ...CONSTANT_QUALITY, "-x265-params", "log-level=error"],
      ...["-tag:v", "hvc1", "-pix_fmt", planar("420", depth)],
    ],
  },
  ffv1: {
    chroma: "444",
    depths: ["10", "8"],
    encoder: (depth) => ["ffv1", "-level", "3", "-g", "1", "-slicecrc", "1", "-pix_fmt", planar("444", depth)],
  },
} as const satisfies Record<string, MovieCoding>;
export type MovieCodingName = keyof typeof MOVIE_CODINGS;

/** A container that movies are written into. */
export interface MovieContainer extends FormatDescription {
  /** ffmpeg's name of it. */
  muxer: string;
  compressions: MovieCodingName[];
  /** Codings of sound that go into it as they are; any other is coded anew, as the last words say. */
  sound: { holds: RegExp; else: string[]; called: string };
  /** It has a place for the reel's name, and for the shape of a pixel. */
  keepsReel: boolean;
  keepsAspect: boolean;
}

const READ: Depth[] = ["8", "10", "12", "16"];
const PCM = { else: ["pcm_s24le"], called: "PCM of 24 bits" };
const described = { read: READ, write: ["10", "8"] as Depth[], alpha: "none" as const };
const THROUGH = "Through ffmpeg where it is installed";

export const MOVIE_CONTAINERS: MovieContainer[] = [
  {
    ...described,
    name: "MOV",
    extensions: [".mov"],
    muxer: "mov",
    compressions: ["prores-422-hq", "prores-4444", "dnxhr-hqx", "h264", "hevc"],
    sound: { holds: /^(pcm_|aac|alac|mp3|ac3|eac3)/, ...PCM },
    keepsReel: true,
    keepsAspect: true,
    note: `${THROUGH}: ProRes, DNxHR, CineForm, H.264, HEVC and whatever else it decodes; interlaced frames as one picture each`,
  },
  {
    ...described,
    name: "MP4",
    extensions: [".mp4", ".m4v"],
    muxer: "mp4",
    compressions: ["h264", "hevc"],
    sound: { holds: /^(aac|alac|mp3|ac3|eac3)/, else: ["aac", "-b:a", "320k"], called: "AAC" },
    keepsReel: false,
    keepsAspect: true,
    note: `${THROUGH}: H.264, HEVC, AV1 and whatever else it decodes`,
  },
  {
    ...described,
    name: "MXF",
    extensions: [".mxf"],
    muxer: "mxf",
    compressions: ["dnxhr-hqx"],
    sound: { holds: /^pcm_s(16|24)le$/, ...PCM },
    keepsReel: false,
    keepsAspect: false,
    note: THROUGH,
  },
  {
    ...described,
    name: "MKV",
    extensions: [".mkv"],
    muxer: "matroska",
    compressions: ["ffv1", "h264", "hevc"],
    sound: { holds: /./, ...PCM },
    keepsReel: true,
    keepsAspect: true,
    note: `${THROUGH}; FFV1 loses nothing`,
  },
  ...[
    { name: "WebM", extensions: [".webm"] },
    { name: "AVI", extensions: [".avi"] },
    { name: "MPEG-TS", extensions: [".ts", ".m2ts", ".mts"] },
  ].map((one) => ({
    ...described,
    ...one,
    write: [],
    muxer: "",
    compressions: [],
    sound: { holds: /./, ...PCM },
    keepsReel: false,
    keepsAspect: false,
    note: `Read ${THROUGH.toLowerCase()}`,
  })),
];

export const containerOf = (file: string): MovieContainer | undefined =>
  MOVIE_CONTAINERS.find(({ extensions }) => extensions.includes(extname(file).toLowerCase()));

/** The coding a movie's file is written in: the one named, or its container's usual one. */
export function codingFor(file: string, named: string | undefined): MovieCoding {
  const { compressions } = containerOf(file)!;
  return MOVIE_CODINGS[compressions.find((one) => one === named) ?? compressions[0]!];
}
