import { readFileSync, statSync } from "node:fs";
import { basename } from "node:path";
import { Command } from "commander";
import { formatOf, loadImage } from "../../formats/formats";
import { readExr } from "../../formats/exr/read";
import { rasterInfo } from "../../formats/raster/raster";
import { guessEncoding } from "../../server/footage/encoding";
import { fileOf, framesOf, gapsOf, isSequence, parsePattern } from "../../server/footage/sequence";
import { UsageError } from "../options";

async function describe(path: string) {
  const format = formatOf(path);
  const image = await loadImage(path);
  const common = { format: format!.name, width: image.width, height: image.height, bytes: statSync(path).size, ...guessEncoding(image) };
  if (format!.name !== "OpenEXR") {
    const { depth, channels, compression } = await rasterInfo(basename(path), readFileSync(path));
    return { ...common, depth, channels, ...(compression ? { compression } : {}) };
  }
  const { header } = readExr(basename(path), readFileSync(path));
  const { channels, compression, dataWindow, displayWindow, chromaticities, framesPerSecond, text } = header;
  return { ...common, ...guessEncoding({ ...image, header }), depth: image.pixels.depth, channels, compression, dataWindow, displayWindow, chromaticities, framesPerSecond, text };
}

export function inspectCommand(): Command {
  return new Command("inspect")
    .description("What a file or a sequence is")
    .argument("<file|pattern>")
    .option("--json", "JSON")
    .action(async (name: string, { json }: { json?: boolean }) => {
      const pattern = parsePattern(name);
      const frames = framesOf(pattern);
      if (!frames.length) throw new UsageError(`${name}: there is no such ${isSequence(pattern) ? "sequence" : "file"}`);
      const found = await describe(fileOf(pattern, frames[0]!));
      const { encoding, reason, ...rest } = found;
      const sequence = isSequence(pattern) ? { frames: frames.length, first: frames[0], last: frames.at(-1), gaps: gapsOf(frames) } : {};
      const report = { file: name, ...rest, ...sequence, encoding: { guessed: encoding, reason } };
      if (json) console.log(JSON.stringify(report));
      else for (const [key, value] of Object.entries(report)) if (value !== undefined) console.log(`${key}: ${typeof value === "object" ? JSON.stringify(value) : value}`);
    });
}
