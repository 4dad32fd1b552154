import { mkdirSync } from "node:fs";
import { dirname } from "node:path";
import { availableParallelism } from "node:os";
import { Command, Option } from "commander";
import { encodingByName } from "../core/colour/encodings";
import { DEPTHS, depthLabel, type Depth } from "../core/image/image";
import type { Choice } from "../formats/format";
import { EXTENSIONS, formatOf } from "../formats/formats";
import { isMovie, unpackMovie } from "../server/footage/movie";
import { fileOf, isSequence, parsePattern } from "../server/footage/sequence";
import { type GapPolicy, loadFrame, openSource, type Source } from "../server/footage/source";
import { guessEncoding } from "../server/footage/encoding";
import { startEngine } from "../server/engine/engine";
import { depthsFor, movieSink } from "../server/render/output";
import { renderFrames, type RenderJob } from "../server/render/render";
import { encodingNamed } from "./encodings";
import { framesOption, numberOption, UsageError } from "./options";

/** What `render` and `convert` share: frames in, frames out. */
export interface FrameOptions {
  in: string;
  out: string;
  frames?: { first: number; last: number };
  inEncoding?: string;
  outEncoding?: string;
  depth?: Depth;
  compression?: string;
  part?: string;
  layer?: string;
  depthChannel?: string;
  gaps: GapPolicy;
  threads: number;
  resume?: boolean;
}

const MOST_THREADS = 64;

export const withFrameOptions = (command: Command): Command =>
  command
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .requiredOption("--out <pattern>", "where frames go; the extension is the format")
    .option("--frames <first-last>", "which frames", framesOption)
    .option("--in-encoding <name>", "how the footage is encoded: a name, or a .json, .cube or .clf file")
    .option("--out-encoding <name>", "how what is written is encoded")
    .addOption(new Option("--depth <depth>", "bits of the output").choices(DEPTHS))
    .option("--compression <name>", "compression of the output, where the format has a choice")
    .option("--part <name>", "part of a file that holds several pictures")
    .option("--layer <name>", "layer of the picture's channels")
    .option("--depth-channel <name>", "channel that holds depth")
    .addOption(
      new Option("--gaps <what>", "what stands in for a missing frame")
        .choices(["hold", "black", "refuse"])
        .default("refuse"),
    )
    .option(
      "--threads <n>",
      "threads to compute on",
      numberOption(1, MOST_THREADS, true),
      Math.min(availableParallelism(), MOST_THREADS),
    )
    .option("--resume", "leave frames that are complete and made by the same recipe");

/** Opens footage; a movie is unpacked first and taken away at the end. */
async function openFootage(name: string): Promise<{ source: Source; close(): void }> {
  const movie = isMovie(name) ? await unpackMovie(name) : null;
  const source = openSource(movie?.y4m ?? name);
  if (!source.frames.length)
    throw new UsageError(`--in ${name}: there is no such ${isSequence(source.pattern) ? "sequence" : "file"}`);
  return { source, close: () => movie?.remove() };
}

function checkOutput({ out, depth, compression }: FrameOptions): Depth {
  const depths = depthsFor(out);
  if (!depths.length) throw new UsageError(`--out ${out}: frames are written as ${EXTENSIONS.join(", ")}`);
  if (depth && !depths.includes(depth))
    throw new UsageError(`--depth ${depth}: this format is written with ${depths.map(depthLabel).join(", ")}`);
  const { compressions } = formatOf(out)!;
  if (compression && !compressions.includes(compression))
    throw new UsageError(
      `--compression ${compression}: ${compressions.length ? `this format is written with ${compressions.join(", ")}` : "this format has no choice of it"}`,
    );
  return depth ?? depths[0]!;
}

type OwnJob = Pick<RenderJob, "look" | "cabinet" | "plates" | "scale"> & { keepEncoding: boolean };

/** Runs frames through a job and prints what was done; the exit code is 1 where any frame failed. */
export async function runFrames(options: FrameOptions, own: OwnJob): Promise<void> {
  const target = parsePattern(options.out);
  let depth = checkOutput(options);
  const named = options.inEncoding ? encodingNamed("--in-encoding", options.inEncoding) : null;
  const wanted = options.outEncoding ? encodingNamed("--out-encoding", options.outEncoding) : null;
  if (wanted?.table)
    throw new UsageError(
      `--out-encoding ${options.outEncoding}: a table works one way only; choose another encoding to write in`,
    );
  const { source, close: closeFootage } = await openFootage(options.in);
  try {
    const { frames: all, pattern } = source;
    const { first, last } = options.frames ?? { first: all[0]!, last: all.at(-1)! };
    const everyNumber = Array.from({ length: last - first + 1 }, (_, i) => first + i);
    // Asked for by number or with a stand-in, missing frames count; else what is there is what is meant.
    const numbers = options.frames || options.gaps !== "refuse" ? everyNumber : all;
    const oneFile = !isSequence(target) && formatOf(options.out)?.name === "Y4M";
    if (numbers.length > 1 && !isSequence(target) && !oneFile)
      throw new UsageError(
        `--out ${options.out}: ${numbers.length} frames need a number in the name, for example out.%04d.exr`,
      );
    if (numbers.some((number) => fileOf(pattern, number) === fileOf(target, number)))
      throw new UsageError(`--out ${options.out}: would write over the footage, which is never modified`);
    const sampled = all.find((number) => numbers.includes(number));
    if (sampled === undefined) throw new UsageError(`--frames: the sequence has frames ${all[0]} to ${all.at(-1)}`);
    const choice: Choice = {
      ...(options.part === undefined ? {} : { part: options.part }),
      ...(options.layer === undefined ? {} : { layer: options.layer }),
      ...(options.depthChannel === undefined ? {} : { depthChannel: options.depthChannel }),
    };
    const sample = await loadFrame(source, sampled, choice);
    const inEncoding = named ?? encodingByName(guessEncoding(sample).encoding);
    const outEncoding = wanted ?? (own.keepEncoding && !inEncoding.table ? inEncoding : null);
    if (own.keepEncoding && !options.depth && depthsFor(options.out).includes(sample.info.depth))
      depth = sample.info.depth;
    mkdirSync(dirname(options.out), { recursive: true });
    const { engine, close } = startEngine(options.threads);
    const failed: { frame: number; reason: string }[] = [];
    let [skipped, done] = [0, 0];
    const start = performance.now();
    const { keepEncoding: _, ...job } = own;
    await renderFrames(
      engine,
      {
        ...job,
        source,
        choice,
        gaps: options.gaps,
        inEncoding,
        outEncoding,
        depth,
        compression: options.compression,
        resume: (options.resume ?? false) && !oneFile,
        frames: numbers.map((number) => ({ number, output: fileOf(target, number) })),
        ...(oneFile ? { sink: movieSink(options.out) } : {}),
      },
      {
        done(number, wasThere) {
          done++;
          if (wasThere) skipped++;
          console.error(`frame ${number} ${wasThere ? "is there already" : "done"} (${done} of ${numbers.length})`);
        },
        failed(number, reason) {
          failed.push({ frame: number, reason });
          console.error(`frame ${number} failed: ${reason}`);
        },
      },
    );
    close();
    const seconds = (performance.now() - start) / 1000;
    console.log(
      JSON.stringify({
        frames: done,
        seconds: Number(seconds.toFixed(2)),
        fps: Number(((done - skipped) / seconds).toFixed(2)),
        skipped,
        failed,
      }),
    );
    if (failed.length) process.exitCode = 1;
  } finally {
    closeFootage();
  }
}
