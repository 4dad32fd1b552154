import { randomBytes, randomUUID } from "node:crypto";
import { copyFile, mkdir, readFile, rename, rm } from "node:fs/promises";
import { basename, join } from "node:path";
import { isDeepStrictEqual } from "node:util";
import type { z } from "zod";
import type { ImportedProduction } from "../../contract/productions";
import { isMadeUpId } from "../../contract/shots";
import { isEncodingName } from "../../core/colour/encodings";
import { type OwnEncoding, ownEncodingSchema } from "../../core/colour/own-encoding";
import { type Look, lookSchema } from "../../core/look/look";
import { type NewNames, renamed } from "../../core/look/renamed";
import { type Profile, profileIdOf, profileSchema } from "../../core/profile/profiles";
import { FileError } from "../../formats/error";
import { loadImage } from "../../formats/formats";
import { findOwnEncoding, findTable, putEncoding, putTable } from "../../store/colour";
import type { Database } from "../../store/database";
import { addStill } from "../../store/library";
import { addProduction, enterShot, listProductions, takenShots } from "../../store/productions";
import { enterProfile, findProfile } from "../../store/profiles";
import { addFootage, placeFootage } from "../../store/queries";
import { encodingFrom, readTable } from "../encodings/own-encoding";
import { fileOf, parseStored } from "../footage/sequence";
import { discard, UNFINISHED } from "../storage/files";
import { dataRoot } from "../storage/roots";
import { fileNameOfStill, folderOfStill } from "../stills/place";
import { DOCUMENT, documentSchema, FILES, type ProductionDocument, type ShotDocument } from "./document";
import { type FoundFootage, findByContent } from "./footage";

/** Files of JSON in a production are no larger, bytes. */
const MAX_JSON = 64 * 2 ** 20;
const MAX_TRIES = 1000;

/** Reads a file of the folder. Throws FileError, naming it, where it is not there or not as it should be. */
async function readPart<T extends z.ZodType>(folder: string, name: string, schema: T): Promise<z.output<T>> {
  const text = await readFile(join(folder, name), "utf8").catch(() => {
    throw new FileError(name, "is not in the production");
  });
  if (text.length > MAX_JSON) throw new FileError(name, "is larger than 64 MiB");
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new FileError(name, "is no JSON");
  }
  return checked(name, schema, json);
}

/** The first of `id`, `id-2`, `id-3` … that is free; or that holds the same already. */
async function freeName(
  id: string,
  stands: (name: string) => Promise<"free" | "same" | "taken">,
  between = "-",
): Promise<{ name: string; isThere: boolean }> {
  for (let number = 1; number < MAX_TRIES; number++) {
    const name = number === 1 ? id : `${id}${between}${number}`;
    const found = await stands(name);
    if (found !== "taken") return { name, isThere: found === "same" };
  }
  throw new FileError(id, `is the name of ${MAX_TRIES} others here`);
}

/** Glass, encodings and tables of a production, as they are called here. */
interface Entered {
  glass: Map<string, string>;
  encodings: Map<string, string>;
  tables: Map<string, string>;
  notes: string[];
}

/** What is to be kept, held against its schema under its name here. Throws FileError that names the file. */
function checked<T extends z.ZodType>(file: string, schema: T, value: unknown): z.output<T> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new FileError(file, `${issue!.path.join(".") || "it"}: ${issue!.message}`);
}

async function enterProfiles(db: Database, folder: string, { profiles }: ProductionDocument, into: Entered) {
  for (const { id, revision, earlier } of profiles) {
    const body = await readPart(folder, FILES.profile(id), profileSchema);
    const before = await Promise.all(
      earlier.map(async (one) => ({
        revision: one,
        body: await readPart(folder, FILES.earlierProfile(id, one), profileSchema),
      })),
    );
    const { name, isThere } = await freeName(id, async (candidate) => {
      const found = await findProfile(db, candidate);
      if (!found) return "free";
      // Of one that was changed since, only the same installation has what it was before.
      const isSame = isDeepStrictEqual(profileSchema.parse(found.body), { ...body, id: candidate });
      return !before.length && isSame ? "same" : "taken";
    });
    const own: Profile = checked(FILES.profile(id), profileSchema, { ...body, id: name });
    if (!isThere) await enterProfile(db, own, revision, before);
    if (name === id) continue;
    into.glass.set(id, name);
    into.glass.set(body.name, name);
    into.notes.push(`the profile ${id} is ${name} here`);
  }
}

async function enterEncodings(db: Database, folder: string, { encodings }: ProductionDocument, into: Entered) {
  for (const { id } of encodings) {
    const own = await readPart(folder, FILES.encoding(id), ownEncodingSchema);
    const { name, isThere } = await freeName(id, async (candidate) => {
      if (isEncodingName(candidate)) return "taken";
      const found = await findOwnEncoding(db, candidate);
      if (!found) return "free";
      return isDeepStrictEqual(ownEncodingSchema.parse(found), { ...own, id: candidate }) ? "same" : "taken";
    });
    const kept: OwnEncoding = checked(FILES.encoding(id), ownEncodingSchema, { ...own, id: name });
    // Throws for a table that is none.
    encodingFrom(kept);
    if (!isThere) await putEncoding(db, kept);
    if (name === id) continue;
    into.encodings.set(id, name);
    into.notes.push(`the encoding ${id} is ${name} here`);
  }
}

async function enterTables(db: Database, folder: string, { tables }: ProductionDocument, into: Entered) {
  for (const { id, name: called, file } of tables) {
    const text = await readFile(join(folder, FILES.table(id)), "utf8").catch(() => {
      throw new FileError(FILES.table(id), "is not in the production");
    });
    // Throws for what is no table.
    readTable(file, text);
    const { name, isThere } = await freeName(id, async (candidate) => {
      const found = await findTable(db, candidate);
      return !found ? "free" : found.text === text ? "same" : "taken";
    });
    if (!isThere) await putTable(db, { id: name, name: called, file: basename(file), text });
    if (name === id) continue;
    into.tables.set(id, name);
    into.notes.push(`the table ${id} is ${name} here`);
  }
}

