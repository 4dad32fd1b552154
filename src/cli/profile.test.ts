import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, expect, test } from "vitest";
import { filterSchema } from "../core/profile/filter";
import { lensSchema } from "../core/profile/lens";
import { writeExr } from "../formats/exr/write";
import { numbers } from "../testing/laboratory";

const folder = mkdtempSync(join(tmpdir(), "halo-profile-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const halo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("bin/halo", args, { encoding: "utf8" });
  return { status, stdout, stderr };
};

const [WIDTH, HEIGHT, FALL] = [640, 360, 420];
const SENSOR = { width: 24.96, height: 14.04 };
const PITCH = SENSOR.width / WIDTH;
const SOFT = 1.1;
const [MIDDLE_X, MIDDLE_Y] = [(WIDTH - 1) / 2, (HEIGHT - 1) / 2];
const fallOff = (px: number) => 1 / (1 + (px / FALL) ** 2);

const paint = async (name: string, light: (x: number, y: number) => number) => {
  const data = Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) =>
    i % 4 === 3 ? 1 : light((i >> 2) % WIDTH, Math.floor((i >> 2) / WIDTH)),
  );
  writeFileSync(join(folder, name), await writeExr({ width: WIDTH, height: HEIGHT, data }, { depth: "float" }));
};

/** A logistic edge's contrast: x / sinh x of pi² s f. */
const logistic = (f: number) => (f === 0 ? 1 : (Math.PI ** 2 * SOFT * f) / Math.sinh(Math.PI ** 2 * SOFT * f));

beforeAll(async () => {
  const next = numbers(3);
  const side = (t: number) => 1 / (1 + Math.exp(-t / (SOFT / 2)));
  const places = [
    [320, 180],
    [120, 90],
    [520, 90],
    [120, 270],
    [520, 270],
    [320, 70],
    [320, 290],
  ];
  await paint("edges.exr", (x, y) => {
    let ink = 0;
    for (const [cx, cy] of places as [number, number][]) {
      if (Math.abs(x - cx) > 60 || Math.abs(y - cy) > 60) continue;
      const [u, v] = [(x - cx) * 0.9962 + (y - cy) * 0.0872, (y - cy) * 0.9962 - (x - cx) * 0.0872];
      ink += (side(u + 32) - side(u - 32)) * (side(v + 32) - side(v - 32));
    }
    return 0.6 - 0.5 * ink + 0.002 * (next() - 0.5);
  });
  const lamp = (x: number, way: number) => 1 + way * 0.15 * ((x - MIDDLE_X) / MIDDLE_X);
  for (const [name, way] of [
    ["flat-1.exr", 1],
    ["flat-2.exr", -1],
  ] as const)
    await paint(name, (x, y) => 0.5 * lamp(x, way) * fallOff(Math.hypot(x - MIDDLE_X, y - MIDDLE_Y)));
});

const manifest = (frames: object[]) => {
  const path = join(folder, "manifest.json");
  const head = { id: "own-50", name: "Own 50", sensor: SENSOR, encoding: "linear-ap1", by: "me" };
  writeFileSync(path, JSON.stringify({ ...head, frames }));
  return path;
};

test("measured frames come to one lens: contrast without the pixel's aperture, fall-off without the lamp's", () => {
  const out = join(folder, "own-50.json");
  const from = manifest([
    { kind: "edges", file: "edges.exr", focalLength: 50, stop: 2 },
    { kind: "flat", files: ["flat-1.exr", "flat-2.exr"], focalLength: 50, stop: 2 },
  ]);
  expect(halo("profile", "--from", from, "--out", out)).toMatchObject({ status: 0, stderr: "" });
  const lens = lensSchema.parse(JSON.parse(readFileSync(out, "utf8")));
  expect(lens).toMatchObject({ id: "own-50", focalLengths: [50], stops: [2] });
  const [mtf] = lens.mtf!;
  expect(mtf).toMatchObject({ focalLength: 50, stop: 2, origin: { kind: "measured", by: "me" } });
  const sinc = (f: number) => (f === 0 ? 1 : Math.sin(Math.PI * f) / (Math.PI * f));
  mtf!.frequencies.forEach((lp, i) => {
    const f = lp * PITCH;
    if (f > 0.3) return;
    for (const row of [...mtf!.sagittal, ...mtf!.meridional])
      expect(Math.abs(row[i]! - logistic(f) / sinc(f)), `${lp} lp/mm`).toBeLessThan(0.03);
  });
  const [fall] = lens.illumination!;
  fall!.heights.forEach((mm, i) =>
    expect(Math.abs(fall!.relative[i]! - fallOff(mm / PITCH)), `${mm} mm`).toBeLessThan(0.01),
  );
  expect(halo("check", out).status).toBe(0);
});

