import { cpSync, mkdtempSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { describe, expect, test } from "vitest";
import { lookSchema } from "../core/look/look";
import { hashOf, lookOf, scene, through } from "../testing/laboratory";
import { addTestShot, openTestStore } from "../testing/store";
import { openDatabase } from "./database";
import * as colour from "./colour";
import * as queries from "./queries";
import * as versions from "./versions";

/** The migrations as they were up to one of them. */
function migrationsUpTo(count: number): string {
  const folder = mkdtempSync(join(tmpdir(), "halo-migrations-"));
  cpSync("src/store/migrations", folder, { recursive: true });
  const path = join(folder, "meta/_journal.json");
  const journal = JSON.parse(readFileSync(path, "utf8")) as { entries: unknown[] };
  writeFileSync(path, JSON.stringify({ ...journal, entries: journal.entries.slice(0, count) }));
  return folder;
}

/** A database as an earlier version of the program left it. */
async function openEarlier(folder: string, count: number): Promise<PGlite> {
  const client = await PGlite.create(join(folder, "database"));
  await migrate(drizzle(client), { migrationsFolder: migrationsUpTo(count) });
  return client;
}

test("a database of a newer version is refused, and nothing in it is touched", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-newer-"));
  await (await openDatabase(folder, "src/store/migrations")).client.close();
  await expect(openDatabase(folder, migrationsUpTo(4))).rejects.toThrow(/made by a newer version/);
  await (await openDatabase(folder, "src/store/migrations")).client.close();
});

test("a database of an earlier version is brought along: frames that were listed become runs, looks and renders stay", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-old-"));
  const client = await openEarlier(folder, 2);
  await client.exec(`
    INSERT INTO productions (id, name) VALUES ('p', 'P');
    INSERT INTO footage (id, folder, pattern, frames, width, height, depth, format)
      VALUES ('f', 'footage/f', 'a.%04d.exr', '[1,2,3,5,8,9]', 4, 4, 'half', 'OpenEXR');
    INSERT INTO shots (id, production_id, footage_id, name, encoding, encoding_reason, sensor_width, sensor_height, frame_rate)
      VALUES ('s', 'p', 'f', 'S', 'linear-ap1', 'test', 24.9, 14, 25);
    INSERT INTO looks (shot_id, body) VALUES ('s', '{"name":"old"}');
    INSERT INTO renders (shot_id, version_name, look, format, depth, frames, folder)
      VALUES ('s', 'v', '{}', 'exr', 'half', '[5]', 's-0001');`);
  await client.close();
  const { client: now, db } = await openDatabase(folder, "src/store/migrations");
  expect((await queries.findFootage(db, "f"))!.frames).toEqual([
    [1, 3],
    [5, 5],
    [8, 9],
  ]);
  expect(await queries.lookOf(db, "s")).toEqual({ look: { name: "old" }, revision: 1 });
  expect(await queries.rendersOf(db, "s")).toMatchObject([{ frames: [[5, 5]], frameRate: 25, folder: "s-0001" }]);
  await now.close();
});

test("kept looks are brought along: areas get ids, what is timed in them goes by those, and they look the same", async () => {
  const { client, folder, db } = await openTestStore();
  await addTestShot(db, "s");
  const ramp = { ramp: { from: -30, to: 30, first: 1, last: 3 } };
  const { strength: _, ...before } = lookOf([{ kind: "fog" }]);
  const earlier = {
    ...before,
    elements: [
      {
        ...before.elements[0],
        where: {
          areas: [
            {
              kind: "shape",
              combine: "union",
              inverted: false,
              strength: 1,
              x: 0,
              y: 0,
              width: 20,
              height: 20,
              rotation: 0,
              roundness: 1,
              outer: 2,
            },
          ],
          feather: 0,
          strength: 1,
          limits: "result",
        },
        when: { "where.areas.0.x": ramp },
      },
    ],
  };
  const text = JSON.stringify(earlier);
  await client.query(`UPDATE looks SET body = $1, summary = NULL`, [text]);
  await client.query(`INSERT INTO versions (shot_id, number, name, body) VALUES ('s', 1, 'v', $1)`, [text]);
  await client.query(
    `INSERT INTO renders (shot_id, version_name, look, format, depth, frames, folder, frame_rate)
     VALUES ('s', 'v', $1, 'exr', 'half', '[[1,3]]', 's-0001', 24)`,
    [text],
  );
  await client.close();
  const { client: now, db: again } = await openDatabase(folder, "src/store/migrations");
  const kept = [
    (await queries.lookOf(again, "s"))!.look,
    (await versions.findVersion(again, "s", 1))!.body,
    (await queries.findRender(again, 1))!.look,
  ];
  for (const look of kept) {
    expect(lookSchema.parse(look)).toEqual(look);
    expect(look.strength).toBe(1);
    expect(look.elements[0]).toMatchObject({ when: { "where.areas.area-1.x": ramp } });
    expect(hashOf(through(look, scene(64, 36), { frame: 2 }))).toBe(
      hashOf(through(lookSchema.parse(earlier), scene(64, 36), { frame: 2 })),
    );
  }
  await now.close();
});

