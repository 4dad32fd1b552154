import { type FileHandle, open, readdir, stat } from "node:fs/promises";
import { join } from "node:path";
import { BROWSER_MOVIES, type BrowserMovie, MOVIE_TYPES, type MovieExtension } from "../../contract/renders";
import type { Database } from "../../store/database";
import type { Render } from "../../store/queries";
import { MAX_MOVIE } from "../http/guard";
import { notFound, Refusal } from "../errors/errors";
import { partsOf } from "../http/reply";
import { discard, finish, temporaryFor, writeAll } from "../storage/files";
import { ensureRoom } from "../storage/room";
import { withoutFrame } from "../../contract/naming";
import { folderOf, renderNamed, stemOf } from "./deliver";

/** Movies in a render's folder: those that browsers made of its frames, and those that it is itself. */
const EXTENSIONS = Object.keys(MOVIE_TYPES) as MovieExtension[];
const FROM_BROWSERS = Object.keys(BROWSER_MOVIES) as BrowserMovie[];

function kindOf<T extends string>(named: string | null, kinds: readonly T[]): T {
  const kind = kinds.find((entry) => entry === named);
  if (!kind) throw new Refusal("invalid", `kind: is one of ${kinds.join(", ")}`);
  return kind;
}

/** How a movie file begins: MP4 with a box named ftyp (ISO/IEC 14496-12), WebM with an EBML head (RFC 8794). */
const EBML = Buffer.of(0x1a, 0x45, 0xdf, 0xa3);
const HEAD_BYTES = 8;
const begins: Record<BrowserMovie, (head: Buffer) => boolean> = {
  mp4: (head) => head.toString("latin1", 4, 8) === "ftyp",
  webm: (head) => head.subarray(0, 4).equals(EBML),
};

const nameOf = (render: Pick<Render, "stem" | "shotId">, kind: MovieExtension) =>
  `${withoutFrame(stemOf(render))}.${kind}`;

/**
 * Keeps a movie that the browser made beside the frames it is made of. It is whole, or not there. `length`: of the
 * body, bytes.
 */
export async function keepMovie(
  db: Database,
  id: string,
  named: string | null,
  body: ReadableStream<Uint8Array> | null,
  length: number,
): Promise<{ file: string }> {
  const kind = kindOf(named, FROM_BROWSERS);
  const render = await renderNamed(db, id);
  if (render.format === kind) throw new Refusal("conflict", `Render ${id} is a movie itself, of this name`);
  const path = join(/*turbopackIgnore: true*/ folderOf(render), nameOf(render, kind));
  if (!(await stat(folderOf(render)).catch(() => null))) throw notFound(`The folder of render ${id}`);
  await ensureRoom(folderOf(render), length);
  const temporary = temporaryFor(path);
  try {
    const file = await open(temporary, "w");
    let size = 0;
    let head = Buffer.alloc(0);
    try {
      for await (const bytes of partsOf(body, MAX_MOVIE)) {
        if (head.length < HEAD_BYTES) head = Buffer.concat([head, bytes.subarray(0, HEAD_BYTES)]);
        size += bytes.length;
        await writeAll(file, bytes);
      }
    } finally {
      await file.close();
    }
    if (!begins[kind](head)) throw new Refusal("invalid", `What was sent is no ${kind.toUpperCase()} movie`);
    if (length > 0 && size !== length)
      throw new Refusal("invalid", `The movie broke off after ${size} of ${length} bytes`);
    await finish(temporary, path, size);
  } catch (error) {
    await discard(temporary);
    throw error;
  }
  return { file: nameOf(render, kind) };
}

/** Names of the movies made of a render. */
export async function moviesOf(render: Pick<Render, "stem" | "shotId" | "folder">): Promise<string[]> {
  const names = await readdir(folderOf(render)).catch(() => []);
  return names.filter((name) => EXTENSIONS.some((kind) => name === nameOf(render, kind)));
}

/** A file piece by piece, opened when the first is asked for: a HEAD asks for none. */
export function streamOf(path: string): ReadableStream<Uint8Array> {
  let file: FileHandle | null = null;
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        file ??= await open(path);
        const { bytesRead, buffer } = await file.read(new Uint8Array(PIECE), 0, PIECE);
        if (bytesRead) return controller.enqueue(buffer.subarray(0, bytesRead));
        await file.close();
        controller.close();
      },
      cancel: () => file?.close(),
    },
    { highWaterMark: 0 },
  );
}
const PIECE = 2 ** 18;

export async function movieFile(db: Database, id: string, named: string | null): Promise<Response> {
  const kind = kindOf(named, EXTENSIONS);
  const render = await renderNamed(db, id);
  const name = nameOf(render, kind);
  const path = join(/*turbopackIgnore: true*/ folderOf(render), name);
  const found = await stat(/*turbopackIgnore: true*/ path).catch(() => null);
  if (!found) throw notFound(`A movie ${name} of render ${id}`);
  return new Response(streamOf(path), {
    headers: {
      "content-type": MOVIE_TYPES[kind],
      "content-length": String(found.size),
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
}
