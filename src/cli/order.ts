/** How the options of a command become a job of frames. */
import type { Encoding, EncodingName } from "../core/colour/encodings";
import { depthLabel, type Depth } from "../core/image/image";
import type { Choice, Decoded } from "../formats/format";
import { describedFormat, EXTENSIONS, holdsAllFrames } from "../formats/formats";
import { containerOf, MOVIE_CONTAINERS } from "../formats/movies";
import { hasFfmpeg } from "../server/footage/movies/ffmpeg";
import { fileOf, isSequence, parsePattern, type Pattern } from "../server/footage/sequence";
import {
  between,
  clipped,
  countOf,
  firstOf,
  framesIn,
  hasFrame,
  lastOf,
  type Ranges,
  rangesOf,
  rangesText,
} from "../core/frame/ranges";
import { loadFrame, openSource, fileAt, type Source } from "../server/footage/source";
import { guessedEncoding, guessEncoding } from "../server/footage/guess-encoding";
import { oneFileSink } from "../server/render/movie-file";
import { takesSlate } from "../server/render/slate";
import { depthsFor, framesSink } from "../server/render/output";
import { soundBeside, soundOf } from "../server/render/sound";
import type { RenderJob } from "../server/render/job";
import { readingFor } from "../server/render/reading";
import type { EncodingText, RecipeTexts } from "../server/render/job";
import { encodingGiven } from "./encodings";
import { lossesOfJob } from "../server/render/losses";
import { recipePath } from "../server/render/recipe-file";
import type { LayerPolicy } from "../server/render/job";
import type { FrameOptions } from "./frames";
import { MAX_FRAMES, UsageError } from "./options";
import { prepareOutput, refuseOverwriting } from "./places";

/** What is there of the footage that was named. */
export function openFootage(name: string | undefined): Source {
  if (name === undefined) throw new UsageError("--in: say which footage");
  const source = openSource(name);
  if (!source.frames.length)
    throw new UsageError(`--in ${name}: there is no such ${isSequence(source.pattern) ? "sequence" : "file"}`);
  return source;
}

/** Tells what was found to be wrong with a movie while it was read. */
export function tellComplaint(name: string, { movie }: Source): void {
  const complaint = movie?.complaint();
  if (!complaint) return;
  console.error(`--in ${name}: ${complaint}`);
  process.exitCode = 1;
}

/** A compression of what is written, named in any case. */
const compressionNamed = (out: string, name: string | undefined) =>
  describedFormat(out)!.compressions.find((one) => one.toLowerCase() === name?.toLowerCase());

/** Extensions of everything that can be written. */
const WRITTEN = [
  ...EXTENSIONS,
  ...MOVIE_CONTAINERS.filter(({ write }) => write.length).flatMap(({ extensions }) => extensions),
];

function checkOutput({ out, depth, compression }: FrameOptions): Depth {
  const format = describedFormat(out);
  if (!format?.write.length) throw new UsageError(`--out ${out}: frames are written as ${WRITTEN.join(", ")}`);
  if (containerOf(out) && !hasFfmpeg())
    throw new UsageError(`--out ${out}: movies are written through ffmpeg, which is not on the PATH; install it`);
  const { compressions } = format;
  const found = compressionNamed(out, compression);
  if (compression && !found)
    throw new UsageError(
      `--compression ${compression}: ${compressions.length ? `this format is written with ${compressions.join(", ")}` : "this format has no choice of it"}`,
    );
  const depths = depthsFor(out, found);
  if (depth && !depths.includes(depth))
    throw new UsageError(
      `--depth ${depth}: ${found ?? "this format"} is written with ${depths.map(depthLabel).join(", ")}`,
    );
  return depth ?? depths[0]!;
}

/**
 * Which frames are meant: those asked for by number or with a stand-in count where they are missing, else what is
 * there.
 */
