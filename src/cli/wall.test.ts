import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, expect, test } from "vitest";

const folder = mkdtempSync(join(tmpdir(), "halo-wall-"));
const halo = (...args: string[]) => spawnSync("bin/halo", args, { encoding: "utf8" });
const input = join(folder, "in.0007.png");
const lookFile = join(folder, "look.json");
const look = {
  ...{ format: "pale-halo-look", version: 1, name: "Trial" },
  lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
  elements: [
    { id: "d", kind: "diffusion", params: { profile: "milkglass", grade: "1/4" } },
    { id: "b", kind: "distortion" },
  ],
};
const wall = (...more: string[]) => halo("wall", "--look", lookFile, "--in", input, ...more);
const rawOf = (path: string) => sharp(path).raw().toBuffer();

beforeAll(async () => {
  const [width, height] = [160, 90];
  const data = Buffer.alloc(3 * width * height, 30);
  for (let i = 0; i < 380; i++) data.fill(250, 111 * i, 111 * i + 3);
  await sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(input);
  writeFileSync(lookFile, JSON.stringify(look));
});

test("a page of every lens with every grade, and each tile the frame that is rendered with that glass", async () => {
  const [out, frames] = [join(folder, "wall.png"), join(folder, "tiles")];
  const axes = ["--across", "lens=orrin-vale-25,plainglass-50", "--down", "filter=milkglass:1/8,2"];
  const { status, stdout } = wall(...axes, "--out", out, "--tiles", frames, "--tile-width", "80", "--json");
  expect(status).toBe(0);
  expect(JSON.parse(stdout)).toMatchObject({
    ...{ tiles: 4, frame: 7 },
    across: ["Orrin Vale 25", "Plainglass 50"],
    down: ["Milkglass 1/8", "Milkglass 2"],
  });
  expect(readdirSync(frames)).toHaveLength(4);
  const page = await sharp(out).metadata();
  expect(page.height).toBeGreaterThan(2 * 45);
  const own = {
    ...look,
    lens: { ...look.lens, profile: "orrin-vale-25", focalLength: 25 },
    elements: [{ ...look.elements[0], params: { profile: "milkglass", grade: "2" } }, look.elements[1]],
  };
  const ownFile = join(folder, "own.json");
  writeFileSync(ownFile, JSON.stringify(own));
  const rendered = join(folder, "own.0007.png");
  expect(halo("render", "--look", ownFile, "--in", input, "--out", rendered, "--depth", "16").status).toBe(0);
  const tile = join(
    frames,
    readdirSync(frames).find((name) => name.startsWith("2 1 "))!,
  );
  expect((await rawOf(tile)).equals(await rawOf(rendered))).toBe(true);
});

test("as PDF it is one page; a dry run makes nothing", () => {
  const [out, dry] = [join(folder, "wall.pdf"), join(folder, "dry", "wall.pdf")];
  expect(wall("--across", "strength=0,1", "--out", out).status).toBe(0);
  expect(readFileSync(out, "latin1")).toMatch(/^%PDF-1\.4[^]*\/Count 1[^]*%%EOF\n$/);
  const { status, stderr } = wall("--across", "strength=0,1", "--out", dry, "--dry-run");
  expect([status, existsSync(join(folder, "dry"))]).toEqual([0, false]);
  expect(stderr).toMatch(/2 tiles would be made/);
});

test.each([
  [["--across", "lens=none"], /--across: there is no lens “none”/],
  [["--down", "stop=2,wide"], /--down.*“wide” is no number/s],
  [["--down", "stop=0"], /value 1: Too small: expected number to be >=0.5/],
  [["--across", "diffusion.colour=1"], /Diffusion has no parameter “colour”/],
  [[], /--across: say what changes/],
])("%j is refused in a line, and nothing is written", (axes, reason) => {
  const out = join(folder, "none", "wall.png");
  const { status, stderr } = wall(...axes, "--out", out);
  expect([status, existsSync(join(folder, "none"))]).toEqual([2, false]);
  expect(stderr).toMatch(reason);
});
