import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { writeExr } from "../../formats/exr/write";
import { lookOf } from "../../testing/laboratory";
import { startEngine } from "../engine/engine";
import { parsePattern } from "../footage/sequence";
import { openSource } from "../footage/source";
import type { RenderJob } from "./job";
import { jobOfRecipe, type RecipeFile, recipeSchema } from "./recipe-file";
import { renderFrames } from "./render";

const { engine, close } = startEngine(1);
const folder = mkdtempSync(join(tmpdir(), "halo-recipe-"));
afterAll(() => {
  close();
  rmSync(folder, { recursive: true, force: true });
});
const [WIDTH, HEIGHT] = [96, 54];
const own = {
  format: "pale-halo-encoding" as const,
  version: 1 as const,
  kind: "log" as const,
  id: "own-log",
  name: "Own log",
  log: { base: 2, logSideSlope: 0.1, logSideOffset: 0.4, linSideSlope: 1, linSideOffset: 0.01 },
  matrix: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ] as [[number, number, number], [number, number, number], [number, number, number]],
};

/** Three frames with a lamp that moves, in a folder. */
async function footageIn(name: string): Promise<string> {
  mkdirSync(join(folder, name));
  for (const frame of [1, 2, 3]) {
    const data = Float32Array.from({ length: 4 * WIDTH * HEIGHT }, (_, i) =>
      i % 4 === 3 ? 1 : 0.05 + (i % (97 * frame)) / 500,
    );
    data.fill(20, 4 * (WIDTH * 20 + 10 * frame), 4 * (WIDTH * 20 + 10 * frame + 3));
    writeFileSync(
      join(folder, name, `in.000${frame}.exr`),
      await writeExr({ width: WIDTH, height: HEIGHT, data }, { depth: "half" }),
    );
  }
  return join(folder, name, "in.%04d.exr");
}

const look = lookOf([{ kind: "diffusion", params: { profile: "milkglass", grade: "1/4" } }, { kind: "grain" }]);
const NO_EVENTS = { done: () => {}, failed: (_: number, reason: string) => expect(reason).toBe("") };

async function rendered(pattern: string, output: string, more: Partial<RenderJob> = {}): Promise<RecipeFile> {
  const source = openSource(pattern);
  const texts = {
    inEncoding: "linear-ap1" as const,
    outEncoding: null,
    tables: [],
    plateEncodings: new Map(),
  };
  const job: RenderJob = {
    ...{ look, source, texts, frames: [[1, 2]], shot: [[1, 3]], scale: 1, resume: false, depth: "half" },
    cabinet: cabinetOf(demoProfiles()),
    output: parsePattern(join(folder, output)),
    inEncoding: encodingByName("linear-ap1"),
    outEncoding: null,
    ...more,
  };
  mkdirSync(job.output.folder, { recursive: true });
  await renderFrames(engine, job, NO_EVENTS);
  const path = join(job.output.folder, "out.exr.recipe.json");
  return recipeSchema.parse(JSON.parse(readFileSync(path, "utf8")));
}

const bytesOf = (name: string, frame: number) => readFileSync(join(folder, name, `out.000${frame}.exr`));

test("a recipe gives the same bytes from the same footage elsewhere, whatever its time and however long the shot is there", async () => {
  const pattern = await footageIn("here");
  const recipe = await rendered(pattern, "first/out.%04d.exr");
  expect(recipe.profiles.map(({ id }) => id)).toEqual(["orrin-vale-50", "milkglass"]);
  expect(recipe.input.files.map(({ name }) => name)).toEqual(["in.0001.exr", "in.0002.exr"]);
  mkdirSync(join(folder, "there"));
  for (const frame of [1, 2]) {
    copyFileSync(join(folder, "here", `in.000${frame}.exr`), join(folder, "there", `in.000${frame}.exr`));
    utimesSync(join(folder, "there", `in.000${frame}.exr`), 1, 1);
  }
  const where = {
    input: join(folder, "there", "in.%04d.exr"),
    plates: new Map(),
    output: join(folder, "again/out.%04d.exr"),
  };
  const { job, texts } = await jobOfRecipe(recipe, where);
  mkdirSync(job.output.folder);
  await renderFrames(engine, { ...job, texts, resume: false }, NO_EVENTS);
  for (const frame of [1, 2]) expect(bytesOf("again", frame).equals(bytesOf("first", frame))).toBe(true);
  await rendered(where.input, "shorter/out.%04d.exr", { shot: [[1, 2]] });
  expect(bytesOf("shorter", 1).equals(bytesOf("first", 1))).toBe(true);
});

test("footage that is not what it was made of is refused by the name of the first file", async () => {
  const recipe = await rendered(await footageIn("source"), "second/out.%04d.exr");
  writeFileSync(join(folder, "source", "in.0002.exr"), readFileSync(join(folder, "source", "in.0003.exr")));
  const wanted = { plates: new Map(), output: join(folder, "never/out.%04d.exr") };
  await expect(jobOfRecipe(recipe, wanted)).rejects.toThrow(/frame 2 \(in\.0002\.exr\) is another/);
});

test("frames that are made later join the recipe that stands there; another look begins it anew", async () => {
  const pattern = await footageIn("long");
  await rendered(pattern, "joined/out.%04d.exr");
  const both = await rendered(pattern, "joined/out.%04d.exr", { frames: [[3, 3]] });
  expect([both.frames, both.input.files.length]).toEqual([[[1, 3]], 3]);
  const other = await rendered(pattern, "joined/out.%04d.exr", { frames: [[3, 3]], look: { ...look, strength: 0.5 } });
  expect(other.frames).toEqual([[3, 3]]);
});

test("an encoding of one's own is in the recipe, whole", async () => {
  const pattern = await footageIn("log");
  const recipe = await rendered(pattern, "own/out.%04d.exr", {
    texts: { inEncoding: own, outEncoding: null, tables: [], plateEncodings: new Map() },
  });
  expect(recipe.inEncoding).toMatchObject({ id: "own-log", log: own.log });
});
