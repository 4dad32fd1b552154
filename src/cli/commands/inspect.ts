import { statSync } from "node:fs";
import { Command } from "commander";
import { dpxFields } from "../../formats/dpx/fields";
import { attributeValue } from "../../formats/exr/attributes";
import { formatOf } from "../../formats/formats";
import { guessEncoding } from "../../server/footage/guess-encoding";
import { complaintOf } from "../../server/footage/movies/movie";
import { cleaned, cleanedText } from "../../core/image/clean";
import { isFloatDepth, normalised } from "../../core/image/image";
import { countOf, firstOf, gapsOf, lastOf } from "../../core/frame/ranges";
import { isSequence } from "../../server/footage/sequence";
import { loadFrame, openSource, fileAt } from "../../server/footage/source";
import type { MatrixName } from "../../core/colour/yuv";
import { matrixOption, rangeOption } from "../frames";
import { UsageError } from "../options";

interface Options {
  json?: boolean;
  /** Every field of the header. */
  all?: boolean;
  part?: string;
  layer?: string;
  matrix?: MatrixName;
  range?: "full" | "limited";
}

async function inspect(name: string, { json, all, part, layer, matrix, range }: Options): Promise<void> {
  const source = openSource(name);
  const { frames, pattern, movie } = source;
  try {
    if (!frames.length) throw new UsageError(`${name}: there is no such ${isSequence(pattern) ? "sequence" : "file"}`);
    const image = await loadFrame(source, firstOf(frames), {
      ...(part === undefined ? {} : { part }),
      ...(layer === undefined ? {} : { layer }),
      ...(matrix === undefined ? {} : { matrix }),
      ...(range === undefined ? {} : { range }),
    });
    const { encoding, reason } = guessEncoding(image);
    const { path } = fileAt(pattern, firstOf(frames));
    const { frames: inside, attributes, dpxHeader, ...info } = image.info;
    const complaint = movie && (await complaintOf(movie));
    const several = isSequence(pattern) || (inside ?? 1) > 1;
    const sequence = several
      ? {
          frames: countOf(frames),
          first: firstOf(frames),
          last: lastOf(frames),
          missing: countOf(gapsOf(frames)),
          gaps: gapsOf(frames),
        }
      : {};
    const report = {
      file: name,
      format: movie ? "movie, through ffmpeg" : formatOf(path)!.name,
      bytes: statSync(path).size,
      ...info,
      ...(image.z ? { depthChannel: true } : {}),
      ...sequence,
      ...(isFloatDepth(image.pixels.depth)
        ? { cleaned: cleanedText(cleaned(normalised(image.pixels))) ?? undefined }
        : {}),
      ...(complaint ? { complaint } : {}),
      encoding: { guessed: encoding, reason },
      ...(all && attributes
        ? { fields: Object.fromEntries(attributes.map((one) => [one.name, attributeValue(one)])) }
        : {}),
      ...(all && dpxHeader ? { fields: dpxFields(dpxHeader) } : {}),
    };
    if (json) console.log(JSON.stringify(report));
    else
      for (const [key, value] of Object.entries(report))
        if (value !== undefined) console.log(`${key}: ${typeof value === "object" ? JSON.stringify(value) : value}`);
  } finally {
    movie?.close();
  }
}

export const inspectCommand = (): Command =>
  new Command("inspect")
    .description("What a file or a sequence is")
    .argument("<file|pattern>")
    .option("--json", "JSON")
    .option("--all", "every field of an OpenEXR or DPX header, too")
    .option("--part <name>", "part of a file that holds several pictures")
    .option("--layer <name>", "layer of the picture's channels")
    .addOption(matrixOption())
    .addOption(rangeOption())
    .action(inspect);
