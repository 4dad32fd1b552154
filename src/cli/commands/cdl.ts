import { dirname, extname } from "node:path";
import { Command } from "commander";
import { ENCODINGS } from "../../core/colour/encodings";
import { MAX_FRAME } from "../../core/frame/ranges";
import { lookAt } from "../../core/look/at-frame";
import { addCorrection, CORRECTION_SPACE, correctionsIn } from "../../core/look/correction";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { CDL_KINDS, type CdlKind, readCdl, writeCdl } from "../../formats/cdl/cdl";
import { readLook, readText } from "../files";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { numberOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

interface Options extends Doing {
  look: string;
  in?: string;
  out: string;
  id?: string;
  space: string;
  element?: string;
  frame: number;
}

/** Brings a correction into a look, behind its other elements. */
function lookWith({ look: path, in: file, id, space }: Options) {
  if (!ENCODINGS.some(({ name }) => name === space))
    throw new UsageError(`--space ${space}: is no encoding; bin/halo encodings lists them`);
  const all = readCdl(file!, readText(file!));
  const chosen = id === undefined ? all[0] : all.find((one) => one.id === id);
  if (!chosen) throw new UsageError(`--id ${id}: ${file} has ${all.map((one) => one.id).join(", ")}`);
  if (id === undefined && all.length > 1) console.error(`${file}: “${chosen.id}”, the first of ${all.length}`);
  return { look: addCorrection(readLook(path), chosen, space), id: chosen.id };
}

/** What the trims of a look do, as a file of corrections. */
function correctionsFrom({ look: path, element, frame, out }: Options) {
  const kind = extname(out).slice(1).toLowerCase() as CdlKind;
  const look = readLook(path);
  const at = lookAt(look, cabinetOf(demoProfiles()), { width: 1920, height: 1080, frame });
  const found = correctionsIn(look, at).filter((one) => element === undefined || one.element === element);
  if (!found.length)
    throw new UsageError(
      element ? `--element ${element}: is no trim of ${path} that does anything` : `${path}: has no trim`,
    );
  if (kind === "cc" && found.length > 1)
    throw new UsageError(
      `--out ${out}: holds one correction; say which with --element ${found.map((one) => one.element).join(" or ")}`,
    );
  return {
    found,
    text: writeCdl(
      found.map(({ correction }) => correction),
      kind,
    ),
  };
}

async function run(options: Options): Promise<void> {
  const { look, in: file, out, json } = options;
  const isLook = extname(out).toLowerCase() === ".json";
  if (isLook !== Boolean(file))
    throw new UsageError(
      `--out ${out}: is a look (.json) with --in, and ${CDL_KINDS.map((kind) => `.${kind}`).join(", ")} without`,
    );
  if (!isLook && !CDL_KINDS.includes(extname(out).slice(1).toLowerCase() as CdlKind))
    throw new UsageError(`--out ${out}: ends in ${CDL_KINDS.map((kind) => `.${kind}`).join(", ")}`);
  refuseOverwriting(
    "--out",
    [out],
    [{ path: look, what: "the look" }, ...(file ? [{ path: file, what: "the correction" }] : [])],
  );
  prepareOutput("--out", dirname(out), options.dryRun);
  if (isLook) {
    const made = lookWith(options);
    await putFile(out, Buffer.from(`${JSON.stringify(made.look, null, 1)}\n`), options);
    console.log(
      json
        ? JSON.stringify({ out, correction: made.id, space: options.space })
        : `${out}: with “${made.id}”, in ${options.space}`,
    );
    return;
  }
  const { found, text } = correctionsFrom(options);
  await putFile(out, Buffer.from(text), options);
  if (json) return console.log(JSON.stringify({ out, corrections: found }));
  for (const { element, space, leftOut } of found)
    console.log(`${out}: ${element}, in ${space}${leftOut.length ? `; left out: ${leftOut.join("; ")}` : ""}`);
}

export const cdlCommand = (): Command =>
  new Command("cdl")
    .description("Brings an ASC CDL correction into a look, or writes what a look’s trims do as corrections")
    .requiredOption("--look <file>", "the look, JSON")
    .option("--in <file>", "the correction that comes in: .cdl, .ccc or .cc")
    .requiredOption("--out <file>", "the look with it (.json), or the corrections that go out (.cdl, .ccc, .cc)")
    .option("--id <name>", "which of a file’s corrections; else the first")
    .option("--space <encoding>", "the encoding that it was made in", CORRECTION_SPACE)
    .option("--element <id>", "which of the look’s trims goes out; else all of them")
    .option("--frame <n>", "the frame at which what is timed is taken", numberOption(-MAX_FRAME, MAX_FRAME, true), 0)
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
