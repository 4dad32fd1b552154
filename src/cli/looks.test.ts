import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, test } from "vitest";
import { prepareDataFolder } from "../server/storage/data-folder";
import { lookOf } from "../testing/laboratory";
import { addTestShot, openTestStore } from "../testing/store";

const halo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("bin/halo", args, { encoding: "utf8" });
  return { status, stdout, stderr };
};

let folder: string;
const film = { ...lookOf([{ kind: "halation" }, { kind: "grain", strength: 2 }]), name: "Film of old", tags: ["film"] };
const file = () => join(folder, "film.json");

beforeAll(async () => {
  const store = await openTestStore();
  folder = store.folder;
  prepareDataFolder(folder);
  for (const id of ["a", "b"]) {
    const frames = join(folder, `footage/f-${id}`);
    mkdirSync(frames, { recursive: true });
    const codes = Buffer.from(Array.from({ length: 32 * 18 * 3 }, (_, i) => (i * 11) % 256));
    await sharp(codes, { raw: { width: 32, height: 18, channels: 3 } })
      .png()
      .toFile(join(frames, "a.0001.png"));
    await addTestShot(store.db, id, { frames: [[1, 1]], look: lookOf([{ kind: "trim", params: { exposure: 1 } }]) });
  }
  await store.client.close();
  writeFileSync(file(), JSON.stringify(film));
});

describe("the library on the command line", () => {
  test("takes looks in, lists them beside the ready ones and those that shots wear, writes them out, and lets them go", () => {
    const taken = halo("looks", "import", file(), "--data", folder);
    expect([taken.status, taken.stderr]).toEqual([0, ""]);
    const listed = JSON.parse(halo("looks", "list", "--json", "--data", folder).stdout) as {
      looks: { id: string; name: string; revision: number | null }[];
      worn: { shotId: string }[];
    };
    const own = listed.looks.find(({ name }) => name === "Film of old")!;
    expect(own.revision).toBe(1);
    expect(listed.worn.map(({ shotId }) => shotId).sort()).toEqual(["a", "b"]);
    const out = join(folder, "written");
    expect(halo("looks", "export", own.id, "--out", out, "--data", folder).stdout.trim()).toBe(
      join(out, "film-of-old.json"),
    );
    expect(JSON.parse(readFileSync(join(out, "film-of-old.json"), "utf8"))).toMatchObject({ tags: ["film"] });
    expect(halo("looks", "remove", own.id, "--data", folder).status).toBe(0);
  });

  test("puts a part of a look on shots, all or none, and says before what would change", () => {
    const apply = (...more: string[]) => halo("looks", "apply", "--look", file(), "--data", folder, ...more);
    const tried = apply("--shots", "a,b", "--part", "film", "--dry-run");
    expect(tried.status).toBe(0);
    expect(tried.stdout).toContain("a: 2 changes (not made)");
    expect(tried.stdout).toContain("Grain: Element not there → there");
    const again = apply("--shots", "all", "--part", "film", "--json");
    const made = JSON.parse(again.stdout) as { shot: string; differences: unknown[] }[];
    expect(made.map(({ shot, differences }) => [shot, differences.length])).toEqual([
      ["a", 2],
      ["b", 2],
    ]);
    // It is there now: put on once more, nothing changes. What cannot be is refused before anything is.
    expect(apply("--shots", "b", "--part", "film", "--dry-run").stdout).toContain("b: 0 changes");
    expect(apply("--shots", "a,c")).toMatchObject({ status: 2, stderr: expect.stringContaining("no shot “c”") });
  });

  test("tells two looks apart, with values before and after", () => {
    const other = join(folder, "other.json");
    writeFileSync(other, JSON.stringify(lookOf([{ kind: "halation" }, { kind: "grain", strength: 1 }])));
    expect(halo("differences", file(), other).stdout.trim()).toBe("Grain: Strength 2.00 × → 1.00 ×");
  });
});

test("versions are kept with a note, and listed with what has changed since", () => {
  expect(halo("versions", "keep", "b", "--name", "Bare", "--note", "before the film", "--data", folder)).toMatchObject({
    status: 0,
  });
  const apply = ["--look", file(), "--part", "e1", "--beside", "--data", folder];
  expect(halo("looks", "apply", "--shots", "b", ...apply).status).toBe(0);
  const { stdout } = halo("versions", "list", "b", "--data", folder);
  expect(stdout).toContain("1. Bare");
  expect(stdout).toContain("before the film");
  expect(stdout).toContain("since then Grain: Element not there → there");
});

describe("stills on the command line", () => {
  test("are made, listed, written as pictures and as light, and removed", () => {
    expect(halo("stills", "keep", "--shot", "a", "--frame", "1", "--note", "first", "--data", folder)).toMatchObject({
      status: 0,
      stderr: "",
    });
    const [still] = JSON.parse(halo("stills", "list", "--json", "--data", folder).stdout) as {
      id: number;
      note: string;
    }[];
    expect(still!.note).toBe("first");
    const out = join(folder, "still.exr");
    expect(halo("stills", "export", String(still!.id), "--out", out, "--data", folder).status).toBe(0);
    expect(readFileSync(out).readUInt32LE(0)).toBe(20000630);
    expect(halo("stills", "export", "1", "--out", join(folder, "still.gif"), "--data", folder).status).toBe(2);
    expect(existsSync(join(folder, "still.gif"))).toBe(false);
    expect(halo("stills", "remove", String(still!.id), "--data", folder).status).toBe(0);
  });
});

test("judge says what a look does to a frame: what it newly clips, and an order light could not take", async () => {
  const codes = Buffer.alloc(96 * 54 * 3, 180);
  const frame = join(folder, "grey.0001.png");
  await sharp(codes, { raw: { width: 96, height: 54, channels: 3 } })
    .png()
    .toFile(frame);
  const look = join(folder, "bright.json");
  writeFileSync(look, JSON.stringify(lookOf([{ kind: "trim", params: { exposure: 3 } }, { kind: "glow" }])));
  const { status, stdout } = halo("judge", "--look", look, "--in", frame, "--frame", "1", "--json");
  expect(status).toBe(0);
  const judged = JSON.parse(stdout) as { clipping: { clipped: number }; cautions: { text: string }[] };
  expect(judged.clipping.clipped).toBe(1);
  expect(judged.cautions.map(({ text }) => text)).toEqual([
    "100.0 % of the picture is newly clipped.",
    "Glow: light meets it after a later station; real light cannot.",
  ]);
});
