/** The options that `render` and `convert` share. */
import { availableParallelism } from "node:os";
import { Command } from "commander";
import { MATRICES, type MatrixName } from "../core/colour/yuv";
import type { Ranges } from "../core/frame/ranges";
import { DEPTHS, type Depth } from "../core/image/image";
import type { GapPolicy } from "../server/footage/source";
import { LAYER_POLICIES, type LayerPolicy } from "../server/render/job";
import { DRY_RUN } from "./doing";
import { choiceOption, frameListOption, numberOption, overscanOption } from "./options";

/** What `render` and `convert` share: frames in, frames out. */
export interface FrameOptions {
  in: string;
  out: string;
  frames?: Ranges;
  inEncoding?: string;
  outEncoding?: string;
  depth?: Depth;
  compression?: string;
  part?: string;
  layer?: string;
  depthChannel?: string;
  matrix?: MatrixName;
  range?: "full" | "limited";
  /** Left out, frames that are there are taken; one that is asked for by its number has to be there. */
  gaps?: GapPolicy;
  threads: number;
  resume?: boolean;
  /** As a share of the frame's width; EXR only. */
  overscan?: number;
  layers?: LayerPolicy;
  dryRun?: boolean;
}

const MAX_THREADS = 64;

/** What a movie's samples are, where it does not say so or says it wrongly. */
export const matrixOption = () =>
  choiceOption("--matrix <name>", "what a movie's luma and chroma are made by", Object.keys(MATRICES));
export const rangeOption = () =>
  choiceOption("--range <name>", "whether a movie's codes use their full range", ["full", "limited"]);

export const withFrameOptions = (command: Command): Command =>
  command
    .option("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .option("--out <pattern>", "where frames go; the extension is the format")
    .option("--frames <list>", "which frames: 1-24, or a list with steps as 1-10,20,30-60x5", frameListOption)
    .option("--in-encoding <name>", "how the footage is encoded: a name, or a .json, .cube or .clf file")
    .option("--out-encoding <name>", "how what is written is encoded")
    .addOption(choiceOption("--depth <depth>", "bits of the output", DEPTHS))
    .option("--compression <name>", "compression of the output, where the format has a choice")
    .option("--part <name>", "part of a file that holds several pictures")
    .option("--layer <name>", "layer of the picture's channels")
    .option("--depth-channel <name>", "channel that holds depth")
    .addOption(matrixOption())
    .addOption(rangeOption())
    .option(
      "--overscan <much>",
      "light beyond the frame in EXR: keep, crop, or as much as of the width, as 5%",
      overscanOption,
    )
    .addOption(choiceOption("--layers <what>", "other layers of an EXR", LAYER_POLICIES))
    .addOption(choiceOption("--gaps <what>", "what stands in for a missing frame", ["hold", "black", "refuse"]))
    .option(
      "--threads <n>",
      "threads to compute on",
      numberOption(1, MAX_THREADS, true),
      Math.min(availableParallelism(), MAX_THREADS),
    )
    .option("--resume", "leave frames that are complete and made by the same recipe")
    .option(...DRY_RUN);
