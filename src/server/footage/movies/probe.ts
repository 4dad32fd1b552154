import { spawnSync } from "node:child_process";
import { statSync } from "node:fs";
import { basename } from "node:path";
import { LRUCache } from "lru-cache";
import { z } from "zod";
import { y4mHeadLine } from "../../../core/image/y4m-head";
import { FileError } from "../../../formats/error";
import { FFPROBE, hasFfmpeg } from "./ffmpeg";
import { type MovieSamples, samplesOf } from "./samples";

/** What ffprobe calls things, and what the Y4M file's parameters do. */
const MATRICES: Record<string, string> = {
  bt709: "BT709",
  smpte170m: "BT601",
  bt470bg: "BT601",
  bt2020nc: "BT2020",
  bt2020c: "BT2020",
};
const TRANSFERS: Record<string, string> = {
  bt709: "BT1886",
  smpte170m: "BT1886",
  "bt2020-10": "BT1886",
  "bt2020-12": "BT1886",
  "iec61966-2-1": "SRGB",
  smpte2084: "PQ",
  "arib-std-b67": "HLG",
};
const PRIMARIES: Record<string, string> = { bt709: "BT709", bt2020: "BT2020", smpte432: "P3D65" };

/** What a movie is, before any of its frames is decoded. */
export interface MovieInfo {
  path: string;
  name: string;
  /** px, as its samples lie in the file. */
  width: number;
  height: number;
  samples: MovieSamples;
  /** First line of a Y4M file of its frames: all that it says of them. */
  head: string;
  rate: [numerator: number, denominator: number];
  /** Frames it says it has. */
  count: number;
  /** Where its pictures begin, against the file's own beginning, s. */
  start: number;
  /** A frame is found by its time, without those before it. */
  isSeekable: boolean;
  /** Of its first frame. */
  timeCode?: string;
  reel?: string;
  /** What its pictures are coded as, by its usual name, and what its sound is, by ffmpeg's. */
  coding: string;
  /** It says that a frame's lines are of two moments by turns. */
  isInterlaced: boolean;
  sound: string[];
}

const tags = z.record(z.string(), z.string()).default({});
const streamSchema = z.object({
  codec_type: z.string().optional(),
  codec_name: z.string().default("unknown"),
  profile: z.string().optional(),
  width: z.number().default(0),
  height: z.number().default(0),
  pix_fmt: z.string().default(""),
  sample_aspect_ratio: z.string().optional(),
  color_space: z.string().optional(),
  color_transfer: z.string().optional(),
  color_primaries: z.string().optional(),
  color_range: z.string().optional(),
  chroma_location: z.string().optional(),
  field_order: z.string().optional(),
  r_frame_rate: z.string().default("24/1"),
  avg_frame_rate: z.string().optional(),
  start_time: z.coerce.number().catch(0).default(0),
  duration: z.coerce.number().optional().catch(undefined),
  nb_frames: z.coerce.number().catch(0).default(0),
  nb_read_packets: z.coerce.number().catch(0).default(0),
  disposition: z.object({ attached_pic: z.number().default(0) }).optional(),
  side_data_list: z.array(z.object({ rotation: z.number().optional() })).default([]),
  tags,
});
type Stream = z.infer<typeof streamSchema>;
const probedSchema = z.object({
  streams: z.array(streamSchema).default([]),
  format: z
    .object({
      format_name: z.string().default(""),
      start_time: z.coerce.number().catch(0).default(0),
      duration: z.coerce.number().optional().catch(undefined),
      tags,
    })
    .default({ format_name: "", start_time: 0, tags: {} }),
});
type Probed = z.infer<typeof probedSchema>;

const MAX_ANSWER = 8 * 2 ** 20;

/** What ffprobe says of a file. `counting`: it reads all of it, for formats that do not say how long they are. */
function ask(path: string, counting: boolean): Probed | null {
  const wanted = ["-show_streams", "-show_format", ...(counting ? ["-count_packets"] : []), "-of", "json"];
  const { stdout, error, status } = spawnSync(FFPROBE, ["-v", "error", ...wanted, path], {
    encoding: "utf8",
    maxBuffer: MAX_ANSWER,
  });
  if (error || status !== 0) return null;
  const read = probedSchema.safeParse(JSON.parse(stdout));
  return read.success ? read.data : null;
}

const fraction = (text: string): [number, number] => {
  const [numerator = 0, denominator = 1] = text.split(/[/:]/).map(Number);
  return numerator > 0 && denominator > 0 ? [numerator, denominator] : [0, 1];
};

/** The pictures of a file: its first stream of them that is no cover. */
const picturesIn = ({ streams }: Probed): Stream | undefined =>
  streams.find((stream) => stream.codec_type === "video" && !stream.disposition?.attached_pic);

/** A tag of any stream or of the file, whatever the case of its name. */
function tagNamed({ streams, format }: Probed, name: string): string | undefined {
  for (const { tags: own } of [...streams, format])
    for (const [key, value] of Object.entries(own)) if (key.toLowerCase() === name) return value;
  return undefined;
}

/** Containers whose frames ffmpeg finds exactly by time (tried frame by frame); others are decoded from their start. */
const SEEKABLE = /^(mov|matroska|mxf)/;
/** Containers that say how long they are to the frame. */
const SAYS_LENGTH = /^mxf/;
/** Two rates that differ by less are one, and a length by fewer frames is right. */
const [SAME_RATE, SAME_LENGTH] = [1e-3, 0.6];

