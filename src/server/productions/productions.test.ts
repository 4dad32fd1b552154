import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { strToU8, unzipSync, zipSync } from "fflate";
import { beforeAll, afterAll, describe, expect, test } from "vitest";
import { lookSchema } from "../../core/look/look";
import { fixture } from "../../formats/fixtures/pattern";
import { findTable, putEncoding, putTable } from "../../store/colour";
import { addStill } from "../../store/library";
import { addProduction, wholeStillsOf, wholeVersionsOf } from "../../store/productions";
import { changeProfile, findProfile, keepProfile } from "../../store/profiles";
import { addShot, findShot, lookOf } from "../../store/queries";
import { keepVersion } from "../../store/versions";
import { demoProfiles } from "../../demo/glass/profiles";
import { LAMP_ROOM_LOG } from "../../demo/encodings";
import { openTestStore } from "../../testing/store";
import { receive } from "../intake/receive";
import { takeIn } from "../intake/take-in";
import { sourceOf } from "../shots/shot";
import { fileOf } from "../footage/sequence";
import { pictureOfStill } from "../stills/deliver";
import { fileNameOfStill, folderOfStill } from "../stills/place";
import { DOCUMENT, type ProductionDocument } from "./document";
import { packProduction } from "./pack";
import { exportZip, importZip, makeProduction, productions, removeNamed, usesOfProduction } from "./productions";
import { unpackProduction } from "./unpack";

/** Two shots of a production: one through changed glass and a table, laid over by the other; versions and a still. */
const exr = fixture("half-zip.exr");
const lens = { ...demoProfiles().find(({ id }) => id === "orrin-vale-50")!, id: "own-glass", name: "Own glass" };
const look = (name: string, more: object = {}) =>
  lookSchema.parse({
    ...{ format: "pale-halo-look", version: 1, name, camera: { sensor: { width: 24.9, height: 14 } } },
    lens: { profile: "own-glass", focalLength: 50, stop: 2 },
    elements: [{ id: "p", kind: "plate", params: { footage: "OT-2" } }],
    view: { kind: "lut", lut: "print" },
    ...more,
  });

const TABLE = "LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n";

type Store = Awaited<ReturnType<typeof openTestStore>>;

/** Leaves HALO_DATA on the store's own folder. */
const on = <T>({ folder }: Store, work: () => Promise<T>): Promise<T> => {
  process.env.HALO_DATA = folder;
  return work();
};

async function filled(): Promise<Store> {
  const store = await openTestStore();
  const { db, folder } = store;
  await addProduction(db, "old-tram", "Old tram");
  await keepProfile(db, lens, null);
  await changeProfile(db, "own-glass", { ...lens, name: "Own glass, measured again" }, 1);
  await putTable(db, { id: "print", name: "Print", file: "print.cube", text: TABLE });
  await putEncoding(db, LAMP_ROOM_LOG);
  for (const id of ["OT-1", "OT-2"]) {
    const place = join(folder, "footage", `f-${id}`);
    mkdirSync(place, { recursive: true });
    // Each has bytes of its own.
    for (const number of [1, 2])
      writeFileSync(join(place, `${id}.000${number}.exr`), Buffer.concat([exr, Buffer.from(`${id} ${number}`)]));
    await addShot(
      db,
      {
        ...{ id: `f-${id}`, folder: `footage/f-${id}`, pattern: `${id}.%04d.exr`, frames: [[1, 2]] },
        ...{ width: 48, height: 40, depth: "half", format: "OpenEXR", channels: ["R", "G", "B"] },
      },
      {
        ...{ id, productionId: "old-tram", footageId: `f-${id}`, name: `Shot ${id}`, notes: "as told" },
        ...{ encoding: LAMP_ROOM_LOG.id, encodingReason: "test", sensorWidth: 24.9, sensorHeight: 14 },
      },
      look(`of ${id}`, id === "OT-2" ? { elements: [] } : {}),
    );
  }
  await keepVersion(db, "OT-1", "With the first glass", look("kept"), "a note", { "own-glass": 1 });
  const still = await addStill(db, {
    ...{ shotId: "OT-1", frame: 2, note: "warm", look: look("still"), width: 48, height: 40 },
  });
  mkdirSync(folderOfStill(still.id), { recursive: true });
  writeFileSync(join(folderOfStill(still.id), fileNameOfStill("OT-1").replace("%04d", "0002")), exr);
  return store;
}

