import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, expect, test } from "vitest";
import { fixture } from "../formats/fixtures/pattern";
import { lookOf } from "../testing/laboratory";
import { addTestShot, openTestStore } from "../testing/store";

/** The one command, on a data folder. */
function production(data: string, ...args: string[]) {
  const { status, stdout, stderr } = spawnSync("bin/halo", ["production", ...args, "--data", data], {
    encoding: "utf8",
  });
  return { status, stdout, stderr };
}
const listed = (data: string) =>
  JSON.parse(production(data, "list", "--json").stdout) as {
    id: string;
    name: string;
    archived: boolean;
    shots: number;
  }[];

/** A dozen commands, each of which opens a database. ms */
const SLOW = 300_000;

let data: string;
beforeAll(async () => {
  const store = await openTestStore();
  data = store.folder;
  mkdirSync(join(data, "footage/f-s"), { recursive: true });
  writeFileSync(join(data, "footage/f-s/a.0001.png"), fixture("eight.png"));
  await addTestShot(store.db, "s", { frames: [[1, 1]], look: lookOf([{ kind: "grain" }]) });
  await store.client.close();
});

test(
  "a production is begun, named, put away, handed over, brought in elsewhere, and removed when that is said",
  async () => {
    const { id } = JSON.parse(production(data, "make", "Old tram", "--json").stdout) as { id: string };
    production(data, "change", id, "--name", "Old tram, spring", "--archive");
    expect(listed(data)).toMatchObject([
      { id: "p", shots: 1, archived: false },
      { id, name: "Old tram, spring", archived: true },
    ]);

    expect(production(data, "move", id, "s").stdout).toBe(`s is in ${id}\n`);
    expect(production(data, "move", "p", "s").status).toBe(0);

    const folder = mkdtempSync(join(tmpdir(), "halo-handed-"));
    const out = join(folder, "production");
    expect(production(data, "export", "p", "--out", out).stdout).toContain(`Production is in ${out}`);
    expect(readdirSync(out).sort()).toEqual(["production.json", "shots"]);
    const zip = join(folder, "p.zip");
    production(data, "export", "p", "--out", zip);
    expect(readFileSync(zip).subarray(0, 2).toString()).toBe("PK");

    const other = await openTestStore();
    await other.client.close();
    const told = production(other.folder, "import", zip);
    expect(told.stderr).toContain("s s: footage is not here; it is found when its files are taken in");
    const [, made] = /^Production is (production-[0-9a-f]{8}), with 1 shots$/m.exec(told.stdout)!;
    expect(production(other.folder, "remove", made!, "--yes").status).toBe(0);
    expect(listed(other.folder)).toEqual([]);

    const bad = join(folder, "bad.zip");
    writeFileSync(bad, readFileSync(zip).subarray(0, 300));
    const refused = production(other.folder, "import", bad);
    expect(refused.status).toBe(2);
    expect(refused.stderr).toMatch(/^halo: bad\.zip: /);
    expect(existsSync(join(other.folder, "productions"))).toBe(true);
    expect(readdirSync(join(other.folder, "productions"))).toEqual([]);
  },
  SLOW,
);