test.each([1, 3, 6])("a database as it was after %i migrations opens, and what is in it stays", async (count) => {
  const folder = mkdtempSync(join(tmpdir(), "halo-version-"));
  const client = await openEarlier(folder, count);
  const look = JSON.stringify(lookOf([{ kind: "glow" }]));
  await client.exec(`
    INSERT INTO productions (id, name) VALUES ('p', 'P');
    INSERT INTO footage (id, folder, pattern, frames, width, height, depth, format)
      VALUES ('f', 'footage/f', 'a.%04d.exr', '${count < 3 ? "[1,2,3]" : "[[1,3]]"}', 4, 4, 'half', 'OpenEXR');
    INSERT INTO shots (id, production_id, footage_id, name, encoding, encoding_reason, sensor_width, sensor_height)
      VALUES ('s', 'p', 'f', 'S', 'linear-ap1', 'test', 24.9, 14);
    INSERT INTO looks (shot_id, body) VALUES ('s', '${look}');`);
  await client.query(`INSERT INTO versions (shot_id, number, name, body) VALUES ('s', 1, 'v', $1)`, [look]);
  const table = { format: "pale-halo-encoding", version: 1, kind: "table", id: "t", name: "T", file: "t.cube" };
  const own = { ...table, text: "LUT_3D_SIZE 2", into: "srgb" };
  if (count > 1) {
    await client.query(`INSERT INTO encodings (id, name, body) VALUES ('t', 'T', $1)`, [JSON.stringify(own)]);
    await client.exec(`INSERT INTO tables (id, name, file, text) VALUES ('n', 'N', 'n.cube', 'LUT_1D_SIZE 2')`);
  }
  await client.close();
  const { client: now, db } = await openDatabase(folder, "src/store/migrations");
  const found = (await queries.findShot(db, "s"))!;
  expect(found.footage.frames).toEqual([[1, 3]]);
  expect(found.shot).toMatchObject({ squeeze: 1, gaps: "hold", depth: null, revision: 1 });
  expect((await queries.lookOf(db, "s"))!.look.elements[0]).toMatchObject({ kind: "glow" });
  expect(await versions.versionsOf(db, "s")).toMatchObject([{ number: 1, name: "v", revision: 1 }]);
  if (count > 1) {
    expect(await colour.findOwnEncoding(db, "t")).toEqual(own);
    expect((await colour.listEncodings(db))[0]!.body).not.toHaveProperty("text");
    expect(await colour.findTable(db, "n")).toMatchObject({ text: "LUT_1D_SIZE 2", digest: expect.any(String) });
  }
  await now.close();
});

describe("what two windows write", () => {
  test("a look made above an older one is not saved; the newer one stays", async () => {
    const { db, client, folder } = await openTestStore();
    expect(statSync(join(folder, "database/PG_VERSION")).mode & 0o077).toBe(0);
    await addTestShot(db, "s");
    const look = (name: string) => ({ ...lookOf([]), name });
    const both = await Promise.all(["mine", "theirs"].map((name) => queries.saveLook(db, "s", look(name), 1)));
    expect(both.filter((revision) => revision === 2).length).toBe(1);
    expect(both.filter((revision) => revision === null).length).toBe(1);
    const { look: standing, revision } = (await queries.lookOf(db, "s"))!;
    expect([standing.name, revision]).toEqual([["mine", "theirs"][both.indexOf(2)], 2]);
    expect(await queries.saveLook(db, "gone", look("x"), 1)).toBe(null);
    await client.close();
  });
  test("shots, together or not at all; versions by name and number", async () => {
    const { db, client } = await openTestStore();
    await addTestShot(db, "a");
    await addTestShot(db, "b");
    expect(await queries.updateShots(db, ["a", "b"], { notes: "one" }, { a: 1, b: 1 })).toEqual({ a: 2, b: 2 });
    expect(await queries.updateShots(db, ["a", "b"], { notes: "two" }, { a: 2, b: 1 })).toBe(null);
    expect((await queries.findShot(db, "a"))!.shot.notes).toBe("one");
    const kept = await Promise.all([1, 2, 3].map((n) => versions.keepVersion(db, "a", `V${n}`, lookOf([]))));
    expect(kept.map(({ number }) => number).sort()).toEqual([1, 2, 3]);
    const [{ id }] = kept as [versions.ListedVersion];
    expect(await versions.changeVersion(db, "a", id, { name: "first" }, 1)).toMatchObject({
      name: "first",
      revision: 2,
    });
    expect(await versions.changeVersion(db, "a", id, { name: "second" }, 1)).toBe(undefined);
    expect(await versions.changeVersion(db, "b", id, { name: "not b's" }, 2)).toBe(undefined);
    await client.close();
  });
});

test("a render has its folder from the first moment", async () => {
  const { db, client } = await openTestStore();
  await addTestShot(db, "s");
  const order = {
    shotId: "s",
    versionName: "v",
    look: lookOf([]),
    format: "png",
    depth: "8" as const,
    frames: [[1, 2]] as [number, number][],
  };
  const all = await Promise.all([
    queries.addRender(db, order, [order.frames]),
    queries.addRender(db, order, [order.frames]),
  ]);
  expect(all.map(({ folder }) => folder).sort()).toEqual(["s-0001", "s-0002"]);
  await client.close();
});