/** Looks of a shot, as they are here. */
async function looksOf(folder: string, { id, versions, stills }: ShotDocument, names: NewNames) {
  const read = async (name: string): Promise<Look> => renamed(await readPart(folder, name, lookSchema), names);
  return {
    look: await read(FILES.look(id)),
    versions: await Promise.all(versions.map(({ number }) => read(FILES.version(id, number)))),
    stills: await Promise.all(stills.map(({ number }) => read(FILES.stillLook(id, number)))),
  };
}

/** Enters the stills of a shot, each with its picture in a folder of its own. */
async function enterStills(
  db: Database,
  folder: string,
  shot: ShotDocument,
  id: string,
  looks: readonly Look[],
  made: (folder: string) => void,
) {
  for (const [i, { number, frame, note, width, height, madeBy, created }] of shot.stills.entries()) {
    const building = join(dataRoot(), "stills", `${randomUUID()}${UNFINISHED}`);
    try {
      await mkdir(building, { recursive: true });
      const from = join(folder, FILES.stillPicture(shot.id, number));
      const picture = await loadImage(from);
      if (picture.width !== width || picture.height !== height)
        throw new FileError(FILES.stillPicture(shot.id, number), `is not ${width} × ${height}, as it is said to be`);
      await copyFile(from, fileOf(parseStored(join(building, fileNameOfStill(id))), frame));
      const values = { shotId: id, frame, note, look: looks[i]!, width, height, madeBy, created: new Date(created) };
      const place = folderOfStill((await addStill(db, values)).id);
      made(place);
      await rename(building, place);
    } finally {
      await discard(building);
    }
  }
}

/** Ids for the shots: their own where they are free here. */
async function newIds(db: Database, shots: readonly ShotDocument[]): Promise<Map<string, string>> {
  const taken = await takenShots(
    db,
    shots.map(({ id }) => id),
  );
  return new Map(shots.map(({ id }) => [id, taken.has(id) ? `shot-${randomBytes(4).toString("hex")}` : id]));
}

const MAX_NAME_LENGTH = 120;

/** A shot's name where its id could not stay: the id was a part of how it was called. */
const nameHere = ({ id, name }: ShotDocument, here: string): string =>
  here === id || isMadeUpId(id) || name.startsWith(id) ? name : `${id} ${name}`.slice(0, MAX_NAME_LENGTH);

/**
 * Enters a production from a folder, all of it or nothing: what is here already is used, what is called the same and is
 * something else gets another name. Throws FileError for what is not as it should be.
 */
export async function unpackProduction(db: Database, folder: string): Promise<ImportedProduction> {
  const document = await readPart(folder, DOCUMENT, documentSchema);
  const found = new Map<string, FoundFootage>();
  for (const { id, footage } of document.shots) found.set(id, await findByContent(db, footage));
  const stills: string[] = [];
  const entering = db.transaction(async (tx) => {
    const all = tx as unknown as Database;
    const entered: Entered = { glass: new Map(), encodings: new Map(), tables: new Map(), notes: [...document.lacks] };
    await enterProfiles(all, folder, document, entered);
    await enterEncodings(all, folder, document, entered);
    await enterTables(all, folder, document, entered);
    const ids = await newIds(all, document.shots);
    const names: NewNames = {
      glass: (name) => entered.glass.get(name) ?? pinned(entered.glass, name),
      shot: (id) => ids.get(id),
      table: (id) => entered.tables.get(id),
    };
    const called = new Set((await listProductions(all)).map((other) => other.name));
    const { name } = await freeName(document.name, async (wanted) => (called.has(wanted) ? "taken" : "free"), " ");
    const production = { id: `production-${randomBytes(4).toString("hex")}`, name };
    await addProduction(all, production.id, production.name);
    const shots: ImportedProduction["shots"] = [];
    for (const shot of document.shots) {
      const id = ids.get(shot.id)!;
      const name = nameHere(shot, id);
      const { row, where } = found.get(shot.id)!;
      const { footage: _, versions, stills: __, depth, encoding, ...rest } = shot;
      const looks = await looksOf(folder, shot, names);
      await addFootage(all, row);
      // It may have been waited for by another production.
      if (where !== null) await placeFootage(all, row.id, row.folder);
      await enterShot(
        all,
        {
          ...rest,
          ...{ id, name, productionId: production.id, footageId: row.id },
          encoding: entered.encodings.get(encoding) ?? encoding,
          depth: depth && { ...depth, footage: ids.get(depth.footage) ?? depth.footage },
        },
        looks.look,
        versions.map(({ created, glass, ...version }, i) => ({
          ...version,
          body: looks.versions[i]!,
          glass: Object.fromEntries(Object.entries(glass).map(([one, rev]) => [entered.glass.get(one) ?? one, rev])),
          created: new Date(created),
        })),
      );
      await enterStills(all, folder, shot, id, looks.stills, (place) => stills.push(place));
      shots.push({ id, name, footage: where });
    }
    return { production, shots, notes: entered.notes };
  });
  return entering.catch(async (error: unknown) => {
    for (const place of stills) await rm(place, { recursive: true, force: true });
    throw error;
  });
}

/** The new name of a profile's earlier revision. */
function pinned(glass: ReadonlyMap<string, string>, name: string): string | undefined {
  const id = profileIdOf(name);
  const other = id === name ? undefined : glass.get(id);
  return other && `${other}${name.slice(id.length)}`;
}