test.each([
  [[{ kind: "edges", file: "flat-1.exr", focalLength: 50, stop: 2 }], /flat-1\.exr: No slanted edge was found/],
  [[{ kind: "edges", file: "nowhere.exr", focalLength: 50, stop: 2 }], /nowhere\.exr: there is no such file/],
  [[{ kind: "lamp", file: "edges.exr", focalLength: 50, stop: 2 }], /frames\.0\.kind/],
  [[], /frames/],
])("%j is refused in one line, and nothing is written", (frames, reason) => {
  const out = join(folder, "none.json");
  const { status, stderr } = halo("profile", "--from", manifest(frames), "--out", out);
  expect([status, stderr.trim().split("\n").length]).toEqual([2, 1]);
  expect(stderr).toMatch(reason);
  expect(() => readFileSync(out)).toThrow(/ENOENT/);
});

test("a printed chart is read by what is said of it; a place without a line is refused", async () => {
  const [page, spec] = [join(folder, "page.png"), join(folder, "page.json")];
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="500" height="400"><rect width="500" height="400" fill="#fff"/>
    <path d="M50 70L450 270" stroke="#103080" stroke-width="2" fill="none"/></svg>`;
  await sharp(Buffer.from(svg)).png().toFile(page);
  const write = (from: [number, number]) =>
    writeFileSync(
      spec,
      JSON.stringify({
        id: "paper-50",
        name: "Paper 50",
        axes: {
          x: { from: { value: 0, at: [50, 370] }, to: { value: 20, at: [450, 370] } },
          y: { from: { value: 0, at: [50, 370] }, to: { value: 100, at: [50, 70] } },
        },
        curves: [{ quantity: "contrast", direction: "sagittal", frequency: 30, focalLength: 50, stop: 2, from }],
      }),
    );
  write([250, 170]);
  const { status, stdout } = halo("measure", "printed", "--in", page, "--spec", spec);
  expect(status).toBe(0);
  const { curves, profile } = JSON.parse(stdout) as { curves: { x: number[]; y: number[] }[]; profile: object };
  curves[0]!.x.forEach((x, i) =>
    expect(Math.abs(curves[0]!.y[i]! - (100 - (10 * x) / 3)), `${x} mm`).toBeLessThan(0.5),
  );
  expect(lensSchema.parse(profile)).toMatchObject({ id: "paper-50", mtf: [{ focalLength: 50, stop: 2 }] });
  write([250, 320]);
  const refused = halo("measure", "printed", "--in", page, "--spec", spec);
  expect([refused.status, refused.stderr]).toEqual([
    2,
    expect.stringMatching(/curves\.0: there is no line at 250, 320 px/),
  ]);
});

test("a filter is measured from a scene without it and with it, and what does not go together is refused", async () => {
  const [without, withIt] = [join(folder, "without.exr"), join(folder, "with.exr")];
  const lamp = (x: number, y: number) => 40 * Math.exp(-(Math.hypot(x - 200, y - 150) ** 2) / 18);
  // Blurred by 30 px the lamp is a wider Gaussian, and the wall's texture is gone.
  const glow = (x: number, y: number) => 40 * (9 / 909) * Math.exp(-(Math.hypot(x - 200, y - 150) ** 2) / 1818);
  const texture = (x: number, y: number) => 0.02 * Math.sin(x / 5) * Math.cos(y / 7);
  await paint("without.exr", (x, y) => 0.05 + texture(x, y) + lamp(x, y));
  await paint("with.exr", (x, y) => 0.9 * (0.05 + 0.7 * (texture(x, y) + lamp(x, y)) + 0.3 * glow(x, y)));
  const asked = ["--sensor", "24.96x14.04", "--focal", "50", "--in-encoding", "linear-ap1"];
  const { status, stdout } = halo("measure", "pair", "--without", without, "--with", withIt, ...asked, "--json");
  expect(status).toBe(0);
  const { filter, explained } = JSON.parse(stdout) as { filter: { grades: [{ scatter: number }] }; explained: number };
  expect(explained).toBeGreaterThan(0.95);
  expect(Math.abs(filterSchema.parse(filter).grades[0]!.scatter - 0.3)).toBeLessThan(0.03);
  const refused = halo("measure", "pair", "--without", join(folder, "flat-1.exr"), "--with", withIt, ...asked);
  expect([refused.status, refused.stderr]).toEqual([2, expect.stringMatching(/too little bright light|clipped/)]);
});

test("a profile goes out as CSV and as a camera calibration, and comes back; what is none is refused by its line or field", () => {
  const at = (name: string) => join(folder, name);
  writeFileSync(
    at("bent.json"),
    JSON.stringify({
      format: "pale-halo-lens",
      version: 1,
      id: "bent",
      name: "Bent",
      distortion: [
        { focalLength: 40, model: "radial-tangential", coefficients: { k1: -0.2, k2: 0.1, k3: 0, p1: 0.001, p2: 0 } },
      ],
      illumination: [{ focalLength: 40, stop: 2, heights: [0, 10], relative: [1, 0.6] }],
    }),
  );
  const lensIn = (name: string) => lensSchema.parse(JSON.parse(readFileSync(at(name), "utf8")));
  expect(halo("profile", "--in", at("bent.json"), "--out", at("bent.csv"))).toMatchObject({ status: 0 });
  expect(halo("profile", "--in", at("bent.csv"), "--out", at("again.json"))).toMatchObject({ status: 0 });
  expect(lensIn("again.json").illumination).toMatchObject([{ heights: [0, 10], relative: [1, 0.6] }]);
  const pictures = ["--sensor", "24x13.5", "--size", "1920x1080"];
  expect(halo("profile", "--in", at("bent.json"), "--out", at("bent.yaml"), ...pictures)).toMatchObject({ status: 0 });
  expect(halo("profile", "--in", at("bent.yaml"), "--out", at("calibrated.json"), "--sensor", "24x13.5")).toMatchObject(
    {
      status: 0,
    },
  );
  expect(lensIn("calibrated.json").distortion).toMatchObject(
    lensIn("bent.json").distortion!.map(({ origin: _, ...own }) => own),
  );
  writeFileSync(at("bad.csv"), "profile,lens\nid,x\nname,X\n\ntransmission\nnm,t\n400,much\n");
  const refused = halo("profile", "--in", at("bad.csv"), "--out", at("never.json"));
  expect(refused.status).toBe(2);
  expect(refused.stderr).toMatch(/bad\.csv: line 7: t: “much” is no number/);
  expect(halo("profile", "--out", at("never.json"))).toMatchObject({ status: 2 });
});

test("distortion goes out as a map and as a polynomial, and comes back; a lens between two is computed", () => {
  const at = (name: string) => join(folder, name);
  const lensIn = (name: string) => lensSchema.parse(JSON.parse(readFileSync(at(name), "utf8")));
  const k1Of = (name: string) => (lensIn(name).distortion![0]!.coefficients as { k1: number }).k1;
  const of = ["--sensor", "24.9x14", "--focal", "85"];
  const map = halo(
    "stmap",
    "--profile",
    "orrin-vale-85",
    ...of,
    "--size",
    "320x180",
    "--overscan",
    "5",
    "--out",
    at("m.exr"),
  );
  expect(map).toMatchObject({ status: 0, stdout: expect.stringMatching(/puts the distortion on, .*16 px beyond/) });
  expect(halo("profile", "--in", at("m.exr"), ...of, "--out", at("mapped.json"))).toMatchObject({ status: 0 });
  const polynomial = ["--radial", "half diagonal", ...of, "--out", at("radial.json")];
  expect(halo("profile", "--in", at("mapped.json"), ...polynomial)).toMatchObject({ status: 0 });
  expect(halo("profile", "--in", at("radial.json"), "--out", at("back.json"))).toMatchObject({ status: 0 });
  expect(k1Of("back.json")).toBeCloseTo(k1Of("mapped.json"), 3);
  expect(halo("profile", "--in", at("m.exr"), "--out", at("never.json"))).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--sensor, --focal: say what the map/),
  });
  const two = ["--between", "orrin-vale-50", "orrin-vale-85"];
  expect(halo("profile", ...two, "--focal", "65", "--out", at("65.json"))).toMatchObject({ status: 0 });
  expect(lensIn("65.json").origin).toMatchObject({ kind: "computed" });
  expect(halo("profile", ...two, "--focal", "40", "--out", at("40.json"))).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--between: 40 mm does not lie between/),
  });
});

test("a look's geometry goes out as a map: of all that moves the picture, and as strong as it does", () => {
  const at = (name: string) => join(folder, name);
  const look = (strength: number) => {
    const path = at(`look-${strength}.json`);
    const lens = { profile: "orrin-vale-25", focalLength: 25, stop: 2.8 };
    const elements = [{ id: "d", kind: "distortion", strength, params: { fit: "keep" } }];
    writeFileSync(path, JSON.stringify({ format: "pale-halo-look", version: 1, name: "Wide", lens, elements }));
    return path;
  };
  const map = (...more: string[]) => halo("stmap", "--size", "320x180", ...more);
  const k1Of = (file: string) => {
    const of = ["--sensor", "24.9x14", "--focal", "25"];
    expect(halo("profile", "--in", file, ...of, "--out", at("of-look.json"))).toMatchObject({ status: 0 });
    const lens = lensSchema.parse(JSON.parse(readFileSync(at("of-look.json"), "utf8")));
    return (lens.distortion![0]!.coefficients as { k1: number }).k1;
  };
  const whole = map("--look", look(1), "--out", at("whole.exr"));
  expect(whole).toMatchObject({ status: 0, stdout: expect.stringMatching(/what moves the picture in Wide/) });
  expect(map("--look", look(0.5), "--out", at("half.exr"))).toMatchObject({ status: 0 });
  expect(k1Of(at("half.exr")) / k1Of(at("whole.exr"))).toBeCloseTo(0.5, 1);
  expect(map("--look", look(0), "--out", at("never.exr"))).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/nothing in it moves the picture/),
  });
  expect(map("--out", at("never.exr"))).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/--profile: name a/),
  });
});
