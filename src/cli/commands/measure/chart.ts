import { firstOf } from "../../../core/frame/ranges";
import { decodeImage } from "../../../core/image/decode";
import { type Chart, chartOf } from "../../../core/measure/chart";
import { guessedEncoding, guessEncoding } from "../../../server/footage/guess-encoding";
import { loadFrame, openSource } from "../../../server/footage/source";
import { encodingNamed } from "../../encodings";
import type { DistortionTable } from "../../../core/profile/distortion";
import { numberOption, UsageError } from "../../options";

/** A focal length, mm, in the range a lens can have. */
export const focalLengthOption = numberOption(1, 5000);

export interface Options {
  in: string;
  sensor: { width: number; height: number };
  region?: { left: number; top: number; width: number; height: number };
  inEncoding?: string;
  json?: boolean;
  /** mm. */
  focal: number;
  /** A grid's: the model that is fitted; else the one that the dots bear out. */
  model?: DistortionTable["model"];
  /** Edges': T-stop, and whether the pixel's own share of contrast stays. */
  stop: number;
  aperture: boolean;
  /** A flat field's: a second picture, the camera turned by 180°. */
  turned?: string;
}

/** A picture of a chart, and how its encoding was told. */
export interface ReadChart extends Chart {
  /** As it was said, or as it was guessed and why. */
  encoding: string;
}

export async function readChart({
  in: name,
  sensor,
  region,
  inEncoding,
}: Pick<Options, "in" | "sensor" | "region" | "inEncoding">): Promise<ReadChart> {
  const source = openSource(name);
  if (!source.frames.length) throw new UsageError(`--in ${name}: there is no such file`);
  const image = await loadFrame(source, firstOf(source.frames));
  const guess = guessEncoding(image);
  if (!inEncoding && guess.isOfCodes)
    throw new UsageError(`--in-encoding: say how ${name} is encoded; it has ${guess.reason}`);
  const encoding = inEncoding ? encodingNamed("--in-encoding", inEncoding) : guessedEncoding(guess);
  const { frame } = decodeImage(image, encoding);
  return {
    ...chartOf(frame, sensor, region),
    encoding: inEncoding ?? `taken as ${guess.encoding}: ${guess.reason}`,
  };
}
