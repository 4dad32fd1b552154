import { mkdirSync } from "node:fs";
import { availableParallelism } from "node:os";
import { dirname } from "node:path";
import { Command, Option } from "commander";
import type { EncodingName } from "../../core/colour/encodings";
import { acts } from "../../core/engine/compile";
import type { Look, LookElement } from "../../core/look/look";
import { cabinetOf, type Cabinet } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/profiles";
import { loadImage } from "../../formats/formats";
import { startEngine } from "../../server/engine/engine";
import { guessEncoding } from "../../server/footage/encoding";
import { fileOf, framesOf, isSequence, parsePattern } from "../../server/footage/sequence";
import { depthsFor, type OutputDepth } from "../../server/render/output";
import { renderFrames } from "../../server/render/render";
import { readLook, readProfile } from "../files";
import { collect, encodingOption, framesOption, numberOption, UsageError } from "../options";

interface Options {
  look: string;
  in: string;
  out: string;
  frames?: { first: number; last: number };
  profile?: string[];
  inEncoding?: EncodingName;
  outEncoding?: EncodingName;
  depth?: OutputDepth;
  scale: number;
  threads: number;
  resume?: boolean;
}

const LARGEST_SCALE = 4;
const MOST_THREADS = 64;

/** A profile a look names must be there: a render without its glass would look finished and be wrong. */
export function missingProfiles(look: Look, cabinet: Cabinet): string[] {
  const missing: string[] = [];
  if (look.lens.profile && !cabinet.lenses.has(look.lens.profile)) missing.push(`lens.profile: there is no lens “${look.lens.profile}”`);
  for (const [i, element] of (look.elements as LookElement[]).entries()) {
    if (element.kind !== "diffusion" || !acts(element)) continue;
    const name = String(element.params.profile ?? "milkglass");
    const filter = cabinet.filters.get(name);
    if (!filter) missing.push(`elements.${i}.params.profile: there is no filter “${name}”`);
    else if (element.params.grade !== undefined && !filter.grades.some(({ grade }) => grade === element.params.grade))
      missing.push(`elements.${i}.params.grade: ${name} has no grade “${String(element.params.grade)}”; it has ${filter.grades.map(({ grade }) => grade).join(", ")}`);
  }
  return missing;
}

async function render(options: Options): Promise<void> {
  const look = readLook(options.look);
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profile ?? []).map(readProfile)]);
  const missing = missingProfiles(look, cabinet);
  if (missing.length) throw new UsageError(`${options.look}: ${missing.join("; ")}; give its file with --profile`);
  const source = parsePattern(options.in);
  const target = parsePattern(options.out);
  const all = framesOf(source);
  if (!all.length) throw new UsageError(`--in ${options.in}: there is no such ${isSequence(source) ? "sequence" : "file"}`);
  const numbers = options.frames ? Array.from({ length: options.frames.last - options.frames.first + 1 }, (_, i) => options.frames!.first + i) : all;
  if (numbers.length > 1 && !isSequence(target)) throw new UsageError(`--out ${options.out}: ${numbers.length} frames need a number in the name, for example out.%04d.exr`);
  const depths = depthsFor(options.out);
  if (!depths.length) throw new UsageError(`--out ${options.out}: frames are written as .exr, .png or .tif`);
  if (options.depth && !depths.includes(options.depth)) throw new UsageError(`--depth ${options.depth}: this format is written with ${depths.join(" or ")}`);
  if (numbers.some((number) => fileOf(source, number) === fileOf(target, number))) throw new UsageError(`--out ${options.out}: would write over the footage, which is never modified`);
  const first = all.find((number) => numbers.includes(number));
  if (first === undefined) throw new UsageError(`--frames: the sequence has frames ${all[0]} to ${all.at(-1)}`);
  const sample = await loadImage(fileOf(source, first));
  mkdirSync(dirname(options.out), { recursive: true });
  const failed: { frame: number; reason: string }[] = [];
  let skipped = 0;
  let done = 0;
  const start = performance.now();
  const { engine, close } = startEngine(options.threads);
  const job = {
    look, cabinet, scale: options.scale, resume: options.resume ?? false,
    frames: numbers.map((number) => ({ number, input: fileOf(source, number), output: fileOf(target, number) })),
    inEncoding: options.inEncoding ?? guessEncoding(sample).encoding,
    outEncoding: options.outEncoding ?? null,
    depth: options.depth ?? depths[0]!,
  };
  await renderFrames(engine, job, {
    done(number, wasThere) {
      done++;
      if (wasThere) skipped++;
      console.error(`frame ${number} ${wasThere ? "is there already" : "done"} (${done} of ${numbers.length})`);
    },
    failed(number, reason) {
      failed.push({ frame: number, reason });
      console.error(`frame ${number} failed: ${reason}`);
    },
  });
  close();
  const seconds = (performance.now() - start) / 1000;
  console.log(JSON.stringify({ frames: done, seconds: Number(seconds.toFixed(2)), fps: Number(((done - skipped) / seconds).toFixed(2)), skipped, failed }));
  if (failed.length) process.exitCode = 1;
}

export function renderCommand(): Command {
  return new Command("render")
    .description("Renders a look over footage")
    .requiredOption("--look <file>", "the look, JSON")
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .requiredOption("--out <pattern>", "where frames go; the extension is the format")
    .option("--frames <first-last>", "which frames", framesOption)
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--in-encoding <name>", "how the footage is encoded", encodingOption)
    .option("--out-encoding <name>", "encode instead of applying the look's view (EXR: instead of working light)", encodingOption)
    .addOption(new Option("--depth <depth>", "bits of the output").choices(["8", "16", "half", "float"]))
    .option("--scale <factor>", "size of the output over the input's", numberOption(0.01, LARGEST_SCALE), 1)
    .option("--threads <n>", "threads to compute on", numberOption(1, MOST_THREADS, true), Math.min(availableParallelism(), MOST_THREADS))
    .option("--resume", "leave frames that are complete and made by the same recipe")
    .action(render);
}