/** Whether frames follow one another evenly: only then is a frame's time known without reading them all. */
function isEven({ r_frame_rate, avg_frame_rate, duration }: Stream, { format }: Probed, count: number): boolean {
  const [numerator, denominator] = fraction(r_frame_rate);
  const rate = numerator / denominator;
  const [sum, per] = fraction(avg_frame_rate ?? r_frame_rate);
  if (!(Math.abs(sum / per / rate - 1) < SAME_RATE)) return false;
  const length = duration ?? format.duration;
  // Matroska says how long the file is, sound and all.
  return duration === undefined || length === undefined || Math.abs(length * rate - count) < SAME_LENGTH;
}

const isTurned = ({ side_data_list }: Stream) =>
  side_data_list.some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90);

/** The first line of a Y4M file of a movie's samples. */
function headOf(stream: Stream, { chroma, bits, isRgb, hasAlpha, isFull }: MovieSamples, rate: [number, number]) {
  // ffmpeg turns the frames as the movie says they lie.
  const [width, height] = isTurned(stream) ? [stream.height, stream.width] : [stream.width, stream.height];
  const { color_range } = stream;
  const [wide, high] = fraction(stream.sample_aspect_ratio ?? "1:1");
  return y4mHeadLine({
    ...{ width, height, rate, chroma, bits, hasAlpha },
    pixelAspect: wide ? wide / high : 1,
    siting: stream.chroma_location === "center" ? "jpeg" : "mpeg2",
    range: isFull || color_range === "pc" ? "FULL" : color_range === "tv" ? "LIMITED" : undefined,
    matrix: isRgb ? "RGB" : MATRICES[stream.color_space ?? ""],
    transfer: TRANSFERS[stream.color_transfer ?? ""],
    primaries: PRIMARIES[stream.color_primaries ?? ""],
  });
}

/** Codings by the names people know them by; any other goes by ffmpeg's. */
const CODINGS: Record<string, string> = {
  prores: "ProRes",
  dnxhd: "DNxHD",
  cfhd: "CineForm",
  h264: "H.264",
  hevc: "HEVC",
  mpeg2video: "MPEG-2",
  mjpeg: "Motion JPEG",
  vp8: "VP8",
  vp9: "VP9",
  av1: "AV1",
  ffv1: "FFV1",
};

/** Which field comes first, where a frame has two. */
const isInterlaced = ({ field_order }: Stream) => ["tt", "bb", "tb", "bt"].includes(field_order ?? "");

/** How a coding is called, with its profile. */
const codingOf = (stream: Stream) => {
  const { codec_name, profile } = stream;
  const words = [
    /^DNXHR/i.test(profile ?? "") ? "" : (CODINGS[codec_name] ?? codec_name),
    profile && !["unknown", "N/A"].includes(profile) ? profile : "",
  ];
  return words.filter(Boolean).join(" ") + (isInterlaced(stream) ? ", interlaced" : "");
};

function read(path: string): MovieInfo {
  const name = basename(path);
  if (!hasFfmpeg())
    throw new FileError(
      name,
      "is a movie, which is read through ffmpeg; install it, or take the movie in with the browser",
    );
  let probed = ask(path, false);
  if (probed && !picturesIn(probed)?.nb_frames && !SAYS_LENGTH.test(probed.format.format_name))
    probed = ask(path, true) ?? probed;
  const stream = probed && picturesIn(probed);
  if (!stream?.width) throw new FileError(name, "holds no pictures that ffmpeg can read");
  const samples = samplesOf(stream.pix_fmt);
  if (!samples) throw new FileError(name, `holds samples as ${stream.pix_fmt}, which are not read`);
  const rate = fraction(stream.r_frame_rate);
  const { duration = probed!.format.duration ?? 0 } = stream;
  const stored = Math.max(stream.nb_frames, stream.nb_read_packets) || Math.round((duration * rate[0]) / rate[1]);
  const count = Math.max(1, stored);
  return {
    ...{ path, name, samples, rate, count },
    width: stream.width,
    height: stream.height,
    head: headOf(stream, samples, rate),
    start: stream.start_time - probed!.format.start_time,
    isSeekable: SEEKABLE.test(probed!.format.format_name) && isEven(stream, probed!, count),
    timeCode: tagNamed(probed!, "timecode"),
    reel: tagNamed(probed!, "reel_name"),
    coding: codingOf(stream),
    isInterlaced: isInterlaced(stream),
    sound: probed!.streams.filter(({ codec_type }) => codec_type === "audio").map(({ codec_name }) => codec_name),
  };
}

const MAX_KNOWN = 64;
const known = new LRUCache<string, MovieInfo>({ max: MAX_KNOWN });

/** What a movie is. Throws FileError for what ffmpeg cannot read, or where there is none. */
export function probeMovie(path: string): MovieInfo {
  const found = statSync(path, { throwIfNoEntry: false });
  if (!found?.isFile()) throw new FileError(basename(path), "there is no such file, or it is no ordinary one");
  const key = `${path} ${found.size} ${found.mtimeMs}`;
  const info = known.get(key) ?? read(path);
  known.set(key, info);
  return info;
}
