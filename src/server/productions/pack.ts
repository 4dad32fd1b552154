import { copyFile, mkdir, stat, writeFile } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { ENGINE_VERSION } from "../../core/engine/version";
import { framesIn } from "../../core/frame/ranges";
import { glassIn, platesIn } from "../../core/look/glass";
import type { Look } from "../../core/look/look";
import { pinnedId, profileIdOf } from "../../core/profile/profiles";
import { findOwnEncoding, findTable } from "../../store/colour";
import type { Database } from "../../store/database";
import { findProduction, shotIdsOf, wholeStillsOf, wholeVersionsOf } from "../../store/productions";
import { earlierProfiles, listProfiles } from "../../store/profiles";
import { findShot, type Footage, type FoundShot, lookOf } from "../../store/queries";
import { notFound } from "../errors/errors";
import { fileAt } from "../footage/source";
import { sourceOf } from "../shots/shot";
import { pictureOfStill } from "../stills/deliver";
import { hashOf } from "../storage/content";
import { DOCUMENT, FILES, FORMAT, type FootageReference, type ProductionDocument, type ShotDocument } from "./document";

/** Writes files of a production into a folder that is empty. */
class Folder {
  constructor(readonly path: string) {}

  async place(name: string): Promise<string> {
    const path = join(this.path, name);
    await mkdir(dirname(path), { recursive: true });
    return path;
  }

  json = async (name: string, value: unknown): Promise<void> =>
    writeFile(await this.place(name), `${JSON.stringify(value, null, 2)}\n`);
}

/** What footage is, by the bytes of its files; those that are not there are left out. */
async function referenceTo(footage: Footage): Promise<FootageReference> {
  const { pattern, frames } = sourceOf(footage);
  const paths = new Set([...framesIn(frames)].map((frame) => fileAt(pattern, frame).path));
  const files: FootageReference["files"] = [];
  for (const path of paths) {
    const found = await stat(path).catch(() => null);
    if (found) files.push({ name: basename(path), bytes: found.size, sha256: await hashOf(path) });
  }
  const { width, height, depth, format, channels, framesPerSecond, timeCode, part, layer } = footage;
  return {
    ...{ pattern: footage.pattern, frames: footage.frames.map(([first, last]) => [first, last] as [number, number]) },
    ...{ width, height, depth, format, channels, framesPerSecond, timeCode, part, layer, files },
  };
}

/** A shot with its versions and stills, whose looks are written beside; `wears` hears each of them. */
async function packShot(
  db: Database,
  { shot, footage }: FoundShot,
  folder: Folder,
  wears: (look: Look) => void,
): Promise<ShotDocument> {
  const { id, name, encoding, encodingReason, sensorWidth, sensorHeight, squeeze, desqueezed, frameRate } = shot;
  const { firstFrame, lastFrame, gaps, depthChannel, depth, notes, position } = shot;
  const look = (await lookOf(db, id))!.look;
  const versions = await wholeVersionsOf(db, id);
  const stills = await wholeStillsOf(db, id);
  const keep = (file: string, worn: Look) => {
    wears(worn);
    return folder.json(file, worn);
  };
  await keep(FILES.look(id), look);
  for (const { number, body } of versions) await keep(FILES.version(id, number), body);
  for (const [i, still] of stills.entries()) {
    await keep(FILES.stillLook(id, i + 1), still.look);
    await copyFile(pictureOfStill(still), await folder.place(FILES.stillPicture(id, i + 1)));
  }
  return {
    ...{ id, name, encoding, encodingReason, sensorWidth, sensorHeight, squeeze, desqueezed, frameRate },
    ...{ firstFrame, lastFrame, gaps, depthChannel, depth, notes, position },
    footage: await referenceTo(footage),
    versions: versions.map(({ number, name: called, note, glass, madeBy, created }) => {
      return { number, name: called, note, glass, madeBy, created: created.toISOString() };
    }),
    stills: stills.map(({ frame, note, width, height, madeBy, created }, i) => {
      return { number: i + 1, frame, note, width, height, madeBy, created: created.toISOString() };
    }),
  };
}

/** Profiles that looks name, whole, with the earlier revisions that versions were kept with. */
async function packProfiles(
  db: Database,
  folder: Folder,
  named: ReadonlySet<string>,
  kept: readonly Record<string, number>[],
): Promise<ProductionDocument["profiles"]> {
  const isNamed = (id: string, name: string) =>
    named.has(name) || [...named].some((one) => profileIdOf(one) === id) || kept.some((glass) => glass[id]);
  const before = new Map((await earlierProfiles(db)).map((profile) => [profile.id, profile]));
  const packed: ProductionDocument["profiles"] = [];
  for (const { id, name, revision, body } of await listProfiles(db)) {
    if (!isNamed(id, name)) continue;
    const wanted = new Set([...named].filter((one) => profileIdOf(one) === id));
    for (const glass of kept) if (glass[id] && glass[id] < revision) wanted.add(pinnedId(id, glass[id]));
    const earlier = Array.from({ length: revision - 1 }, (_, i) => i + 1).filter(
      (one) => wanted.has(pinnedId(id, one)) && before.has(pinnedId(id, one)),
    );
    await folder.json(FILES.profile(id), body);
    for (const one of earlier) {
      const { id: _, ...rest } = before.get(pinnedId(id, one))!;
      // As it was kept, without the words that tell it from what it is now.
      const called = rest.name.replace(/, revision \d+$/, "");
      await folder.json(FILES.earlierProfile(id, one), { ...rest, id, name: called });
    }
    packed.push({ id, revision, earlier });
  }
  return packed;
}

/** Writes a production into an empty folder. Throws Refusal where there is no such production. */
export async function packProduction(db: Database, id: string, into: string): Promise<ProductionDocument> {
  const production = await findProduction(db, id);
  if (!production) throw notFound(`The production ${id}`);
  const folder = new Folder(into);
  const [glass, plates, tableIds] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const wears = (look: Look) => {
    glassIn(look).forEach((name) => glass.add(name));
    platesIn(look).forEach((shot) => plates.add(shot));
    if (look.view.lut) tableIds.add(look.view.lut);
  };
  const shots: ShotDocument[] = [];
  for (const shot of await shotIdsOf(db, id)) {
    const packed = await packShot(db, (await findShot(db, shot))!, folder, wears);
    if (packed.depth) plates.add(packed.depth.footage);
    shots.push(packed);
  }
  const kept = shots.flatMap(({ versions }) => versions.map((version) => version.glass));
  const profiles = await packProfiles(db, folder, glass, kept);
  const encodings: ProductionDocument["encodings"] = [];
  for (const name of new Set(shots.map(({ encoding }) => encoding))) {
    const own = await findOwnEncoding(db, name);
    if (!own) continue;
    await folder.json(FILES.encoding(name), own);
    encodings.push({ id: name });
  }
  const tables: ProductionDocument["tables"] = [];
  for (const name of tableIds) {
    const table = await findTable(db, name);
    if (!table) continue;
    await writeFile(await folder.place(FILES.table(name)), table.text);
    tables.push({ id: name, name: table.name, file: table.file });
  }
  const own = new Set(shots.map((shot) => shot.id));
  const lacks = [...plates]
    .filter((shot) => !own.has(shot))
    .map((shot) => `the shot ${shot}, which looks take, is in another production`);
  const document: ProductionDocument = {
    ...{ format: FORMAT, version: 1, name: production.name, engine: ENGINE_VERSION },
    ...{ shots, profiles, encodings, tables, lacks },
  };
  await folder.json(DOCUMENT, document);
  return document;
}