let from: Store;
let folder: string;
beforeAll(async () => {
  from = await filled();
  folder = mkdtempSync(join(tmpdir(), "halo-production-"));
  await packProduction(from.db, "old-tram", folder);
});
afterAll(() => from.client.close());

const zipOf = () =>
  on(from, async () => {
    const { handle } = await exportZip(from.db, "old-tram");
    const bytes = await handle.readFile();
    await handle.close();
    return bytes;
  });

describe("a production that goes elsewhere", () => {
  test("comes in with its looks, versions, stills, glass of every revision, encoding and table", async () => {
    const to = await openTestStore();
    const { production, shots, notes } = await on(to, () => unpackProduction(to.db, folder));
    expect(notes).toEqual([]);
    expect(production.name).toBe("Old tram");
    expect(shots.map(({ id, footage }) => [id, footage])).toEqual([
      ["OT-1", null],
      ["OT-2", null],
    ]);
    expect((await lookOf(to.db, "OT-1"))!.look).toEqual((await lookOf(from.db, "OT-1"))!.look);
    const [version] = await wholeVersionsOf(to.db, "OT-1");
    const [was] = await wholeVersionsOf(from.db, "OT-1");
    expect({ ...version, id: 0 }).toEqual({ ...was, id: 0 });
    const [still] = await wholeStillsOf(to.db, "OT-1");
    expect([still!.note, still!.frame]).toEqual(["warm", 2]);
    expect(readFileSync(await on(to, async () => pictureOfStill(still!))).equals(exr)).toBe(true);
    const glass = (await findProfile(to.db, "own-glass"))!;
    expect([glass.revision, glass.body.name]).toEqual([2, "Own glass, measured again"]);
    expect((await findTable(to.db, "print"))!.text).toBe(TABLE);
    expect((await findShot(to.db, "OT-1"))!.shot).toMatchObject({ notes: "as told", encoding: LAMP_ROOM_LOG.id });
    await to.client.close();
  });

  test("finds its footage when its files are taken in, whatever was there before", async () => {
    const to = await openTestStore();
    await on(to, async () => {
      await unpackProduction(to.db, folder);
      const batch = "frames-of-old-tram";
      for (const number of [1, 2]) {
        const name = `OT-1.000${number}.exr`;
        const bytes = readFileSync(join(from.folder, "footage/f-OT-1", name));
        const piece = { at: 0, until: bytes.length, size: bytes.length };
        await receive(batch, [name], piece, new Blob([new Uint8Array(bytes)]).stream());
      }
      const decision = { folder: "", pattern: "OT-1.%04d.exr", first: 1, take: true, gaps: "hold" as const };
      const taken = await takeIn(to.db, { kind: "batch", id: batch }, [decision]);
      expect(taken.shots).toEqual(["OT-1"]);
      const { footage } = (await findShot(to.db, "OT-1"))!;
      expect(existsSync(fileOf(sourceOf(footage).pattern, 2))).toBe(true);
    });
    await to.client.close();
  });

  test("uses footage that is here by its bytes: in the data folder, and under a root", async () => {
    const root = mkdtempSync(join(tmpdir(), "halo-root-"));
    cpSync(join(from.folder, "footage/f-OT-2"), join(root, "deep/reel"), { recursive: true });
    process.env.HALO_FOOTAGE = `plates=${root}`;
    try {
      // Once more where it came from: the footage is here, the shots' names are taken.
      const again = await on(from, () => unpackProduction(from.db, folder));
      expect(again.shots.map(({ footage }) => footage)).toEqual(["here already", "here already"]);
      const [first, second] = again.shots.map(({ id }) => id);
      expect([again.production.name, again.shots[0]!.name]).toEqual(["Old tram 2", "OT-1 Shot OT-1"]);
      const worn = (await lookOf(from.db, first!))!.look;
      expect(worn.elements[0]!.params).toMatchObject({ footage: second });
      // Its glass has revisions that may not be the ones that stand here: it comes under a name of its own.
      expect(again.notes).toEqual(["the profile own-glass is own-glass-2 here"]);
      expect(worn.lens.profile).toBe("own-glass-2");
      await on(from, () => removeNamed(from.db, again.production.id));

      const to = await openTestStore();
      const { shots } = await on(to, () => unpackProduction(to.db, folder));
      expect(shots.map(({ footage }) => footage)).toEqual([null, join(root, "deep/reel")]);
      expect((await findShot(to.db, "OT-2"))!.footage.folder).toBe("root:plates/deep/reel");
      // What lay under no root then is found when its folder is named.
      cpSync(join(from.folder, "footage/f-OT-1"), join(root, "late"), { recursive: true });
      const decision = { folder: "", pattern: "OT-1.%04d.exr", first: 1, take: true, gaps: "hold" as const };
      const taken = await on(to, () => takeIn(to.db, { kind: "folder", path: join(root, "late") }, [decision]));
      expect(taken.shots).toEqual(["OT-1"]);
      expect((await findShot(to.db, "OT-1"))!.footage.folder).toBe("root:plates/late");
      await to.client.close();
    } finally {
      delete process.env.HALO_FOOTAGE;
    }
  });

  test("as a zip is the same, and the same production is the same zip", async () => {
    const bytes = await zipOf();
    expect((await zipOf()).equals(bytes)).toBe(true);
    const files = unzipSync(bytes);
    expect(Buffer.from(files[DOCUMENT]!).equals(readFileSync(join(folder, DOCUMENT)))).toBe(true);
    expect(Buffer.from(files["shots/OT-1/still-1.exr"]!).equals(exr)).toBe(true);
    const to = await openTestStore();
    const { shots } = await on(to, () => importZip(to.db, "old tram.zip", inParts(bytes)));
    expect(shots.length).toBe(2);
    await to.client.close();
  });
});

