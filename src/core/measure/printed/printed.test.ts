import sharp from "sharp";
import { describe, expect, test } from "vitest";
import { monotoneCubic } from "../../maths/interpolate";
import { lensSchema } from "../../profile/lens";
import { axesOf } from "./axes";
import type { Page } from "./follow";
import { profileOf } from "./profile";
import { readPrinted } from "./read";
import { printedSchema, type PrintedSpec } from "./spec";

const [LEFT, TOP, WIDE, HIGH] = [90, 50, 680, 460];
const [MAX_X, MAX_Y] = [20, 100];
const toPage = (x: number, y: number) => [LEFT + (x / MAX_X) * WIDE, TOP + (1 - y / MAX_Y) * HIGH] as const;

interface Drawn {
  colour: string;
  dashes?: string;
  of(x: number): number;
}

/** A page drawn by another library: axes, grid and curves, turned by some degrees about its middle. */
async function page(curves: Drawn[], { turn = 0, jpeg = false, grid = "#c8c8c8" } = {}): Promise<Page> {
  const path = ({ of, colour, dashes }: Drawn) => {
    const places = Array.from({ length: 201 }, (_, i) => toPage((i / 200) * MAX_X, of((i / 200) * MAX_X)));
    const d = places.map(([x, y], i) => `${i ? "L" : "M"}${x.toFixed(3)} ${y.toFixed(3)}`).join("");
    return `<path d="${d}" fill="none" stroke="${colour}" stroke-width="2.2" stroke-dasharray="${dashes ?? "none"}"/>`;
  };
  const lines = Array.from({ length: 11 }, (_, i) => {
    const [x, y] = [LEFT + (i / 10) * WIDE, TOP + (i / 10) * HIGH];
    return `<path d="M${x} ${TOP}V${TOP + HIGH}M${LEFT} ${y}H${LEFT + WIDE}" stroke="${grid}" stroke-width="1"/>`;
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="860" height="600"><rect width="860" height="600" fill="#fbfaf6"/>
    <g transform="rotate(${turn} 430 300)">${lines.join("")}${curves.map(path).join("")}
    <text x="${LEFT}" y="40" font-size="20">MTF, 10 and 30 lp/mm</text></g></svg>`;
  const drawn = sharp(Buffer.from(svg));
  const coded = jpeg ? sharp(await drawn.jpeg({ quality: 80 }).toBuffer()) : drawn;
  const { data, info } = await coded.ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data, (code) => code / 255) };
}

/** Where a place of the drawing lies on the turned page. */
const turned = ([x, y]: readonly [number, number], degrees: number): [number, number] => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  // The drawing's places are between pixels, the page's are pixels' middles.
  return [430 + (x - 430) * c - (y - 300) * s - 0.5, 300 + (x - 430) * s + (y - 300) * c - 0.5];
};

const axes = (turn: number): PrintedSpec["axes"] => ({
  x: {
    scale: "linear",
    from: { value: 0, at: turned(toPage(0, 0), turn) },
    to: { value: MAX_X, at: turned(toPage(MAX_X, 0), turn) },
  },
  y: {
    scale: "linear",
    from: { value: 0, at: turned(toPage(0, 0), turn) },
    to: { value: MAX_Y, at: turned(toPage(0, MAX_Y), turn) },
  },
});

const sagittal = (h: number) => 88 - 0.05 * h ** 2 - 12 * (h / 20) ** 6;
const meridional = (h: number) => 88 - 0.9 * h - 0.075 * h ** 2 + 6 * Math.sin(h / 2.2);
/** Crosses the first. */
const other = (h: number) => 40 + 2.6 * h;

describe.each([
  ["upright", { turn: 0 }],
  ["turned by 1.5°, as JPEG", { turn: 1.5, jpeg: true }],
  ["turned back, on a strong grid", { turn: -1.5, grid: "#a0a0a0" }],
] as const)("a page %s", (_, how) => {
  test.each([
    ["a line", { colour: "#b02020", of: sagittal }, 12],
    ["a dashed line", { colour: "#2040c0", dashes: "9 6", of: meridional }, 6],
    ["a dotted one", { colour: "#202020", dashes: "2 4", of: meridional }, 7],
    ["a black one", { colour: "#000000", of: sagittal }, 3],
  ] as const)("%s is followed to either end, within half a percent", async (__, drawn, at) => {
    const shown = await page([{ colour: "#208040", of: other }, drawn], how);
    const spec = {
      axes: axes(how.turn),
      curves: [{ quantity: "contrast", frequency: 30, from: turned(toPage(at, drawn.of(at)), how.turn) }],
    };
    const [read] = readPrinted(shown, printedSchema.parse(spec));
    expect(read!.x[0]).toBeLessThan(0.3);
    expect(read!.x.at(-1)).toBeGreaterThan(MAX_X - 0.3);
    const between = monotoneCubic(read!.x, read!.y);
    for (let h = 0.4; h < MAX_X - 0.4; h += 0.2)
      expect(Math.abs(between(h) - drawn.of(h)), `${h.toFixed(1)} mm`).toBeLessThan(0.5);
    for (const error of read!.uncertainty) expect(error).toBeLessThan(0.5);
  });
});

test("axes may be turned, skewed and logarithmic", () => {
  const { valueAt } = axesOf({
    x: { scale: "log", from: { value: 10, at: [100, 400] }, to: { value: 1000, at: [500, 420] } },
    y: { scale: "linear", from: { value: 0, at: [103, 380] }, to: { value: 2, at: [113, 80] } },
  });
  const [x, y] = valueAt([300, 410]);
  expect(x).toBeCloseTo(100, 6);
  expect(y).toBeLessThan(0);
  expect(valueAt([100, 400])[0]).toBeCloseTo(10, 6);
  expect(valueAt([113, 80])[1]).toBeCloseTo(2, 6);
});

test("points stand for themselves; what cannot be read is named", () => {
  const spec = (curve: object) => printedSchema.parse({ axes: axes(0), curves: [curve] });
  const points = [4, 9, 16].map((h) => turned(toPage(h, 50 + h), 0));
  const [read] = readPrinted(null, spec({ quantity: "illumination", points }));
  expect(read!.x.map((x) => Math.round(x * 1e3) / 1e3)).toEqual([4, 9, 16]);
  expect(read!.y.map((y) => Math.round(y * 1e3) / 1e3)).toEqual([54, 59, 66]);
  const blank: Page = { width: 200, height: 200, data: new Float32Array(200 * 200 * 4).fill(1) };
  expect(() => readPrinted(blank, spec({ quantity: "transmission", from: [90, 90] }))).toThrow(
    /curves\.0: there is no line at 90, 90 px/,
  );
  expect(printedSchema.safeParse({ axes: axes(0), curves: [{ quantity: "contrast", points }] }).success).toBe(false);
  const flat = { ...axes(0), y: axes(0).x };
  expect(() => axesOf(flat)).toThrow(/in one line/);
});

describe("a lens of a page's curves", () => {
  const read = (values: (h: number) => number, by = 1) => {
    const x = Array.from({ length: 21 }, (_, i) => i * by);
    return { x, y: x.map(values), uncertainty: x.map(() => 0.2) };
  };
  const soft = (f: number, h: number) => 0.7 * Math.exp(-((f / (40 - h)) ** 2)) + 0.3 * Math.exp(-((f / 90) ** 2));
  const curves = [10, 30].flatMap((frequency) =>
    (["sagittal", "meridional"] as const).map((direction) => ({
      ...{ quantity: "contrast" as const, frequency, direction, focalLength: 50, stop: 2 },
      from: [0, 0] as [number, number],
    })),
  );
  const spec = printedSchema.parse({
    axes: axes(0),
    curves: [
      ...curves,
      { quantity: "illumination", focalLength: 50, stop: 2, from: [0, 0] },
      { quantity: "distortion", focalLength: 50, from: [0, 0] },
      { quantity: "transmission", from: [0, 0] },
    ],
  });
  const lens = lensSchema.parse(
    profileOf(spec, [
      ...curves.map(({ frequency }) => read((h) => 100 * soft(frequency, h))),
      read((h) => -0.01 * h * h),
      read((h) => 100 * (-0.8 * (h / 50) ** 2 + 1.5 * (h / 50) ** 4)),
      { ...read((nm) => 92 - nm / 100, 15), x: Array.from({ length: 21 }, (_, i) => 400 + 15 * i) },
    ]),
  );

  test("has what was printed, and between and beyond it what the model fills in, marked as computed", () => {
    const [mtf] = lens.mtf!;
    expect(mtf!.origin).toMatchObject({
      how: expect.stringMatching(/at 10, 30 lp\/mm; 5, 20, 40 lp\/mm were not printed/),
    });
    mtf!.heights.forEach((h, g) =>
      mtf!.frequencies.forEach((f, i) => {
        const bar = f === 10 || f === 30 || f === 0 ? 2e-3 : 0.05;
        expect(Math.abs(mtf!.sagittal[g]![i]! - (f ? soft(f, h) : 1)), `${h} mm, ${f} lp/mm`).toBeLessThan(bar);
      }),
    );
  });

  test("takes stops, percent and coefficients as they are meant", () => {
    const [fall] = lens.illumination!;
    expect(fall!.relative[10]).toBeCloseTo(0.5, 4);
    expect(lens.distortion![0]!.coefficients).toMatchObject({ k1: -0.8, k2: 1.5 });
    expect(lens.transmission!.values[0]).toBeCloseTo(0.92, 4);
  });
});
