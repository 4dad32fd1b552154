/** What may go along with a render's frames, for who is handed them: a table, distortion maps, the glass sheet. */
import { join } from "node:path";
import type { Beside } from "../../contract/renders";
import { encodingByName } from "../../core/colour/encodings";
import { workOf } from "../../core/elements/definition";
import { definitionOf } from "../../core/elements/registry";
import type { Engine } from "../../core/engine/engine";
import { DEFAULT_RATE, type ShotFrame } from "../../core/frame/context";
import { firstOf, framesIn, lastOf } from "../../core/frame/ranges";
import { overscanNeeded } from "../../core/judge/overscan";
import { madeBy, placesAtRest, placesThrough } from "../../core/judge/places";
import { placesMap } from "../../core/export/places-map";
import { lookAt } from "../../core/look/at-frame";
import { placesOnly } from "../../core/look/moved";
import { glassSheet } from "../../core/sheet/contents";
import { sheetHtml } from "../../core/sheet/html";
import { version } from "../../../package.json";
import type { Decoded } from "../../formats/format";
import { fileOfMap } from "../cabinet/files";
import { stemOf, storedName } from "../footage/sequence";
import { tableProblem, tableText } from "../readers/table";
import { loadFrame } from "../footage/source";
import { writeWhole } from "../storage/files";
import type { RenderJob } from "./job";

/** Entries a side of the table. */
const TABLE_SIZE = 33;
/** What a table takes where the footage's own encoding is none for it. */
const TABLE_ENCODING = "acescct";

/** The part of the look that depends on no neighbour, as its first frame has it. */
function table(engine: Engine, { look, cabinet, inEncoding, outEncoding, frames }: RenderJob) {
  const format = "cube" as const;
  const input = tableProblem({ format, input: inEncoding }) ? encodingByName(TABLE_ENCODING) : inEncoding;
  const order = { format, size: TABLE_SIZE, input, throughView: !outEncoding, frame: firstOf(frames) } as const;
  return Buffer.from(tableText(engine, look, cabinet, order));
}

/** What a look's geometry is at a frame: alike where nothing of it changes. */
function geometryAt({ look, cabinet }: RenderJob, at: ShotFrame): string {
  const { elements, context } = lookAt(placesOnly(look, lookAt(look, cabinet, at)), cabinet, at);
  const terms = elements
    .filter(({ isActive }) => isActive)
    .map(({ kind, state }) => {
      const work = workOf(definitionOf(kind), state);
      return work.kind === "geometry" ? work.terms(state, context) : null;
    });
  return JSON.stringify([terms, context.focalLength, context.taken]);
}

/**
 * Maps of what moves the picture, put on and taken off, as the render did it: a pair for all frames, or, where the
 * geometry changes, one for each. None where nothing moves it.
 */
async function* maps(engine: Engine, job: RenderJob, first: ShotFrame): AsyncGenerator<[name: string, bytes: Buffer]> {
  const { look, cabinet, frames, output } = job;
  const all = [...framesIn(frames)].map((frame) => ({ ...first, frame }));
  const isTimed = new Set(all.map((at) => geometryAt(job, at))).size > 1;
  for (const at of isTimed ? all : [first]) {
    const moved = placesThrough(look, cabinet, at, madeBy(engine, cabinet, at));
    if (!moved && !isTimed) return;
    const places = moved ?? placesAtRest(at);
    const number = isTimed ? `.${String(at.frame).padStart(output.digits, "0")}` : "";
    yield [`distortion${number}.exr`, await fileOfMap(placesMap(places), at)];
    yield [`distortion-off${number}.exr`, await fileOfMap(placesMap(places, true), at)];
  }
}

function sheet(engine: Engine, job: RenderJob, at: ShotFrame, { info, z }: Decoded): Buffer {
  const { look, cabinet, source, frames, inEncoding } = job;
  const stem = stemOf(job.output);
  const shot = {
    ...{ name: stem, footage: storedName(source.pattern), width: at.width, height: at.height, frames },
    ...{ encoding: inEncoding.label, frameRate: at.frameRate ?? DEFAULT_RATE, timeCode: info.timeCode ?? null },
    hasDepth: z !== undefined,
  };
  const overscan = overscanNeeded(look, cabinet, at, madeBy(engine, cabinet, at));
  return Buffer.from(sheetHtml(glassSheet(look, cabinet, shot, overscan), `Pale Halo ${version}.`));
}

/** Writes what goes along with a render's frames into their folder. */
export async function writeBesides(engine: Engine, job: RenderJob, wanted: readonly Beside[]): Promise<void> {
  if (!wanted.length) return;
  const { source, choice, gaps, frames, output, shot } = job;
  const sample = await loadFrame(source, firstOf(frames), choice, gaps);
  const { width, height, framesPerSecond } = sample.info;
  const at: ShotFrame = {
    ...{ width, height, frame: firstOf(frames), hasDepth: sample.z !== undefined },
    frameRate: job.framesPerSecond ?? framesPerSecond,
    shot: { first: firstOf(shot), last: lastOf(shot) },
  };
  const put = (ending: string, bytes: Buffer) => writeWhole(join(output.folder, `${stemOf(output)}.${ending}`), bytes);
  if (wanted.includes("table")) await put("cube", table(engine, job));
  if (wanted.includes("maps")) for await (const [ending, bytes] of maps(engine, job, at)) await put(ending, bytes);
  if (wanted.includes("sheet")) await put("html", sheet(engine, job, at, sample));
}
