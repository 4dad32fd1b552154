import { spawn, spawnSync } from "node:child_process";
import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import sharp from "sharp";
import { beforeAll, describe, expect, test } from "vitest";
import { applier } from "../core/colour/transform/transform";
import { readCube } from "../formats/cube/cube";
import { readExr } from "../formats/exr/read";
import { writeExr } from "../formats/exr/write";

const halo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("bin/halo", args, { encoding: "utf8" });
  return { status, stdout, stderr };
};

const folder = mkdtempSync(join(tmpdir(), "halo-cli-"));
const pattern = join(folder, "in.%04d.png");
const render = (...more: string[]) => halo("render", "--look", "examples/first-light.json", "--in", pattern, ...more);
const lastLine = (text: string) =>
  JSON.parse(text.trim().split("\n").at(-1)!) as {
    frames: number;
    skipped: number;
    failed: { frame: number; reason: string }[];
  };

beforeAll(async () => {
  for (let frame = 1; frame <= 3; frame++) {
    const data = Buffer.from(Array.from({ length: 80 * 45 * 3 }, (_, i) => (i * 5 + frame * 40) % 256));
    await sharp(data, { raw: { width: 80, height: 45, channels: 3 } })
      .png()
      .toFile(join(folder, `in.000${frame}.png`));
  }
  writeFileSync(join(folder, "in.0004.png"), "not a picture");
});

describe("render", () => {
  test("writes frames that hold the recipe, leaves nothing half-written, and resumes without doing them again", async () => {
    const out = join(folder, "one", "out.%04d.exr");
    const first = render("--out", out, "--frames", "1-2", "--threads", "2");
    expect([first.status, lastLine(first.stdout)]).toMatchObject([0, { frames: 2, skipped: 0, failed: [] }]);
    expect(readdirSync(join(folder, "one"))).toEqual([
      ".halo-frames.jsonl",
      "out.0001.exr",
      "out.0002.exr",
      "out.exr.recipe.json",
    ]);
    const made = statSync(join(folder, "one", "out.0001.exr")).mtimeMs;
    const second = render("--out", out, "--frames", "1-3", "--resume");
    expect(lastLine(second.stdout)).toMatchObject({ frames: 3, skipped: 2 });
    expect(statSync(join(folder, "one", "out.0001.exr")).mtimeMs).toBe(made);
    const other = render("--out", out, "--frames", "1-1", "--resume", "--scale", "0.5");
    expect(lastLine(other.stdout).skipped).toBe(0);
    expect((await readExr("out.0001.exr", readFileSync(join(folder, "one", "out.0001.exr")))).width).toBe(40);
  });
  test("a taking lens that was measured anew makes the frames anew", () => {
    const own = join(folder, "own.json");
    const measure = (corner: number) =>
      writeFileSync(
        own,
        JSON.stringify({
          ...{ format: "pale-halo-lens", version: 1, id: "own", name: "Own" },
          illumination: [{ focalLength: 50, stop: 2, heights: [0, 14], relative: [1, corner] }],
        }),
      );
    const look = JSON.parse(readFileSync("examples/first-light.json", "utf8")) as { camera: object };
    const taking = { profile: "own", focalLength: 50, stop: 2 };
    writeFileSync(join(folder, "off.json"), JSON.stringify({ ...look, camera: { ...look.camera, taking } }));
    const again = () => {
      const out = join(folder, "off", "out.%04d.exr");
      const asked = ["--look", join(folder, "off.json"), "--in", pattern, "--out", out, "--frames", "1-1"];
      return lastLine(halo("render", ...asked, "--profile", own, "--resume").stdout).skipped;
    };
    measure(0.8);
    expect(again()).toBe(0);
    expect(again()).toBe(1);
    measure(0.6);
    expect(again()).toBe(0);
  });
  test("the same bytes on one thread and on three", () => {
    for (const threads of ["1", "3"])
      render("--out", join(folder, `t${threads}`, "out.%04d.exr"), "--frames", "2-2", "--threads", threads);
    expect(
      readFileSync(join(folder, "t1", "out.0002.exr")).equals(readFileSync(join(folder, "t3", "out.0002.exr"))),
    ).toBe(true);
  });
  test("a frame that cannot be read is named, the others are made, and the exit says so", () => {
    const { status, stdout } = render("--out", join(folder, "part", "out.%04d.tif"), "--frames", "3-4");
    expect(status).toBe(1);
    expect(lastLine(stdout)).toMatchObject({ frames: 1, failed: [{ frame: 4 }] });
    expect(lastLine(stdout).failed[0]!.reason).toMatch(/^in\.0004\.png: is not a PNG file/);
  });
});

