import { randomBytes } from "node:crypto";
import { createReadStream } from "node:fs";
import { open, readdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { compile } from "../../core/engine/compile";
import { decodeImage, normalised, quantise } from "../../core/image/image";
import { encodingByName } from "../../core/colour/encodings";
import { cabinetOf } from "../../core/profile/profiles";
import type { Database } from "../../store/database";
import { findRender, listTables, type Render } from "../../store/queries";
import { notFound, Refusal } from "../api/respond";
import { readTable } from "../colour/made";
import { type NodeEngine, startEngine } from "../engine/engine";
import { loadFrame, openSource } from "../footage/source";
import { isLinearFile } from "./output";
import { rendersFolder } from "./queue";

/** Movies above this are not taken: a render's frames are for what is longer. */
const LARGEST_MOVIE = 4 * 2 ** 30;
const KINDS = { mp4: "video/mp4", webm: "video/webm" } as const;
type Kind = keyof typeof KINDS;

const folderOf = ({ folder }: Render) => join(rendersFolder(), folder);

async function renderNamed(db: Database, id: string): Promise<Render> {
  const render = await findRender(db, Number(id));
  if (!render) throw notFound(`Render ${id}`);
  return render;
}

let shown: NodeEngine | null = null;

/** A rendered frame as a display shows it: RGBA of 8 bits. Working light goes through the look's own view. */
export async function renderedFrame(
  db: Database,
  id: string,
  frame: number,
): Promise<{ width: number; height: number; codes: Uint8Array }> {
  const render = await renderNamed(db, id);
  const name = render.format === "y4m" ? `${render.shotId}.y4m` : `${render.shotId}.%04d.${render.format}`;
  const source = openSource(join(folderOf(render), name));
  const number = render.format === "y4m" ? render.frames.indexOf(frame) + 1 : frame;
  if (!source.frames.includes(number)) throw notFound(`Frame ${frame} of render ${id}`);
  const image = await loadFrame(source, number);
  const { width, height } = image;
  if (render.encoding || !isLinearFile(name))
    return { width, height, codes: quantise(normalised(image.pixels), "8") as Uint8Array };
  const tables = (await listTables(db)).map(({ id: table, file, text }) => [table, readTable(file, text)] as const);
  const { frame: light } = decodeImage(image, encodingByName("linear-ap1"));
  shown ??= startEngine(1);
  const plan = compile(
    { ...render.look, elements: [] },
    cabinetOf([], tables),
    { width, height, frame, sourceKey: `render ${id} ${frame}` },
    { kind: "display" },
  );
  return { width, height, codes: shown.engine.run(plan, () => light.data).slice() };
}

const isKind = (kind: string | null): kind is Kind => kind !== null && kind in KINDS;

/** Keeps a movie that the browser made beside the frames it is made of. */
export async function keepMovie(
  db: Database,
  id: string,
  kind: string | null,
  body: ReadableStream<Uint8Array> | null,
): Promise<{ file: string }> {
  if (!isKind(kind)) throw new Refusal(400, `kind: is one of ${Object.keys(KINDS).join(", ")}`);
  const render = await renderNamed(db, id);
  const name = `${render.shotId}.${kind}`;
  const temporary = join(folderOf(render), `.${name}.${randomBytes(4).toString("hex")}.part`);
  const file = await open(temporary, "w");
  try {
    let size = 0;
    const reader = body?.getReader();
    for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
      size += part.value.length;
      if (size > LARGEST_MOVIE) throw new Refusal(413, "The movie is larger than 4 GiB");
      await file.write(part.value);
    }
    await file.close();
    await rename(temporary, join(folderOf(render), name));
  } catch (error) {
    await file.close().catch(() => {});
    await rm(temporary, { force: true });
    throw error;
  }
  return { file: name };
}

/** Names of the movies made of a render. */
export const moviesOf = async (render: Render): Promise<string[]> =>
  (await readdir(folderOf(render)).catch(() => [])).filter((name) =>
    Object.keys(KINDS).some((kind) => name === `${render.shotId}.${kind}`),
  );

export async function movieFile(db: Database, id: string, kind: string | null): Promise<Response> {
  if (!isKind(kind)) throw new Refusal(400, `kind: is one of ${Object.keys(KINDS).join(", ")}`);
  const render = await renderNamed(db, id);
  const name = `${render.shotId}.${kind}`;
  const path = join(folderOf(render), name);
  const found = await stat(path).catch(() => null);
  if (!found) throw notFound(`A movie ${name} of render ${id}`);
  return new Response(Readable.toWeb(createReadStream(path)) as ReadableStream, {
    headers: {
      "content-type": KINDS[kind],
      "content-length": String(found.size),
      "content-disposition": `attachment; filename="${name}"`,
    },
  });
}