async function* inParts(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += 1000) yield bytes.subarray(at, at + 1000);
}

describe("what is no production", () => {
  let to: Store;
  beforeAll(async () => {
    to = await openTestStore();
  });
  afterAll(() => to.client.close());
  const refused = async (bytes: Uint8Array) => {
    const said = await on(to, () => importZip(to.db, "a.zip", inParts(bytes))).catch((error: Error) => error.message);
    expect(await productions(to.db)).toEqual([]);
    expect(readdirSync(join(to.folder, "productions"))).toEqual([]);
    return said;
  };
  const parts = () =>
    (unzipped ??= Object.fromEntries(
      [DOCUMENT, "shots/OT-1/look.json", "shots/OT-2/look.json"].map((name) => [
        name,
        readFileSync(join(folder, name)),
      ]),
    ));
  let unzipped: Record<string, Uint8Array> | undefined;

  test.each([
    [
      "something else",
      strToU8("no zip at all, but long enough to be looked at"),
      /^a\.zip: (holds no production|is no zip)/,
    ],
    ["a name that leads out", zipSync({ "../out.json": strToU8("{}") }), /^a\.zip: holds “\.\.\/out\.json”/],
    ["another file", zipSync({ "readme.txt": strToU8("hello") }), /^a\.zip: holds “readme\.txt”/],
    ["no JSON", zipSync({ [DOCUMENT]: strToU8("{") }), /^production\.json: is no JSON$/],
    ["another document", zipSync({ [DOCUMENT]: strToU8("{}") }), /^production\.json: format: /],
  ])("%s is refused, and nothing of it stays", async (_, bytes, says) => {
    expect(await refused(bytes)).toMatch(says);
  });

  test("a part that is missing, or not as it should be, is named; nothing of the rest stays", async () => {
    expect(await refused(zipSync(parts()))).toBe("profiles/own-glass.json: is not in the production");
    const document = JSON.parse(readFileSync(join(folder, DOCUMENT), "utf8")) as ProductionDocument;
    document.shots[0]!.sensorWidth = -1;
    expect(await refused(zipSync({ ...parts(), [DOCUMENT]: strToU8(JSON.stringify(document)) }))).toMatch(
      /^production\.json: shots\.0\.sensorWidth: /,
    );
    expect(await findProfile(to.db, "own-glass")).toBeUndefined();
  });

  test.each([
    ["shots.0.id", (document: ProductionDocument) => void (document.shots[0]!.id = "../../OT")],
    [
      "shots.0.footage.pattern",
      (document: ProductionDocument) => void (document.shots[0]!.footage.pattern = "../a.%04d.exr"),
    ],
    [
      "shots.0.footage.files.0.name",
      (document: ProductionDocument) => void (document.shots[0]!.footage.files[0]!.name = "../../a"),
    ],
    ["shots.0.footage.frames", (document: ProductionDocument) => void (document.shots[0]!.footage.frames = [[1, 2e9]])],
    ["shots", (document: ProductionDocument) => void document.shots.push(document.shots[0]!)],
  ])("%s that leads elsewhere, or has no end, is refused by its place", async (place, spoil) => {
    const document = JSON.parse(readFileSync(join(folder, DOCUMENT), "utf8")) as ProductionDocument;
    spoil(document);
    const said = await refused(zipSync({ ...parts(), [DOCUMENT]: strToU8(JSON.stringify(document)) }));
    expect(said).toMatch(new RegExp(`^production\\.json: ${place.replaceAll(".", "\\.")}: `));
  });

  test("a table that is none, and glass of an id that none has, are refused", async () => {
    const files = { ...unzipSync(await zipOf()) };
    const spoilt = async (name: string, text: string) => refused(zipSync({ ...files, [name]: strToU8(text) }));
    expect(await spoilt("tables/print.txt", "LUT_3D_SIZE 2\n")).toMatch(/^print\.cube: /);
    const document = JSON.parse(readFileSync(join(folder, DOCUMENT), "utf8")) as ProductionDocument;
    document.profiles[0]!.id = "Own Glass!";
    const renamed = { ...files, "profiles/Own%20Glass!.json": files["profiles/own-glass.json"]! };
    const earlier = { "profiles/Own%20Glass!@1.json": files["profiles/own-glass@1.json"]! };
    expect(await refused(zipSync({ ...renamed, ...earlier, [DOCUMENT]: strToU8(JSON.stringify(document)) }))).toMatch(
      /^profiles\/Own%20Glass!\.json: id: /,
    );
  });

  test("cut off anywhere it is refused", async () => {
    const whole = await zipOf();
    for (const share of [0.1, 0.5, 0.8])
      expect(await refused(whole.subarray(0, Math.floor(whole.length * share)))).toMatch(/^[\w./@-]+: /);
  });
});

test("one that another takes a shot of is not removed; removed, its shots and their files are gone", async () => {
  const store = await filled();
  await on(store, async () => {
    const { db } = store;
    const other = await makeProduction(db, "Another");
    const { shot, footage } = (await findShot(db, "OT-1"))!;
    await addShot(db, footage, { ...shot, id: "AN-1", productionId: other.id }, look("takes OT-2"));
    expect((await usesOfProduction(db, "old-tram")).usedBy).toEqual(["AN-1"]);
    await expect(removeNamed(db, "old-tram")).rejects.toThrow("Shots of Old tram are laid over AN-1");
    await removeNamed(db, other.id);
    expect((await usesOfProduction(db, "old-tram")).goes[0]).toMatch(/^2 shots /);
    await removeNamed(db, "old-tram");
    expect(await productions(db)).toEqual([]);
    expect(existsSync(join(store.folder, "footage/f-OT-1"))).toBe(false);
  });
  await store.client.close();
  rmSync(store.folder, { recursive: true, force: true });
});