describe("footage is never written over", () => {
  const own = mkdtempSync(join(tmpdir(), "halo-own-"));
  const source = join(own, "in.0001.png");
  const before = () => readFileSync(source);
  beforeAll(async () => {
    const data = Buffer.from(Array.from({ length: 80 * 45 * 3 }, (_, i) => (i * 3) % 256));
    await sharp(data, { raw: { width: 80, height: 45, channels: 3 } })
      .png()
      .toFile(source);
    mkdirSync(join(own, "sub"));
    symlinkSync(own, join(own, "sub", "linked"));
    symlinkSync(source, join(own, "other.0001.png"));
    linkSync(source, join(own, "hard.0001.png"));
  });
  const pattern = () => join(own, "in.%04d.png");
  test.each([
    ["absolute against relative", () => relative(process.cwd(), pattern())],
    ["through ..", () => join(own, "sub", "..", "in.####.png").replace("/in.", "/sub/../in.")],
    ["through a linked folder", () => join(own, "sub", "linked", "in.%04d.png")],
    ["through a link to a frame", () => join(own, "other.%04d.png")],
    ["through another name of a frame", () => join(own, "hard.%04d.png")],
  ])("%s", (_, out) => {
    const bytes = before();
    for (const command of [["convert"], ["render", "--look", "examples/first-light.json"]]) {
      const { status, stderr } = halo(...command, "--in", pattern(), "--out", out(), "--frames", "1-1");
      expect([status, stderr]).toEqual([
        2,
        expect.stringMatching(/would write over the footage .* which is never modified/),
      ]);
    }
    expect(before().equals(bytes)).toBe(true);
  });
  test("nor a plate, a table or the look", () => {
    const look = JSON.parse(readFileSync("examples/first-light.json", "utf8")) as { elements: unknown[] };
    look.elements.push({ id: "p", kind: "plate", params: { footage: "snow" } });
    writeFileSync(join(own, "plated.json"), JSON.stringify(look));
    writeFileSync(join(own, "print.cube"), `LUT_3D_SIZE 2\n${"0 0 0\n".repeat(8)}`);
    linkSync(join(own, "print.cube"), join(own, "print.png"));
    const plated = ["render", "--look", join(own, "plated.json"), "--in", source, "--frames", "1-1"];
    const plate = halo(
      ...plated,
      "--plate",
      `snow=${join(folder, "in.0001.png")}`,
      "--out",
      join(folder, "in.0001.png"),
    );
    expect([plate.status, plate.stderr]).toEqual([2, expect.stringMatching(/write over the plate “snow”/)]);
    const table = halo(
      "render",
      "--look",
      "examples/first-light.json",
      "--table",
      join(own, "print.cube"),
      "--in",
      source,
      "--out",
      join(own, "print.png"),
    );
    expect([table.status, table.stderr]).toEqual([2, expect.stringMatching(/write over the table/)]);
  });
});

