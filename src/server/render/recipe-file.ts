/** A recipe as a file: everything a render was made of, whole, and its footage by content; the same bytes are made of it again. */
import { readFileSync } from "node:fs";
import { basename, join } from "node:path";
import { z } from "zod";
import { type Encoding, ENCODING_NAMES, encodingByName } from "../../core/colour/encodings";
import { ownEncodingSchema } from "../../core/colour/own-encoding";
import { ENGINE_VERSION } from "../../core/engine/version";
import { framesIn, hasFrame, rangesOf } from "../../core/frame/ranges";
import { DEPTHS } from "../../core/image/image";
import { filterOf } from "../../core/look/glass";
import { type LookElement, lookSchema } from "../../core/look/look";
import { cabinetOf, type Profile, profileSchema } from "../../core/profile/profiles";
import { encodingFrom, readTable } from "../encodings/own-encoding";
import { type Pattern, parsePattern, stemOf } from "../footage/sequence";
import { fileAt, openSource, type Source } from "../footage/source";
import { hashOf } from "../storage/content";
import { writeWhole } from "../storage/files";
import type { ReadFile, ReadFiles } from "../../store/schema/schema";
import { canonicalJson } from "./canonical";
import { countsFromShot } from "./recipe";
import { type EncodingText, LAYER_POLICIES, type PlateFootage, type RecipeTexts, type RenderJob } from "./job";
import { version } from "../../../package.json";

/** An encoding by its name, or one of the user's own, whole. */
const encodingSchema = z.union([z.enum(ENCODING_NAMES), ownEncodingSchema]);

export const encodingOfText = (text: EncodingText): Encoding =>
  typeof text === "string" ? encodingByName(text) : encodingFrom(text);

const rangesSchema = z.array(z.tuple([z.number().int(), z.number().int()]));
const choiceSchema = z
  .object({
    part: z.string(),
    layer: z.string(),
    depthChannel: z.string(),
    overscan: z.union([z.boolean(), z.literal("all")]),
    withoutDepth: z.boolean(),
    matrix: z.string(),
    range: z.enum(["full", "limited"]),
  })
  .partial()
  .strict();
const gapsSchema = z.enum(["hold", "black", "refuse"]);
const inputSchema = z.object({
  /** Where it lay, for people. */
  pattern: z.string(),
  /** What was read, by the first frame that lies in it: all frames of a movie lie in one file. */
  files: z.array(z.object({ frame: z.number().int(), name: z.string(), sha256: z.string().length(64) }).strict()),
});

export const recipeSchema = z
  .object({
    format: z.literal("pale-halo-recipe"),
    version: z.literal(1),
    program: z.string(),
    engine: z.number().int(),
    look: lookSchema,
    profiles: z.array(profileSchema),
    tables: z.array(z.object({ id: z.string(), file: z.string(), text: z.string() }).strict()),
    inEncoding: encodingSchema,
    outEncoding: encodingSchema.nullable(),
    frames: rangesSchema,
    shot: rangesSchema,
    choice: choiceSchema.optional(),
    gaps: gapsSchema.optional(),
    depth: z.enum(DEPTHS),
    compression: z.string().optional(),
    framesPerSecond: z.number().positive().optional(),
    scale: z.number().positive(),
    overscan: z.union([z.number().nonnegative(), z.literal("keep")]).optional(),
    layers: z.enum(LAYER_POLICIES).optional(),
    slate: z.string().max(1000).optional(),
    input: inputSchema.strict(),
    plates: z.array(
      inputSchema
        .extend({
          name: z.string(),
          frames: rangesSchema,
          choice: choiceSchema.optional(),
          gaps: gapsSchema.optional(),
          encoding: encodingSchema,
        })
        .strict(),
    ),
  })
  .strict();
export type RecipeFile = z.infer<typeof recipeSchema>;

/** The profiles that a job's look names. */
function profilesOf({ look, cabinet }: RenderJob): Profile[] {
  const filters = (look.elements as LookElement[]).map((element) => cabinet.filters.get(filterOf(element) ?? ""));
  const lenses = [look.lens.profile, look.camera.taking?.profile].map((id) => cabinet.lenses.get(id ?? ""));
  return [...new Set([...lenses, ...filters])].filter((profile) => profile !== undefined);
}

