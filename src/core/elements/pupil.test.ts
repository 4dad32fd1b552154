import { expect, test } from "vitest";
import { PlanBuilder } from "../engine/plan";
import { at, bench, flat, impulse, lookOf, numbers, painted, through, total } from "../../testing/laboratory";
import { planPupil, type Pupil } from "./pupil";
import type { Frame } from "../image/image";

const pupil: Pupil = { blades: 7, roundness: 0.6, catEye: [1, 0.9, 0.6, 0.4], rim: 0.4 };
const [width, height] = [61, 43];
const place = { radius: 6.3, corner: 40, axisX: 29.2, axisY: 22.1, aspect: 1.2 };
const by = { far: 9, focus: 4 };

/** What the engine gathers, and the record it was given. */
function gathered(picture: Frame, depth: Frame | null, black: boolean): { out: Frame; record: Float32Array } {
  const builder = new PlanBuilder(width, height, `pupil ${Math.random()}`);
  const out = planPupil(builder, 0, {
    pupil,
    ...place,
    black,
    ...(depth ? { depth: { buffer: builder.source({ kind: "depth" }), ...by } } : {}),
  });
  builder.step("pupil", out);
  const bytes = bench.engine.run(builder.finish(), (request) => (request ? depth!.data : picture.data));
  const record = new Float32Array(builder.tables[0]!.slice().buffer);
  return {
    out: { width, height, data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() },
    record,
  };
}

const mirrored = (i: number, n: number) => (i < 0 ? -1 - i : i >= n ? 2 * n - 1 - i : i);

/** The same by its definition, a pixel and a sample at a time, in doubles. */
function expected(
  picture: Frame,
  depth: Frame | null,
  black: boolean,
  record: Float32Array,
  x: number,
  y: number,
): number {
  const { radius, corner, axisX, axisY, aspect } = place;
  const [hx, hy] = [(x - axisX) / aspect, y - axisY];
  const h = Math.hypot(hx, hy);
  const eye = Math.min((h * 8) / corner, 7.999);
  const shift = record[10 + Math.floor(eye)]! * (1 - (eye % 1)) + record[11 + Math.floor(eye)]! * (eye % 1);
  const circle = (z: number) => Math.min(radius, (by.far * Math.abs(z - by.focus)) / z);
  const density = (r: number) => 1 / Math.max(r * r, 0.25);
  const own = depth ? at(depth, x, y) : 0;
  let [sum, weights] = depth ? [at(picture, x, y) * density(circle(own)), density(circle(own))] : [0, 0];
  for (let k = 0; k < record[0]!; k++) {
    const [u, v, share] = record.subarray(20 + 4 * k) as unknown as [number, number, number];
    if ((u + (hx / h) * shift) ** 2 + (v + (hy / h) * shift) ** 2 > 1) continue;
    const [sx, sy] = [x + Math.round(u * radius * aspect), y + Math.round(v * radius)];
    const isOutside = sx < 0 || sy < 0 || sx >= width || sy >= height;
    const [mx, my] = [mirrored(sx, width), mirrored(sy, height)];
    let weight = share;
    if (depth) {
      const z = at(depth, mx, my);
      const reach = z > own ? Math.min(circle(z), circle(own)) : circle(z);
      weight *= Math.min(1, Math.max(0, reach - Math.hypot(u, v) * radius + 1)) * density(reach);
    }
    sum += (black && isOutside ? 0 : at(picture, mx, my)) * weight;
    weights += weight;
  }
  return sum / weights;
}

const next = numbers(9);
const lamps = painted(width, height, () => (next() < 0.01 ? [20 * next(), 20 * next(), 20 * next()] : [0, 0, 0]));
const texture = painted(width, height, () => [next(), next(), next()]);
const ground = painted(
  width,
  height,
  (x, y) => Array(3).fill(x + y < 50 ? 4 : 0.8 + 30 * next() ** 3) as [number, number, number],
);

test.each([
  ["lamps, black outside", lamps, null, true],
  ["lamps, mirrored outside", lamps, null, false],
  ["texture by depth", texture, ground, false],
  ["lamps by depth", lamps, ground, false],
] as const)(
  "four pixels at a time, with dark blocks left out, is what the definition gives: %s",
  (_, picture, depth, black) => {
    const { out, record } = gathered(picture, depth, black);
    expect(total(picture)).toBeGreaterThan(10);
    let atAnEdge = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const light = expected(picture, depth, black, record, x, y);
        if (Math.abs(at(out, x, y) - light) < 1e-4 * Math.max(1, light)) continue;
        // A sample just at the second pupil's edge may fall on either side of it.
        atAnEdge++;
        expect(Math.abs(at(out, x, y) / light - 1), `${x}, ${y}`).toBeLessThan(0.06);
      }
    expect(atAnEdge).toBeLessThan(0.002 * width * height);
  },
);

const defocus = () =>
  lookOf([{ kind: "defocus", params: { by: "depth", focus: 4, most: 6, catEye: 100, rim: 0, blades: 0 } }], {
    focalLength: 85,
    stop: 1.4,
  });

test("a lamp far behind becomes a disc of its circle of confusion, with all its light", () => {
  const [w, h] = [480, 270];
  const lamp = impulse(w, h, 240, 135, 500);
  const out = through(defocus(), lamp, { depth: flat(w, h, 40) });
  // Thin lens: the circle's diameter at infinity is f^2 / (N (s - f)), times |z - s| / z at a distance z.
  const radius = ((85 ** 2 / (1.4 * (4000 - 85))) * 0.9) / 2 / (24.9 / w);
  const middle = 500 / (Math.PI * radius ** 2);
  for (const [x, y] of [
    [0, 0],
    [5, 3],
    [-8, 0],
    [0, 7],
  ] as const)
    expect(Math.abs(at(out, 240 + x, 135 + y) / middle - 1), `${x}, ${y}`).toBeLessThan(0.15);
  for (const [x, y] of [
    [1, 0],
    [0, -1],
    [0.7, 0.7],
  ] as const)
    expect(at(out, 240 + Math.round(x * (radius + 5)), 135 + Math.round(y * (radius + 5)))).toBeLessThan(0.02 * middle);
  expect(Math.abs(total(out) / 500 - 1)).toBeLessThan(0.01);
});

test("a bright blurred background does not run over what is sharp before it, and what is in focus stays as it is", () => {
  const [w, h] = [320, 180];
  const picture = painted(w, h, (x, y) => (x < 160 ? [0.1 + 0.05 * ((x + y) % 2), 0.1, 0.1] : [4, 4, 4]));
  const depth = painted(w, h, (x) => Array(3).fill(x < 160 ? 4 : 60) as [number, number, number]);
  const out = through(defocus(), picture, { depth });
  for (const x of [60, 100, 150, 157])
    for (const channel of [0, 1])
      expect(Math.abs(at(out, x, 90, channel) / at(picture, x, 90, channel) - 1), `${x}`).toBeLessThan(0.02);
});