test("a command that is told to stop takes away what it had begun; one that was killed is cleared up after by the next", async () => {
  const own = mkdtempSync(join(tmpdir(), "halo-stopped-"));
  const noise = Buffer.from(Array.from({ length: 1600 * 900 * 3 }, (_, i) => (i * 2654435761) >>> 24));
  await sharp(noise, { raw: { width: 1600, height: 900, channels: 3 } })
    .png()
    .toFile(join(own, "big.png"));
  const out = join(own, "out");
  const begin = async (signal: NodeJS.Signals) => {
    const args = ["convert", "--in", join(own, "big.png"), "--out", join(out, "all.y4m"), "--depth", "10"];
    const child = spawn("bin/halo", args, { stdio: "ignore" });
    const exit = new Promise<number | null>((resolve) => child.once("exit", (code) => resolve(code)));
    while (!existsSync(out) || !readdirSync(out).some((name) => name.endsWith(".part"))) {
      if (child.exitCode !== null) return null;
      await new Promise((resolve) => setTimeout(resolve, 2));
    }
    child.kill(signal);
    return { code: await exit, left: readdirSync(out).filter((name) => name.endsWith(".part")) };
  };
  expect(await begin("SIGTERM")).toEqual({ code: 143, left: [] });
  expect((await begin("SIGKILL"))!.left.length).toBe(1);
  expect(halo("convert", "--in", join(own, "big.png"), "--out", join(out, "all.y4m"), "--depth", "10").status).toBe(0);
  expect(readdirSync(out)).toEqual(["all.y4m"]);
});

test("two ordinary names far apart are two things, and a gap costs nothing", async () => {
  const own = mkdtempSync(join(tmpdir(), "halo-far-"));
  for (const name of ["a_0001.png", "a_20261128143000.png", "a_2000000000.png"])
    copyFileSync(join(folder, "in.0001.png"), join(own, name));
  const told = JSON.parse(halo("inspect", join(own, "a_%04d.png"), "--json").stdout) as Record<string, unknown>;
  expect(told).toMatchObject({
    frames: 2,
    first: 1,
    last: 2_000_000_000,
    missing: 1_999_999_998,
    gaps: [[2, 1_999_999_999]],
  });
  const { status, stderr } = halo(
    "convert",
    "--in",
    join(own, "a_%04d.png"),
    "--out",
    join(own, "o.%04d.png"),
    "--gaps",
    "hold",
  );
  expect([status, stderr]).toEqual([2, expect.stringMatching(/2000000000 frames are more than one command makes/)]);
});

describe("unusable input ends in 2 with one line that says what would be right", () => {
  test.each([
    [
      ["render", "--look", "examples/first-light.json", "--in", "nowhere.exr", "--out", "o.exr"],
      /--in nowhere\.exr: there is no such file/,
    ],
    [["render", "--look", "missing.json", "--in", "a.exr", "--out", "o.exr"], /missing\.json: there is no such file/],
    [["render", "--look", "package.json", "--in", "a.exr", "--out", "o.exr"], /package\.json: /],
    [
      ["render", "--look", "examples/first-light.json", "--in", "a.exr", "--out", "o.exr", "--in-encoding", "pretty"],
      /there are linear-ap1, linear-ap0/,
    ],
    [["inspect", "nowhere.%04d.exr"], /there is no such sequence/],
    [["schema", "hat"], /there are look, lens, filter/],
    [["bench", "--size", "wide"], /WIDTHxHEIGHT/],
    [["gleam"], /unknown command/],
    [["inspect", "/dev/zero"], /zero: is of a kind|is no ordinary file/],
    [["check", "/dev/zero"], /\/dev\/zero: is no ordinary file/],
    [["render", "--look", "/dev/zero", "--in", "a.exr", "--out", "o.exr"], /\/dev\/zero: is no ordinary file/],
    [
      ["convert", "--in", pattern, "--out", "/proc/x/y/o.%04d.png", "--frames", "1-1"],
      /--out: nothing can be written in \/proc\/x\/y/,
    ],
    [["convert", "--in", pattern, "--out", "/dev/null/o.%04d.png", "--frames", "1-1"], /--out: /],
    [["demo-footage", "--out", "/proc/x/y", "--size", "64x36"], /--out: nothing can be written/],
    [["convert", "--in", pattern, "--out", "o.%04d.png", "--frames", "1-99999999999"], /numbers go to 2147483647/],
    [["convert", "--in", pattern, "--out", "o.%04d.png", "--frames", "1-2000000000"], /more than one command makes/],
    [["convert", "--in", "package.json/%04d.png", "--out", "o.%04d.png"], /there is no such sequence/],
  ])("halo %j", (args, says) => {
    const { status, stderr } = halo(...args);
    expect(status).toBe(2);
    expect(stderr.trim().split("\n").length).toBeLessThan(3);
    expect(stderr).toMatch(says);
  });
  test("every problem of a look, with its path", () => {
    const look = JSON.parse(readFileSync("examples/first-light.json", "utf8")) as {
      elements: { strength: number }[];
      lens: { stop: number };
    };
    look.elements[0]!.strength = 99;
    look.lens.stop = -2;
    writeFileSync(join(folder, "bad.json"), JSON.stringify(look));
    const { status, stdout } = halo("check", join(folder, "bad.json"));
    expect(status).toBe(2);
    expect(stdout).toMatch(/elements\.0\.strength/);
    expect(stdout).toMatch(/lens\.stop/);
  });
});

