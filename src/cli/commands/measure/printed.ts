import { Command } from "commander";
import { MeasureError } from "../../../core/measure/plane";
import { profileOf } from "../../../core/measure/printed/profile";
import { readPrinted } from "../../../core/measure/printed/read";
import { printedSchema } from "../../../core/measure/printed/spec";
import { loadImage } from "../../../formats/formats";
import { normalised } from "../../../core/image/image";
import { parse } from "../../files";
import { UsageError } from "../../options";

/** A page's code values, RGBA, 0 to 1: what a curve is followed on is its colour. */
async function pageOf(path: string) {
  const { pixels, width, height } = await loadImage(path);
  return { width, height, data: normalised(pixels) };
}

export const printedCommand = (): Command =>
  new Command("printed")
    .description("Curves of a printed chart as tables: axes and curves are told by a file")
    .requiredOption("--in <file>", "a picture of the page")
    .requiredOption("--spec <file>", "where its axes lie and which curves it shows, JSON")
    .action(async ({ in: path, spec: from }: { in: string; spec: string }) => {
      const spec = parse(from, printedSchema);
      try {
        const read = readPrinted(await pageOf(path), spec);
        const curves = spec.curves.map((curve, i) => ({ ...curve, ...read[i]! }));
        console.log(JSON.stringify({ curves, profile: profileOf(spec, read) }));
      } catch (error) {
        throw error instanceof MeasureError ? new UsageError(`${from}: ${error.message}`) : error;
      }
    });
