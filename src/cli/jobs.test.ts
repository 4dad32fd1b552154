import { spawnSync } from "node:child_process";
import { copyFileSync, existsSync, mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, test } from "vitest";
import { argumentsOf } from "./jobs-file";

const folder = mkdtempSync(join(tmpdir(), "halo-jobs-"));
const halo = (...args: string[]) => spawnSync("bin/halo", args, { encoding: "utf8" });
const jobsFile = (name: string, jobs: object[], more: object = {}) => {
  const path = join(folder, name);
  writeFileSync(path, JSON.stringify({ format: "pale-halo-jobs", version: 1, ...more, jobs }, null, 1));
  return path;
};

beforeAll(async () => {
  for (let frame = 1; frame <= 3; frame++)
    await sharp({ create: { width: 48, height: 27, channels: 3, background: { r: 40 * frame, g: 90, b: 120 } } })
      .png()
      .toFile(join(folder, `in.000${frame}.png`));
  copyFileSync("examples/first-light.json", join(folder, "look.json"));
});

test("a job is the options of render by their names", () => {
  expect(
    argumentsOf({
      ...{ name: "x", look: "l.json", in: "a.%04d.exr", out: "b.%04d.exr", outEncoding: "srgb", depth: 16 },
      ...{ profile: ["p.json", "q.json"], plate: { snow: "s.%04d.exr" }, resume: true, otherEngine: false },
    }),
  ).toEqual([
    ...["--look", "l.json", "--in", "a.%04d.exr", "--out", "b.%04d.exr", "--out-encoding", "srgb", "--depth", "16"],
    ...["--profile", "p.json", "--profile", "q.json", "--plate", "snow=s.%04d.exr", "--resume"],
  ]);
});

describe("a list of renders", () => {
  test("is done whole though one fails, its paths seen from its folder, a line of JSON each", () => {
    const list = jobsFile(
      "list.json",
      [
        { name: "one", in: "in.%04d.png", out: "made/one.%04d.png", frames: "1-2" },
        { name: "none", in: "missing.%04d.png", out: "made/none.%04d.png" },
        { in: "in.*.png", out: "made/three.@@@@.png", frames: 3, depth: 8 },
      ],
      { defaults: { look: "look.json" } },
    );
    const { status, stdout, stderr } = halo("render", "--jobs", list, "--at-once", "2");
    const told = stdout
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line) as { job: string; exit: number; result?: { frames: number }; error?: string });
    const of = (job: string) => told.find((one) => one.job === job)!;
    expect(status).toBe(1);
    expect(told).toHaveLength(3);
    expect(of("one")).toMatchObject({ exit: 0, result: { frames: 2 } });
    expect(of("none").error).toMatch(/--in missing\.%04d\.png: there is no such sequence/);
    expect(of("3")).toMatchObject({ exit: 0, result: { frames: 1 } });
    expect(stderr).toMatch(/^1 of 3 jobs failed: none$/m);
    const made = readdirSync(join(folder, "made")).filter((name) => name.endsWith(".png"));
    expect(made.sort()).toEqual(["one.0001.png", "one.0002.png", "three.0003.png"]);
  });

  test("that is none is refused with its line and what it has too much", () => {
    const list = jobsFile("odd.json", [{ in: "a.png", out: "b.png", frame: "1" }]);
    const { status, stderr } = halo("render", "--jobs", list);
    expect([status, stderr]).toEqual([2, expect.stringMatching(/odd\.json: line \d+: jobs\.0: has no “frame”/)]);
  });
});

describe("a dry run", () => {
  test("of a render says what would be written, and makes nothing", () => {
    const out = join(folder, "dry", "out.%04d.exr");
    const look = ["--look", join(folder, "look.json"), "--in", join(folder, "in.%04d.png")];
    const { status, stdout } = halo("render", ...look, "--out", out, "--frames", "1,3", "--dry-run");
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({
      ...{ dryRun: true, frames: 2, files: 2, there: 0, depth: "half" },
      ...{ first: join(folder, "dry", "out.0001.exr"), last: join(folder, "dry", "out.0003.exr") },
    });
    expect(existsSync(join(folder, "dry"))).toBe(false);
  });

  test("of a command that writes one file makes nothing either", () => {
    const out = join(folder, "dry-map", "map.exr");
    const lens = ["--profile", "orrin-vale-25", "--focal", "25", "--size", "64x36", "--sensor", "24.9x14"];
    const { status, stderr } = halo("stmap", ...lens, "--out", out, "--dry-run");
    expect([status, stderr]).toEqual([0, expect.stringMatching(/map\.exr: \d+ bytes would be written; nothing is/)]);
    expect(existsSync(join(folder, "dry-map"))).toBe(false);
  });
});