function framesWanted({ frames: asked, gaps }: FrameOptions, all: Ranges): Ranges {
  const wanted = asked ?? (gaps ? between(firstOf(all), lastOf(all)) : all);
  const [first, last] = [firstOf(wanted), lastOf(wanted)];
  if (countOf(wanted) > MAX_FRAMES)
    throw new UsageError(
      `--frames: ${countOf(wanted)} frames are more than one command makes (${MAX_FRAMES}); the sequence has ${rangesText(all)}`,
    );
  const isThere = (frame: number) => hasFrame(all, frame);
  const within = [...framesIn(clipped(wanted, firstOf(all), lastOf(all)))];
  const missing = gaps === "refuse" ? rangesOf(within.filter((frame) => !isThere(frame))) : [];
  if (missing.length) throw new UsageError(`--gaps refuse: the sequence lacks frames ${rangesText(missing)}`);
  if (!countOf(clipped(all, first, last)) || (!gaps && !within.some(isThere)))
    throw new UsageError(`--frames: the sequence has frames ${rangesText(all)}`);
  return wanted;
}

/** The frame that a job's formats are told by: the first of those wanted that is there. */
export function sampleFrame(wanted: Ranges, all: Ranges): number {
  for (const frame of framesIn(wanted)) if (hasFrame(all, frame)) return frame;
  return firstOf(clipped(all, firstOf(wanted), lastOf(wanted)));
}

/** Files that a job reads: its footage, and what else it was given. */
function* filesRead(source: Source, others: OwnJob["files"], plates: RenderJob["plates"]) {
  for (const number of framesIn(source.frames))
    yield { path: fileAt(source.pattern, number).path, what: "the footage" };
  yield* others;
  for (const [name, { source: plate }] of plates ?? [])
    for (const number of framesIn(plate.frames))
      yield { path: fileAt(plate.pattern, number).path, what: `the plate “${name}”` };
}

const choiceOf = ({ part, layer, depthChannel, matrix, range }: FrameOptions): Choice => ({
  ...(matrix === undefined ? {} : { matrix }),
  ...(range === undefined ? {} : { range }),
  ...(part === undefined ? {} : { part }),
  ...(layer === undefined ? {} : { layer }),
  ...(depthChannel === undefined ? {} : { depthChannel }),
});

/** What of a job is not said by the options of its frames. */
export type OwnJob = Pick<RenderJob, "look" | "cabinet" | "plates" | "scale"> & {
  keepEncoding: boolean;
  /** What is done where nothing is asked for. */
  overscan: number;
  layers: LayerPolicy;
  slate?: string;
  /** What a recipe says of its tables and plates; none is written of a conversion. */
  texts?: Pick<RecipeTexts, "tables" | "plateEncodings">;
  /** Files that were read for it beside the footage, and what they are. */
  files: { path: string; what: string }[];
};

/** The encodings a job reads and writes in, and the depth it writes. */
interface Formats {
  inEncoding: Encoding;
  /** Null: working light, or the look's view. */
  outEncoding: Encoding | null;
  depth: Depth;
  /** The two as a recipe says them. */
  inText: EncodingText;
  outText: EncodingText | null;
}

/** The encodings that were asked for by name. */
function namedEncodings({ inEncoding, outEncoding }: FrameOptions) {
  const named = inEncoding ? encodingGiven("--in-encoding", inEncoding) : null;
  const wanted = outEncoding ? encodingGiven("--out-encoding", outEncoding) : null;
  if (wanted?.encoding.table)
    throw new UsageError(
      `--out-encoding ${outEncoding}: a table works one way only; choose another encoding to write in`,
    );
  return { named, wanted };
}

/** What was asked for, or else what the first frame is taken for; what is guessed is told. */
function formatsOf(
  options: FrameOptions,
  { named, wanted }: ReturnType<typeof namedEncodings>,
  sample: Decoded,
  keepEncoding: boolean,
  depth: Depth,
): Formats {
  for (const assumed of sample.info.assumed ?? []) console.error(`${options.in}: ${assumed}`);
  const guess = named ? null : guessEncoding(sample);
  if (guess) console.error(`--in-encoding: taken as ${guess.encoding}: ${guess.reason}`);
  const inEncoding = named?.encoding ?? guessedEncoding(guess!);
  const inText = named?.text ?? (inEncoding.name as EncodingName);
  const isKeptEncoding = keepEncoding && !inEncoding.table;
  const depths = depthsFor(options.out, compressionNamed(options.out, options.compression));
  const isKept = keepEncoding && !options.depth && depths.includes(sample.info.depth);
  return {
    inEncoding,
    outEncoding: wanted?.encoding ?? (isKeptEncoding ? inEncoding : null),
    depth: isKept ? sample.info.depth : depth,
    inText,
    outText: wanted?.text ?? (isKeptEncoding ? inText : null),
  };
}

