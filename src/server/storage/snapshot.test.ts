import { mkdtempSync, readdirSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { PGlite } from "@electric-sql/pglite";
import { copyFrom, serveCopies } from "./snapshot";

test("a copy of an open database is read elsewhere, as it was then, and nothing of it is left", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-copies-"));
  expect(await copyFrom(folder)).toBeNull();
  const client = await PGlite.create(join(folder, "database"));
  await client.exec("create table kept (name text); insert into kept values ('as it was')");
  let rights = 0;
  const copies = await serveCopies(folder, async () => {
    const [part] = readdirSync(folder).filter((name) => name.startsWith(".copy"));
    rights = statSync(join(folder, part!)).mode & 0o777;
    return client.dumpDataDir("none");
  });
  const [one, other] = await Promise.all([copyFrom(folder), copyFrom(folder)]);
  await client.exec("update kept set name = 'changed'");
  for (const archive of [one, other]) {
    const copy = await PGlite.create({ loadDataDir: archive! });
    expect((await copy.query("select name from kept")).rows).toEqual([{ name: "as it was" }]);
    await copy.close();
  }
  expect(rights).toBe(0o600);
  expect(readdirSync(folder)).toEqual(["database"]);
  copies.end();
  await client.close();
});
