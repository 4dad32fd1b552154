import { createHash } from "node:crypto";
import { statSync } from "node:fs";
import type { Encoding } from "../../core/colour/encodings";
import type { Transform } from "../../core/colour/transform/transform";
import { ENGINE_VERSION } from "../../core/engine/version";
import { firstOf, framesIn, lastOf } from "../../core/frame/ranges";
import { filterOf } from "../../core/look/glass";
import type { LookElement } from "../../core/look/look";
import { placeOf } from "../shots/source";
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

const sizeAndTime = (path: string) => {
  const { size, mtimeMs } = statSync(path);
  return [size, mtimeMs];
};

function plateParts([name, { source, frames, choice, gaps, encoding }]: [string, PlateFootage]) {
  const hash = createHash("sha256");
  // The file of each frame, or the one file that holds them all.
  let before = "";
  for (const frame of framesIn(source.frames)) {
    const { path } = placeOf(source.pattern, frame);
    if (path !== before) hash.update(sizeAndTime(path).join(" "));
    before = path;
  }
  return [name, source.pattern, source.frames, frames, hash.digest("hex"), choice, gaps, encodingParts(encoding)];
}

/** What decides the pixels of every frame of a job alike. */
function sharedParts(job: RenderJob): string {
  const { look, cabinet, plates, shot, inEncoding, outEncoding, depth, compression, scale, choice, gaps } = job;
  const filters = (look.elements as LookElement[]).map((element) => cabinet.filters.get(filterOf(element) ?? ""));
  const lens = look.lens.profile && cabinet.lenses.get(look.lens.profile);
  const table = look.view.lut !== undefined && cabinet.tables.get(look.view.lut);
  const { name: _, ...recipe } = look;
  return JSON.stringify([
    ENGINE_VERSION,
    [...(plates ?? [])].map(plateParts),
    [firstOf(shot), lastOf(shot)],
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
  ]);
}

/** Gives the hash of all that decides a frame's pixels, by its input's file. What all frames share is looked at once. */
export function recipes(job: RenderJob): (input: string) => string {
  const shared = sharedParts(job);
  return (input) =>
    createHash("sha256")
      .update(shared)
      .update(JSON.stringify(sizeAndTime(input)))
      .digest("hex")
      .slice(0, 32);
}