/** Refuses a job whose files would be written over one another, or over what it reads. */
function checkFiles(options: FrameOptions, source: Source, target: Pattern, frames: Ranges, own: OwnJob): void {
  const count = countOf(frames);
  if (count > 1 && !isSequence(target) && !isOneFile(options.out, target))
    throw new UsageError(`--out ${options.out}: ${count} frames need a number in the name, for example out.%04d.exr`);
  const encodings = [options.inEncoding, options.outEncoding].filter((name) => name !== undefined);
  const read = [
    { path: options.in, what: "the footage" },
    ...own.files,
    ...encodings.map((path) => ({ path, what: "the encoding" })),
  ];
  const written = isSequence(target) ? [...framesIn(frames)].map((number) => fileOf(target, number)) : [options.out];
  const beside = [...(own.texts ? [recipePath(target)] : []), ...soundBeside(source, frames, target)];
  refuseOverwriting("--out", [...written, ...beside], filesRead(source, read, own.plates));
}

/** Whether all frames go into one file. */
export const isOneFile = (out: string, target: Pattern) => !isSequence(target) && holdsAllFrames(out);

interface Carried {
  overscan: number;
  layers: LayerPolicy;
}

/** What is asked to be kept whole is read as it is where no look acts on it: windows to the pixel, depth by its name. */
const untouched = ({ look }: OwnJob, { overscan, layers }: Carried): Choice =>
  look.elements.length || look.camera.taking
    ? {}
    : {
        ...(overscan === Infinity ? { overscan: "all" as const } : {}),
        ...(layers === "keep" ? { withoutDepth: true } : {}),
      };

/** What can be said of the options before there is any footage. */
export const checkedAlone = (options: FrameOptions) => ({
  depth: checkOutput(options),
  encodings: namedEncodings(options),
});

/** An order, and what of its footage does not go on, by one of its frames: that is held no longer than it takes. */
export async function orderFor(
  options: FrameOptions,
  own: OwnJob,
  { depth, encodings }: ReturnType<typeof checkedAlone>,
  source: Source,
): Promise<{ order: RenderJob; losses: string[] }> {
  const target = parsePattern(options.out);
  const { keepEncoding, files: _, texts, ...job } = own;
  const frames = framesWanted(options, source.frames);
  checkFiles(options, source, target, frames, own);
  const carried = { overscan: options.overscan ?? own.overscan, layers: options.layers ?? own.layers };
  const choice = { ...choiceOf(options), ...untouched(own, carried) };
  const reading = readingFor({ output: target, frames, choice, layers: carried.layers });
  const sample = await loadFrame(source, sampleFrame(frames, source.frames), reading);
  const { inText, outText, ...formats } = formatsOf(options, encodings, sample, keepEncoding, depth);
  if (own.slate && !takesSlate(options.out, formats.outEncoding))
    throw new UsageError(`--slate: is burnt into pictures for a display; ${options.out} is for further work`);
  prepareOutput("--out", target.folder, options.dryRun);
  const oneFile = isOneFile(options.out, target);
  const order: RenderJob = {
    ...{ ...job, ...formats, ...carried, source, choice, frames, gaps: options.gaps },
    compression: compressionNamed(options.out, options.compression),
    resume: (options.resume ?? false) && !oneFile,
    shot: source.frames,
    output: target,
    sink: oneFile ? oneFileSink(options.out, soundOf(source, frames)) : framesSink(frames),
    ...(texts ? { texts: { ...texts, inEncoding: inText, outEncoding: outText } } : {}),
  };
  return { order, losses: lossesOfJob(order, sample) };
}
