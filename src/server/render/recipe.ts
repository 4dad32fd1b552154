import { createHash } from "node:crypto";
import { statSync } from "node:fs";
import type { Encoding } from "../../core/colour/encodings";
import type { Transform } from "../../core/colour/transform/transform";
import { ENGINE_VERSION } from "../../core/engine/version";
import { firstOf, framesIn, lastOf } from "../../core/frame/ranges";
import { definitionOf } from "../../core/elements/registry";
import { filterOf, platesIn } from "../../core/look/glass";
import type { LookElement } from "../../core/look/look";
import { fileAt } from "../footage/source";
import { hashOf } from "../storage/content";
import { canonicalJson } from "./canonical";
import type { PlateFootage, RenderJob } from "./job";

const contents = new WeakMap<Transform, string>();

/** A table's content as a hash, whatever it is called: two tables of one size are two recipes. */
function contentOf(table: Transform): string {
  let found = contents.get(table);
  if (!found) {
    const hash = createHash("sha256");
    for (const step of table.steps) {
      hash.update(JSON.stringify({ ...step, table: undefined }));
      if ("table" in step) hash.update(new Uint8Array(step.table.buffer, step.table.byteOffset, step.table.byteLength));
    }
    found = hash.digest("hex");
    contents.set(table, found);
  }
  return found;
}

/** Codes at which a transfer function is looked at: it is a function, and only what it gives can be told apart. */
const PROBES = Array.from({ length: 33 }, (_, i) => -0.25 + i / 16);

const encodingParts = (encoding: Encoding | null) =>
  encoding && [
    encoding.name,
    encoding.toWorking,
    PROBES.map(encoding.transfer.toLight),
    encoding.table && contentOf(encoding.table),
  ];

/** A file's bytes as a hash. Whoever asks again for the same file, unchanged, is told what was found before. */
function contentsOfFiles() {
  const known = new Map<string, { stamp: string; hash: Promise<string> }>();
  return {
    contentAt(path: string): Promise<string> {
      const { size, mtimeMs } = statSync(path);
      const stamp = `${size} ${mtimeMs}`;
      const before = known.get(path);
      if (before?.stamp === stamp) return before.hash;
      const hash = hashOf(path);
      known.set(path, { stamp, hash });
      return hash;
    },
    /** Everything that was asked for, and could be read. */
    async all(): Promise<Map<string, string>> {
      const found = new Map<string, string>();
      for (const [path, { hash }] of known) {
        const content = await hash.catch(() => null);
        if (content) found.set(path, content);
      }
      return found;
    },
  };
}

async function plateParts(
  [name, { source, frames, choice, gaps, encoding }]: [string, PlateFootage],
  contentAt: (path: string) => Promise<string>,
) {
  const hash = createHash("sha256");
  // The file of each frame, or the one file that holds them all.
  let before = "";
  for (const frame of framesIn(source.frames)) {
    const { path } = fileAt(source.pattern, frame);
    if (path !== before) hash.update(await contentAt(path));
    before = path;
  }
  return [name, source.frames, frames, hash.digest("hex"), choice, gaps, encodingParts(encoding)];
}

/** Whether a look counts from its shot's first frame, or holds its ends: by plates, and by other frames of the shot. */
export const countsFromShot = (look: RenderJob["look"]): boolean =>
  platesIn(look).length > 0 ||
  (look.elements as LookElement[]).some(({ kind }) => definitionOf(kind).framesBeside !== undefined);

/** What decides the pixels of every frame of a job alike. */
async function sharedParts(job: RenderJob, contentAt: (path: string) => Promise<string>): Promise<string> {
  const { look, cabinet, plates, shot, inEncoding, outEncoding, depth, compression, scale, choice, gaps } = job;
  const { framesPerSecond } = job;
  const { overscan = 0, layers = "drop", slate } = job;
  const filters = (look.elements as LookElement[]).map((element) => cabinet.filters.get(filterOf(element) ?? ""));
  const lens = look.lens.profile && cabinet.lenses.get(look.lens.profile);
  const { taking } = look.camera;
  const table = look.view.lut !== undefined && cabinet.tables.get(look.view.lut);
  const { name: _, ...recipe } = look;
  return canonicalJson([
    ENGINE_VERSION,
    await Promise.all([...(plates ?? [])].map((plate) => plateParts(plate, contentAt))),
    countsFromShot(look) ? [firstOf(shot), lastOf(shot)] : null,
    recipe,
    lens,
    filters,
    table ? contentOf(table) : null,
    encodingParts(inEncoding),
    encodingParts(outEncoding),
    depth,
    compression,
    scale,
    choice,
    gaps,
    // At the end, and only where there is one: renders without it are what they were.
    ...(taking ? [cabinet.lenses.get(taking.profile)] : []),
    ...(overscan || layers !== "drop" ? [String(overscan), layers] : []),
    ...(slate ? ["slate", slate, framesPerSecond] : []),
  ]);
}

/**
 * What a frame is made from: the frame that is read for it (its own number, another's that stands in, or none for
 * black), and its file.
 */
export interface FrameInput {
  number: number | null;
  path: string;
}

/**
 * Gives the hash of all that decides a frame's pixels: its number, and the content of the frames that are read for it
 * (footage may be replaced by other footage of the same size and time; a frame that was missing may be there by now).
 * What all frames share is looked at once.
 */
export async function recipes(job: RenderJob): Promise<{
  recipeOf(frame: number, inputs: FrameInput[]): Promise<string>;
  /** The files that were looked at, by their paths, and their contents. */
  contents(): Promise<Map<string, string>>;
}> {
  const { contentAt, all } = contentsOfFiles();
  const shared = await sharedParts(job, contentAt);
  return {
    contents: all,
    async recipeOf(frame, inputs) {
      const hash = createHash("sha256").update(shared).update(` ${frame}`);
      for (const { number, path } of inputs) hash.update(` ${number} ${number === null ? "" : await contentAt(path)}`);
      return hash.digest("hex").slice(0, 32);
    },
  };
}