test("elements, encodings and formats are arrays whose entries have a kind or a name", () => {
  for (const [command, key] of [
    ["elements", "kind"],
    ["encodings", "name"],
    ["formats", "name"],
  ] as const) {
    const rows = JSON.parse(halo(command, "--json").stdout) as Record<string, unknown>[];
    expect(rows.length).toBeGreaterThan(3);
    expect(rows.every((row) => typeof row[key] === "string")).toBe(true);
  }
});

test("the bench times the chain, its elements and the chain at twice the size, under the keys of the yardstick", () => {
  const { status, stdout } = halo("bench", "--size", "96x54", "--runs", "2", "--threads", "1", "--double", "--json");
  const report = JSON.parse(stdout) as {
    elements: Record<string, number>;
    chain_elements: string[];
    chain: number;
    proxy_chain: number;
    double: { chain: number; chain_single: number; times_as_long: number };
  };
  expect(status).toBe(0);
  expect(report).toMatchObject({
    width: 96,
    height: 54,
    threads: 1,
    runs: 2,
    unit: "ms",
    double: { width: 192, height: 108 },
  });
  expect(report.chain_elements.every((name) => report.elements[name]! > 0)).toBe(true);
  expect(Math.min(report.chain, report.proxy_chain, report.double.chain_single)).toBeGreaterThan(0);
  expect(report.double.times_as_long).toBeCloseTo(report.double.chain / report.double.chain_single, 1);
});

test("README's table of formats is what the command says", async () => {
  const { withTable } = (await import("../../scripts/readme-formats.mjs" as string)) as {
    withTable(readme: string, rows: unknown): string;
  };
  const readme = readFileSync("docs/files.md", "utf8");
  expect(withTable(readme, JSON.parse(halo("formats", "--json").stdout))).toBe(readme);
});