/** All of a recipe but its footage: the same on every machine. */
export function recipeTerms(job: RenderJob, texts: RecipeTexts) {
  const { look, frames, shot, choice, gaps, depth, compression, framesPerSecond, scale, overscan, layers } = job;
  return {
    format: "pale-halo-recipe" as const,
    version: 1 as const,
    program: `Pale Halo ${version}`,
    engine: ENGINE_VERSION,
    look,
    profiles: profilesOf(job),
    tables: texts.tables.filter(({ id }) => id === look.view.lut),
    inEncoding: texts.inEncoding,
    outEncoding: texts.outEncoding,
    ...{ frames, shot, choice, gaps, depth, compression, framesPerSecond, scale },
    overscan: overscan === Infinity ? ("keep" as const) : overscan,
    layers,
    slate: job.slate,
  };
}

/**
 * What every frame says of its recipe, as far as it decides its pixels: not which frames were made with it, nor what the
 * look is called, nor how long a shot is where nothing counts from its ends.
 */
export function termsInFrames(job: RenderJob, texts: RecipeTexts): string {
  const { frames: _, shot, look, ...rest } = recipeTerms(job, texts);
  return canonicalJson({
    ...rest,
    ...(countsFromShot(look) ? { shot } : {}),
    look: { ...look, name: undefined },
  });
}

type Files = ReadFile[];

const shownPattern = ({ folder, before, digits, after }: Pattern) =>
  join(folder, digits ? `${before}%0${digits}d${after}` : before + after);

/** Files of a source that were read, with their contents. */
function filesOf({ pattern, frames }: Source, contents: ReadonlyMap<string, string>): Files {
  const files = new Map<string, Files[number]>();
  for (const frame of framesIn(frames)) {
    const { path } = fileAt(pattern, frame);
    const sha256 = contents.get(path);
    if (sha256 && !files.has(path)) files.set(path, { frame, name: basename(path), sha256 });
  }
  return [...files.values()];
}

/** The name of a render's recipe, beside its frames: `out.exr.recipe.json` of `out.0001.exr`. */
export function recipePath(pattern: Pattern): string {
  const { folder, before, digits, after } = pattern;
  const stem = digits ? `${stemOf(pattern)}${after}` : before;
  return join(folder, `${stem}.recipe.json`);
}

const joined = (one: Files, other: Files): Files => [
  ...new Map([...one, ...other].map((file) => [file.frame, file])).values(),
];

/** A recipe with the frames of one that stands there already, where the two differ in their frames alone. */
function withStanding(recipe: RecipeFile, path: string): RecipeFile {
  try {
    const before = recipeSchema.parse(JSON.parse(readFileSync(path, "utf8")));
    const bare = ({ frames: _, input, plates, ...rest }: RecipeFile) =>
      canonicalJson([rest, input.pattern, plates.map(({ files: __, ...plate }) => plate)]);
    if (bare(before) !== bare(recipe)) return recipe;
    return {
      ...recipe,
      frames: [
        ...rangesOf([...new Set([...framesIn(before.frames), ...framesIn(recipe.frames)])].sort((a, b) => a - b)),
      ].map(([first, last]) => [first, last]),
      input: { ...recipe.input, files: joined(before.input.files, recipe.input.files) },
      plates: recipe.plates.map((plate, i) => ({ ...plate, files: joined(before.plates[i]!.files, plate.files) })),
    };
  } catch {
    return recipe;
  }
}

/** What was read for a job, in a recipe's words. `contents`: hashes of the files that were read, by their paths. */
export const readFiles = ({ source, plates }: RenderJob, contents: ReadonlyMap<string, string>): ReadFiles => ({
  input: filesOf(source, contents),
  plates: [...(plates?.values() ?? [])].map((plate) => filesOf(plate.source, contents)),
});

