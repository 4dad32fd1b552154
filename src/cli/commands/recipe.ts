import { ENGINE_VERSION } from "../../core/engine/version";
import { framesIn } from "../../core/frame/ranges";
import { fileOf, isSequence, parsePattern } from "../../server/footage/sequence";
import { fileAt, loadFrame } from "../../server/footage/source";
import type { RenderJob } from "../../server/render/job";
import { lossesOfJob } from "../../server/render/losses";
import { oneFileSink } from "../../server/render/movie-file";
import { framesSink } from "../../server/render/output";
import { soundBeside, soundOf } from "../../server/render/sound";
import { readingFor } from "../../server/render/reading";
import { jobOfRecipe, recipePath, RecipeProblem, recipeSchema } from "../../server/render/recipe-file";
import { version } from "../../../package.json";
import { parse } from "../files";
import { isOneFile, sampleFrame } from "../order";
import { performJob } from "../perform";
import { UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

export interface RecipeOptions {
  recipe: string;
  in?: string;
  out: string;
  /** Where plates lie here, by their names. */
  plates: ReadonlyMap<string, string>;
  threads: number;
  resume?: boolean;
  dryRun?: boolean;
  /** A recipe of an engine of another version is made all the same. */
  otherEngine?: boolean;
}

/** What of the footage does not go on, by one of its frames: that is held no longer than it takes. */
async function lossesBySample(order: RenderJob): Promise<string[]> {
  const frame = sampleFrame(order.frames, order.source.frames);
  return lossesOfJob(order, await loadFrame(order.source, frame, readingFor(order)));
}

/** Makes a render again, from the recipe it left: the same bytes. */
export async function renderRecipe(options: RecipeOptions): Promise<void> {
  const { recipe: path, out } = options;
  const recipe = parse(path, recipeSchema);
  if (recipe.engine !== ENGINE_VERSION && !options.otherEngine)
    throw new UsageError(
      `${path}: was made by ${recipe.program}, whose engine is ${recipe.engine}; this is Pale Halo ${version} with engine ${ENGINE_VERSION}, which makes other pixels. --other-engine makes it all the same`,
    );
  const output = parsePattern(out);
  try {
    const { job, texts } = await jobOfRecipe(recipe, { input: options.in, plates: options.plates, output: out });
    const frames = [...framesIn(job.frames)];
    if (frames.length > 1 && !isSequence(output) && !isOneFile(out, output))
      throw new UsageError(`--out ${out}: ${frames.length} frames need a number in the name, for example out.%04d.exr`);
    const written = isSequence(output) ? frames.map((number) => fileOf(output, number)) : [out];
    const footage = [...framesIn(job.source.frames)].map((number) => fileAt(job.source.pattern, number).path);
    refuseOverwriting(
      "--out",
      [...written, recipePath(output), ...soundBeside(job.source, job.frames, output)],
      [{ path, what: "the recipe" }, ...footage.map((file) => ({ path: file, what: "the footage" }))],
    );
    prepareOutput("--out", output.folder, options.dryRun);
    const isMovie = isOneFile(out, output);
    const order = {
      ...job,
      texts,
      resume: (options.resume ?? false) && !isMovie,
      sink: isMovie ? oneFileSink(out, soundOf(job.source, job.frames)) : framesSink(job.frames),
    };
    await performJob(order, await lossesBySample(order), options);
  } catch (error) {
    throw error instanceof RecipeProblem ? new UsageError(error.message) : error;
  }
}