describe("convert", () => {
  test.each([
    ["dpx", "10"],
    ["dpx", "16"],
    ["tif", "8"],
    ["png", "16"],
    ["exr", "half"],
  ])("to %s of %s and back hands eight bits on", async (extension, depth) => {
    const there = join(folder, `there-${depth}.%04d.${extension}`);
    const back = join(folder, `back-${extension}-${depth}.%04d.png`);
    expect(halo("convert", "--in", pattern, "--out", there, "--depth", depth, "--frames", "1-2").status).toBe(0);
    expect(
      halo("convert", "--in", there, "--out", back, "--depth", "8", "--in-encoding", "srgb", "--out-encoding", "srgb")
        .status,
    ).toBe(0);
    const [was, is] = await Promise.all(
      [pattern, back].map((name) => sharp(name.replace("%04d", "0002")).removeAlpha().raw().toBuffer()),
    );
    expect(is!.equals(was!)).toBe(true);
  });
  test("all frames into one movie file, and out of it again", async () => {
    const movie = join(folder, "all.y4m");
    expect(
      lastLine(halo("convert", "--in", pattern, "--out", movie, "--depth", "10", "--frames", "1-3").stdout),
    ).toMatchObject({ frames: 3, failed: [] });
    expect(JSON.parse(halo("inspect", movie, "--json").stdout)).toMatchObject({
      format: "Y4M",
      width: 80,
      height: 45,
      frames: 3,
      depth: "10",
    });
    const back = join(folder, "unpacked.%04d.png");
    halo("convert", "--in", movie, "--out", back, "--depth", "8", "--frames", "3-3");
    const [was, is] = await Promise.all(
      [pattern, back].map((name) => sharp(name.replace("%04d", "0003")).removeAlpha().raw().toBuffer()),
    );
    is!.forEach((value, i) => expect(Math.abs(value - was![i]!)).toBeLessThanOrEqual(1));
  });
  test("a region is followed, in px of the frame, and one that is even or outside is refused by name", async () => {
    const moving = join(folder, "moving.%04d.png");
    for (let frame = 1; frame <= 4; frame++)
      await sharp(
        Buffer.from(
          Array.from({ length: 160 * 90 }, (_, i) => {
            const [x, y] = [(i % 160) - 3 * frame, Math.floor(i / 160) - 2 * frame];
            return Math.round(120 + 60 * Math.sin(x / 5) * Math.cos(y / 4) + 40 * Math.sin((x + 2 * y) / 9));
          }),
        ),
        { raw: { width: 160, height: 90, channels: 1 } },
      )
        .png()
        .toFile(moving.replace("%04d", `000${frame}`));
    const asked = ["--in", moving, "--frame", "2", "--json", "--region"];
    const { frames, lost } = JSON.parse(halo("track", ...asked, "50,25,50x40").stdout) as {
      frames: { frame: number; x: number; y: number; confidence: number }[];
      lost: unknown[];
    };
    expect(frames.map(({ frame }) => frame)).toEqual([1, 2, 3, 4]);
    expect(lost).toEqual([]);
    for (const { frame, x, y, confidence } of frames) {
      expect(Math.abs(x - (75 + 3 * (frame - 2)))).toBeLessThan(0.2);
      expect(Math.abs(y - (45 + 2 * (frame - 2)))).toBeLessThan(0.2);
      expect(confidence).toBeGreaterThan(0.9);
    }
    const outside = halo("track", ...asked, "140,25,50x40");
    expect([outside.status, outside.stderr]).toEqual([2, expect.stringContaining("--region: a region of at least")]);
    const missing = halo("track", "--in", moving, "--frame", "9", "--region", "50,25,50x40");
    expect([missing.status, missing.stderr]).toEqual([2, expect.stringContaining("the sequence has frames 1 to 4")]);
  });
  test("lens data sets the lens frame by frame; a file that is none is refused by name", async () => {
    const data = join(folder, "lens.csv");
    const look = join(folder, "defocused.json");
    writeFileSync(data, "frame,focal length (mm),T-stop\n1,35,2\n2,50,2\n3,85,2\n");
    writeFileSync(
      look,
      JSON.stringify({
        format: "pale-halo-look",
        version: 1,
        name: "Wide scatter",
        elements: [{ id: "d", kind: "diffusion", params: { profile: "milkglass", grade: "2" } }],
      }),
    );
    const out = (name: string) => join(folder, `${name}.%04d.exr`);
    const render = (name: string, ...more: string[]) =>
      halo("render", "--look", look, "--in", pattern, "--out", out(name), "--frames", "1-3", ...more);
    expect(lastLine(render("still").stdout)).toMatchObject({ frames: 3, failed: [] });
    expect(lastLine(render("zoomed", "--lens-data", data).stdout)).toMatchObject({ frames: 3, failed: [] });
    const light = async (name: string, frame: number) =>
      (await readExr("f.exr", readFileSync(out(name).replace("%04d", `000${frame}`)))).pixels.data;
    // 50 mm is what the look says by itself; a longer lens spreads the same angle further.
    expect(await light("zoomed", 2)).toEqual(await light("still", 2));
    expect(await light("zoomed", 1)).not.toEqual(await light("still", 1));
    expect(await light("zoomed", 3)).not.toEqual(await light("still", 3));
    writeFileSync(data, "weather\nsnow\n");
    const refused = render("refused", "--lens-data", data);
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining("lens.csv: has no column “frame”")]);
    const silent = render("silent", "--lens-data", "footage");
    expect([silent.status, silent.stderr]).toEqual([2, expect.stringContaining("say nothing of a lens")]);
  });
  test("a gap is held, black, or refused, as asked", async () => {
    const gap = join(folder, "gap.%04d.png");
    for (const frame of [1, 3])
      writeFileSync(gap.replace("%04d", `000${frame}`), readFileSync(pattern.replace("%04d", `000${frame}`)));
    const out = (name: string) => join(folder, `${name}.%04d.png`);
    const run = (gaps: string) =>
      lastLine(halo("convert", "--in", gap, "--out", out(gaps), "--frames", "1-3", "--gaps", gaps).stdout);
    const refused = halo("convert", "--in", gap, "--out", out("refuse"), "--frames", "1-3", "--gaps", "refuse");
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining("lacks frames 2")]);
    expect(existsSync(out("refuse").replace("%04d", "0001"))).toBe(false);
    expect(run("hold")).toMatchObject({ frames: 3, failed: [] });
    expect(run("black")).toMatchObject({ frames: 3, failed: [] });
    const pixels = (name: string, frame: number) =>
      sharp(out(name).replace("%04d", `000${frame}`))
        .raw()
        .toBuffer();
    expect((await pixels("hold", 2)).equals(await pixels("hold", 1))).toBe(true);
    expect((await pixels("black", 2)).every((value) => value === 0)).toBe(true);
  });
  test("through a table as input transform, and an encoding from a file", async () => {
    const table = join(folder, "half.cube");
    writeFileSync(table, "LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n");
    const light = join(folder, "light.exr");
    halo(
      "convert",
      "--in",
      pattern.replace("%04d", "0001"),
      "--out",
      light,
      "--in-encoding",
      table,
      "--depth",
      "float",
    );
    const { data } = (await readExr("light.exr", readFileSync(light))).pixels;
    expect(data[1]).toBeCloseTo((0.5 * ((5 + 40) % 256)) / 255, 6);
    const { status, stderr } = halo("convert", "--in", light, "--out", join(folder, "x.png"), "--out-encoding", table);
    expect([status, stderr]).toEqual([2, expect.stringMatching(/works one way only/)]);
  });
});