/** What was read for several parts of one job. */
export const joinedReads = (reads: readonly ReadFiles[]): ReadFiles =>
  reads.reduce(
    (all, { input, plates }) => ({
      input: joined(all.input, input),
      plates: plates.map((files, i) => joined(all.plates[i] ?? [], files)),
    }),
    { input: [], plates: [] },
  );

/** Writes the recipe of a render beside it. */
export async function writeRecipe(job: RenderJob, texts: RecipeTexts, read: ReadFiles): Promise<void> {
  const recipe: RecipeFile = recipeSchema.parse({
    ...JSON.parse(JSON.stringify(recipeTerms(job, texts))),
    input: { pattern: shownPattern(job.source.pattern), files: read.input },
    plates: [...(job.plates ?? [])].map(([name, { source, frames, choice, gaps }], i) => ({
      name,
      frames,
      choice,
      gaps,
      encoding: texts.plateEncodings.get(name),
      pattern: shownPattern(source.pattern),
      files: read.plates[i] ?? [],
    })),
  });
  const path = recipePath(job.output);
  await writeWhole(path, Buffer.from(`${JSON.stringify(withStanding(recipe, path), null, 1)}\n`));
}

/** A recipe that cannot be made again here, and why. */
export class RecipeProblem extends Error {}

/** Opens footage that is to be what a recipe was made of. Throws RecipeProblem that names the first file that is not. */
async function openSame(what: string, pattern: string, files: RecipeFile["input"]["files"]): Promise<Source> {
  const source = openSource(pattern);
  if (!source.frames.length) throw new RecipeProblem(`${what} ${pattern}: there is no such footage`);
  for (const { frame, name, sha256 } of files) {
    const isThere = hasFrame(source.frames, frame);
    if (isThere && (await hashOf(fileAt(source.pattern, frame).path)) === sha256) continue;
    const problem = isThere ? "is another" : "is missing";
    throw new RecipeProblem(
      `${what} ${pattern}: is not what the recipe was made of: frame ${frame} (${name}) ${problem}`,
    );
  }
  return source;
}

/**
 * The job that makes a recipe's render again. `input` and `plates` (by name): where the footage lies here, else where it
 * lay. Throws RecipeProblem.
 */
export async function jobOfRecipe(
  recipe: RecipeFile,
  { input, plates, output }: { input?: string; plates: ReadonlyMap<string, string>; output: string },
): Promise<{ job: Omit<RenderJob, "resume">; texts: RecipeTexts }> {
  const { overscan, choice, input: recorded } = recipe;
  const laid = new Map<string, PlateFootage>();
  for (const plate of recipe.plates) {
    const source = await openSame(`--plate ${plate.name}`, plates.get(plate.name) ?? plate.pattern, plate.files);
    const { frames, gaps, encoding } = plate;
    laid.set(plate.name, {
      source,
      frames,
      gaps,
      choice: plate.choice as PlateFootage["choice"],
      encoding: encodingOfText(encoding),
    });
  }
  const tables = recipe.tables.map(({ id, file, text }) => [id, readTable(file, text)] as const);
  const job: Omit<RenderJob, "resume"> = {
    look: recipe.look,
    cabinet: cabinetOf(recipe.profiles, tables),
    plates: laid,
    source: await openSame("--in", input ?? recorded.pattern, recorded.files),
    choice: choice as RenderJob["choice"],
    gaps: recipe.gaps,
    frames: recipe.frames,
    shot: recipe.shot,
    output: parsePattern(output),
    inEncoding: encodingOfText(recipe.inEncoding),
    outEncoding: recipe.outEncoding && encodingOfText(recipe.outEncoding),
    depth: recipe.depth,
    compression: recipe.compression,
    framesPerSecond: recipe.framesPerSecond,
    scale: recipe.scale,
    overscan: overscan === "keep" ? Infinity : overscan,
    layers: recipe.layers,
    slate: recipe.slate,
  };
  const plateEncodings = new Map(recipe.plates.map(({ name, encoding }) => [name, encoding]));
  const { inEncoding, outEncoding } = recipe;
  return { job, texts: { inEncoding, outEncoding, tables: recipe.tables, plateEncodings } };
}
