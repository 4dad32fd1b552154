import { Command } from "commander";
import { clipped, countOf, firstOf, framesIn, hasFrame, lastOf, rangesText } from "../../core/frame/ranges";
import { decodeImage } from "../../core/image/decode";
import { Follower, LOST, type Region, type TrackStep, takeTemplate } from "../../core/track/follow";
import { TRACK_MODELS, type TrackModel } from "../../core/track/track";
import { guessedEncoding, guessEncoding } from "../../server/footage/guess-encoding";
import { loadFrame, openSource, type Source } from "../../server/footage/source";
import { encodingNamed } from "../encodings";
import { choiceOption, framesOption, numberOption, regionOption, UsageError } from "../options";

interface Options {
  in: string;
  region: { left: number; top: number; width: number; height: number };
  frame: number;
  frames?: { first: number; last: number };
  model: TrackModel;
  inEncoding?: string;
  json?: boolean;
}

/** Highest frame number a sequence can have. */
const MAX_FRAME = 2 ** 31 - 1;
/** Regions smaller than this hold nothing to follow, px. */
const MIN_REGION = 8;
const DEGREES = 180 / Math.PI;
/** A pixel's middle lies half a pixel from its corner. */
const HALF = 0.5;

const round = (value: number, digits: number) => Number(value.toFixed(digits));
const told = ({ frame, pose, confidence }: TrackStep) => ({
  frame,
  x: round(pose.x + HALF, 3),
  y: round(pose.y + HALF, 3),
  scale: round(pose.scale, 5),
  rotation: round(pose.rotation * DEGREES, 4),
  confidence: round(confidence, 4),
});

function regionIn({ left, top, width, height }: Options["region"], size: { width: number; height: number }): Region {
  if (width < MIN_REGION || height < MIN_REGION || left + width > size.width || top + height > size.height)
    throw new UsageError(
      `--region: a region of at least ${MIN_REGION}x${MIN_REGION} pixels that lies within the frame, which is ${size.width}x${size.height}`,
    );
  return { x: left + width / 2 - HALF, y: top + height / 2 - HALF, width, height };
}

/** Follows a region from its frame to the last and to the first of those asked for; ends each way where it is lost. */
async function follow(source: Source, options: Options): Promise<{ steps: TrackStep[]; lost: TrackStep[] }> {
  const { frame, frames = { first: firstOf(source.frames), last: lastOf(source.frames) }, model } = options;
  const wanted = [...framesIn(clipped(source.frames, frames.first, frames.last))];
  const load = async (number: number) => {
    const image = await loadFrame(source, number);
    const encoding = options.inEncoding
      ? encodingNamed("--in-encoding", options.inEncoding)
      : guessedEncoding(guessEncoding(image));
    return decodeImage(image, encoding).frame;
  };
  const first = await load(frame);
  const region = regionIn(options.region, first);
  const start: TrackStep = { frame, pose: { x: region.x, y: region.y, scale: 1, rotation: 0 }, confidence: 1 };
  const template = takeTemplate(first, region, start.pose, model);
  if (!template) throw new UsageError("--region: there is nothing in it to follow, it is even");
  const steps = [start];
  const lost: TrackStep[] = [];
  for (const way of [wanted.filter((n) => n > frame), wanted.filter((n) => n < frame).reverse()]) {
    const follower = new Follower(template, region, start);
    for (const [i, number] of way.entries()) {
      process.stderr.write(`\rframe ${number}, ${i + 1} of ${way.length} `);
      const step = follower.next(number, await load(number));
      if (step.confidence < LOST) {
        lost.push(step);
        break;
      }
      steps.push(step);
    }
  }
  process.stderr.write("\n");
  return { steps: steps.sort((a, b) => a.frame - b.frame), lost };
}

async function track(options: Options): Promise<void> {
  const source = openSource(options.in);
  if (!countOf(source.frames)) throw new UsageError(`--in ${options.in}: there is no such file or sequence`);
  if (!hasFrame(source.frames, options.frame))
    throw new UsageError(`--frame ${options.frame}: the sequence has frames ${rangesText(source.frames)}`);
  const { steps, lost } = await follow(source, options);
  const rows = steps.map(told);
  if (options.json)
    console.log(JSON.stringify({ model: options.model, reference: options.frame, frames: rows, lost: lost.map(told) }));
  else {
    console.log("frame x y scale rotation confidence");
    for (const { frame, x, y, scale, rotation, confidence } of rows)
      console.log([frame, x, y, scale, rotation, confidence].join(" "));
    for (const { frame, confidence } of lost)
      console.log(`lost at frame ${frame}, confidence ${confidence.toFixed(2)}`);
  }
}

export const trackCommand = (): Command =>
  new Command("track")
    .description(
      "Follows what lies in a region at one frame: its place (px), size, turn (degrees) and how sure that is",
    )
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .requiredOption("--region <LEFT,TOP,WxH>", "the region, px", regionOption)
    .requiredOption("--frame <n>", "the frame it lies on", numberOption(-MAX_FRAME, MAX_FRAME, true))
    .option("--frames <first-last>", "which frames", framesOption)
    .addOption(
      choiceOption("--model <what>", "its position, or turning and growing as well", [...TRACK_MODELS]).default(
        "position",
      ),
    )
    .option("--in-encoding <name>", "how the footage is encoded")
    .option("--json", "JSON")
    .action(track);