describe("lut", () => {
  const look = join(folder, "tonal.json");
  beforeAll(() =>
    writeFileSync(
      look,
      JSON.stringify({
        format: "pale-halo-look",
        version: 1,
        name: "Tonal",
        elements: [
          { id: "a", kind: "trim", params: { exposure: 1 } },
          { id: "b", kind: "glow", params: {} },
        ],
        view: { kind: "plain", display: "srgb" },
      }),
    ),
  );
  test("writes a table that says what it leaves out and how near it comes, and that other footage may be read by", async () => {
    const out = join(folder, "tonal.cube");
    const { status, stdout } = halo("lut", "--look", look, "--out", out, "--size", "33", "--json");
    expect(status).toBe(0);
    const { leftOut, lattice } = JSON.parse(stdout) as {
      leftOut: { id: string; label: string }[];
      lattice: { mean: number };
    };
    expect(leftOut.map(({ label }) => label)).toEqual(["Glow"]);
    expect(lattice.mean).toBeGreaterThan(0);
    expect(lattice.mean).toBeLessThan(6);
    const transform = readCube("tonal.cube", readFileSync(out, "utf8"));
    // ACEScct's mid-grey, a stop up, on an sRGB display: 0.36 of white.
    const rgb = [0.4135884, 0.4135884, 0.4135884];
    applier(transform)(rgb);
    for (const value of rgb) expect(value).toBeCloseTo(1.055 * 0.36 ** (1 / 2.4) - 0.055, 2);
  });
  test("refuses what it cannot hold, and names the option", () => {
    const refused = (...more: string[]) => halo("lut", "--look", look, ...more);
    const light = refused("--out", join(folder, "x.cube"), "--in-encoding", "linear-ap1");
    expect([light.status, light.stderr]).toEqual([
      2,
      expect.stringMatching(/--in-encoding linear-ap1: .*acescct, or clf/),
    ]);
    const kind = refused("--out", join(folder, "x.txt"));
    expect([kind.status, kind.stderr]).toEqual([2, expect.stringMatching(/--out .*ends in \.cube or \.clf/)]);
    expect(refused("--out", join(folder, "x.cube"), "--size", "20").status).toBe(2);
    expect(existsSync(join(folder, "x.cube"))).toBe(false);
  });
});

