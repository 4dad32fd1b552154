import { join } from "node:path";
import { LRUCache } from "lru-cache";
import sharp from "sharp";
import { fileNameBy } from "../../contract/naming";
import { between, countOf, indexOfFrame, type Ranges, rangesOf } from "../../core/frame/ranges";
import { holdsAllFrames } from "../../formats/formats";
import type { Database } from "../../store/database";
import { framesMade } from "../../store/farm";
import { findRender, type Render } from "../../store/queries";
import { parseStored } from "../footage/sequence";
import { placeFor, sourceFor } from "../footage/source";
import { viewTable, viewTablesFor } from "../colour/tables";
import { readers } from "../readers/pool";
import type { Done } from "../readers/tasks";
import type { Deadline } from "../waiting/gate";
import { notFound } from "../errors/errors";
import { numberIn } from "../http/reply";
import { placeOf, renderRoots } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";
import { isLinearFile } from "./output";

export const rendersFolder = () => join(dataRoot(), "renders");
/** Where a render's files lie on this machine. Throws Refusal where its root is not named here. */
export const folderOf = ({ folder }: Pick<Render, "folder">): string =>
  placeOf(folder, renderRoots(), rendersFolder(), "HALO_RENDER_ROOTS");

type Named = Pick<Render, "stem" | "shotId" | "format">;

/** What the names of a render's files begin with. */
export const stemOf = ({ stem, shotId }: Pick<Render, "stem" | "shotId">): string => stem ?? shotId;

/** The files of a render, as a pattern; all frames of a movie lie in one. */
export const fileNameOf = (render: Named) =>
  fileNameBy(stemOf(render), render.format, holdsAllFrames(`x.${render.format}`));

export async function renderNamed(db: Database, id: string): Promise<Render> {
  const render = await findRender(db, numberIn(id, "Render"));
  if (!render) throw notFound(`Render ${id}`);
  return render;
}

/** The frames that can be looked at: each as it is made, or all of one file when it is whole. */
export async function framesThere(db: Database, render: Render): Promise<Ranges> {
  if (holdsAllFrames(fileNameOf(render))) return render.state === "done" ? render.frames : [];
  const rows = await framesMade(db, render.id);
  if (rows.length) return rangesOf(rows.map(({ frame }) => frame));
  // Of renders of before nothing is entered by frames.
  return render.state === "done" ? render.frames : [];
}

/** About what a rendered frame of unknown size takes in memory while it is read, bytes. */
const WEIGHT = 256 * 2 ** 20;

/** A rendered frame as a display shows it: RGBA of 8 bits. Working light goes through the look's own view. */
export async function renderedFrame(
  db: Database,
  id: string,
  frame: number,
  deadline: Deadline,
): Promise<Done["rendered"]> {
  const render = await renderNamed(db, id);
  const name = fileNameOf(render);
  const pattern = parseStored(join(folderOf(render), name));
  const isOne = holdsAllFrames(name);
  const number = isOne ? indexOfFrame(render.frames, frame) + 1 : frame;
  const source = isOne ? { pattern, frames: between(1, countOf(render.frames)) } : sourceFor(pattern);
  const file = placeFor(source, number);
  const isLight = !render.encoding && isLinearFile(name);
  const kept = render.snapshot?.tables.map((table) => viewTable(table, `render ${render.id} ${table.id}`));
  const tables = isLight ? (kept ?? (await viewTablesFor(db, render.look))) : [];
  const task = { file, look: isLight ? render.look : null, tables, frame };
  return readers().run("rendered", task, { key: `rendered ${id} ${frame}`, name, weight: WEIGHT, ...deadline });
}

/** Height of a small picture of a rendered frame, px. */
const THUMBNAIL_HEIGHT = 80;
const THUMBNAILS_KEPT = 1000;
const thumbnails = new LRUCache<string, Uint8Array<ArrayBuffer>>({ max: THUMBNAILS_KEPT });

/** A small JPEG of a rendered frame. */
export async function renderedThumbnail(
  db: Database,
  id: string,
  frame: number,
  deadline: Deadline,
): Promise<Uint8Array<ArrayBuffer>> {
  const key = `${id} ${frame}`;
  const found = thumbnails.get(key);
  if (found) return found;
  const { width, height, codes } = await renderedFrame(db, id, frame, deadline);
  const jpeg = await sharp(codes, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .resize({ height: THUMBNAIL_HEIGHT, withoutEnlargement: true })
    .jpeg()
    .toBuffer();
  const bytes = Uint8Array.from(jpeg);
  thumbnails.set(key, bytes);
  return bytes;
}