test("inspect tells what of a frame is no number, or has no end", async () => {
  const data = new Float32Array(8 * 4 * 4).fill(0.5);
  data.set([NaN, Infinity, Infinity], 12);
  const path = join(folder, "holes.exr");
  writeFileSync(path, await writeExr({ width: 8, height: 4, data }, { depth: "float" }));
  expect(JSON.parse(halo("inspect", path, "--json").stdout)).toMatchObject({
    cleaned: expect.stringMatching(/^2 infinite samples .*1 sample that is no number/) as string,
  });
});

test("inspect tells a sequence's frames, size and likely encoding", () => {
  const report = JSON.parse(halo("inspect", pattern, "--json").stdout) as Record<string, unknown>;
  expect(report).toMatchObject({
    format: "PNG",
    width: 80,
    height: 45,
    frames: 4,
    first: 1,
    last: 4,
    gaps: [],
    encoding: { guessed: "srgb" },
  });
});

describe("measure", () => {
  const [width, height, fall] = [192, 108, 90];
  const field = join(folder, "field.exr");
  beforeAll(async () => {
    const data = Float32Array.from({ length: width * height * 4 }, (_, i) => {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      return i % 4 === 3
        ? 1
        : [0.6, 0.5, 0.4][i % 4]! / (1 + (Math.hypot(x - (width - 1) / 2, y - (height - 1) / 2) / fall) ** 2);
    });
    writeFileSync(field, await writeExr({ width, height, data }, { depth: "float" }));
  });

  test("flat: light against the axis over image height in mm, as the field was painted", () => {
    const { status, stdout } = halo(
      "measure",
      "flat",
      "--in",
      field,
      "--sensor",
      "24.96x14.04",
      "--in-encoding",
      "linear-ap1",
      "--json",
    );
    expect(status).toBe(0);
    const report = JSON.parse(stdout) as Record<string, number[]>;
    const heights = report["height (mm)"]!;
    expect(heights.at(-1)).toBeGreaterThan(13);
    heights.forEach((mm, i) => {
      const wanted = 1 / (1 + (mm / 0.13 / fall) ** 2);
      for (const channel of ["red", "green", "blue"])
        expect(Math.abs(report[channel]![i]! - wanted), `${mm} mm ${channel}`).toBeLessThan(0.015);
    });
  });

  test("a picture of 16 bits whose codes alone look like a log curve is not measured unasked", async () => {
    const [chart, size] = [join(folder, "chart.png"), 64];
    const codes = Uint16Array.from({ length: size * size * 3 }, (_, i) => {
      const [x, y] = [Math.floor(i / 3) % size, Math.floor(i / 3 / size)];
      return x + 0.1 * y < 35 ? 16000 : 48000;
    });
    await sharp(codes, { raw: { width: size, height: size, channels: 3 } })
      .toColourspace("rgb16")
      .png()
      .toFile(chart);
    const asked = ["measure", "edge", "--in", chart, "--sensor", "24x24"];
    const { status, stderr } = halo(...asked);
    expect([status, stderr]).toEqual([2, expect.stringMatching(/--in-encoding: say how .*chart\.png is encoded/)]);
    expect(halo(...asked, "--in-encoding", "srgb").status).toBe(0);
  });

  test.each([
    [["edge", "--in", field, "--sensor", "24.96x14.04", "--region", "180,0,80x80"], /region lies outside/],
    [["flat", "--in", field, "--sensor", "20x20"], /does not have the shape/],
    [["flat", "--in", "nowhere.png", "--sensor", "20x20"], /there is no such file/],
    [["edge", "--in", field, "--sensor", "24.96x14.04", "--region", "90,50,12x12"], /too small/],
  ])("%j is refused in one line", (args, reason) => {
    const { status, stderr } = halo("measure", ...args);
    expect([status, stderr.trim().split("\n").length]).toEqual([2, 1]);
    expect(stderr).toMatch(reason);
  });
});
