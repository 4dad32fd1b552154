import { expect, test } from "vitest";
import { PlanBuilder } from "../engine/plan";
import { at, bench, flat, impulse, lookOf, numbers, painted, through, total } from "../../testing/laboratory";
import { planPupil, type Pupil } from "./pupil";
import type { Frame } from "../image/image";

const pupil: Pupil = { blades: 7, roundness: 0.6, catEye: [1, 0.9, 0.6, 0.4], rim: 0.4 };
const [width, height] = [61, 43];
const place = { radius: 6.3, corner: 40, axisX: 29.2, axisY: 22.1, aspect: 1.2 };
const by = { far: 9, focus: 4 };
const plainly = { larger: "held", alpha: "picture" } as const;

/** What the engine gathers, and the record it was given. */
function gathered(picture: Frame, depth: Frame | null, black: boolean): { out: Frame; record: Float32Array } {
  const builder = new PlanBuilder(width, height, `pupil ${Math.random()}`);
  const out = planPupil(builder, 0, {
    pupil,
    ...place,
    black,
    ...(depth ? { depth: { buffer: builder.source({ kind: "depth" }), ...by, ...plainly } } : {}),
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

/** Places of the record (assembly/pupil.ts), floats. */
const [EYES, OPEN, LIST, ENTRY] = [18, 27, 36, 8];
const share = (value: number) => Math.min(1, Math.max(0, value));

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
  const tabled = (from: number) =>
    record[from + Math.floor(eye)]! * (1 - (eye % 1)) + record[from + 1 + Math.floor(eye)]! * (eye % 1);
  const [ex, ey] = [(hx / h) * tabled(EYES), (hy / h) * tabled(EYES)];
  const samples = Array.from({ length: record[0]! }, (_, k) =>
    record.subarray(LIST + k * ENTRY, LIST + (k + 1) * ENTRY),
  );
  const sourceAt = (dx: number, dy: number) => {
    const [sx, sy] = [x + dx, y + dy];
    const isOutside = sx < 0 || sy < 0 || sx >= width || sy >= height;
    return { isOutside, at: [mirrored(sx, width), mirrored(sy, height)] as const };
  };
  if (!depth) {
    let [sum, weights] = [0, 0];
    for (const [px, py, , weight, dx, dy] of samples as unknown as number[][]) {
      if ((px! + ex * radius) ** 2 + (py! + ey * radius) ** 2 > radius ** 2) continue;
      const from = sourceAt(dx!, dy!);
      sum += (black && from.isOutside ? 0 : at(picture, ...from.at)) * weight!;
      weights += weight!;
    }
    return sum / weights;
  }
  const circle = (z: number) => Math.min(radius, (by.far * Math.abs(z - by.focus)) / z);
  // Pixels a circle covers, counted anew.
  const area = (c: number) =>
    samples.reduce((total, [, , reach, weight]) => total + weight! * share(c + 0.5 - reach!), 0);
  const z = at(depth, x, y);
  const layers = { near: [0, 0], same: [0, 0], far: [0, 0] };
  for (const [px, py, reach, weight, dx, dy] of samples as unknown as number[][]) {
    const from = sourceAt(dx!, dy!);
    const [light, zs] = [at(picture, ...from.at), at(depth, ...from.at)];
    const c = circle(zs);
    const open = share(c + 0.5 - Math.hypot(px! + ex * c, py! + ey * c));
    const rim = 1 + pupil.rim * (2 * Math.min(1, reach! / Math.max(c, 1e-6)) ** 6 - 0.5);
    const spread = (weight! * Math.min(open, share(c + 0.5 - reach!)) * rim * tabled(OPEN)) / area(c);
    const apart = (zs - z) / (0.2 * z);
    const differ = Math.abs(c - circle(z)) / Math.max(c, circle(z), 4);
    const isOneSide = zs > by.focus === z > by.focus;
    const told = isOneSide ? Math.max(share((differ - 0.05) / 0.2), share((Math.abs(apart) - 4) / 4)) : 1;
    const [behind, before] = [share(apart - 0.25) * told, share(-apart - 0.25) * told];
    const put = (layer: number[], w: number) => {
      layer[0]! += w * light;
      layer[1]! += w;
    };
    put(layers.near, spread * before);
    put(layers.same, spread * (1 - before - behind));
    put(layers.far, weight! * share(circle(z) + 0.5 - reach!) * behind);
  }
  const { near, same, far } = layers as unknown as Record<string, [number, number]>;
  const isWhole = same![1] >= 1 || far![1] === 0;
  const base = isWhole ? same![0] / same![1] : same![0] + (1 - same![1]) * (far![0] / far![1]);
  return near![0] / Math.max(1, near![1]) + (1 - Math.min(1, near![1])) * base;
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
        // The kernel has circles' areas from a table with steps of an eighth of a pixel.
        if (Math.abs(at(out, x, y) - light) < (depth ? 5e-3 : 1e-4) * Math.max(1, light)) continue;
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

test("among things far behind that lie at many distances, a lamp is a whole disc all the same", () => {
  const [w, h] = [480, 270];
  const lamp = impulse(w, h, 240, 135, 500);
  const random = numbers(4);
  // Foliage in clumps of three pixels, from 25 to 40 m: circles that differ by less than a twentieth.
  const clumps = Array.from({ length: w * h }, () => 25 + 15 * random());
  const leaves = painted(
    w,
    h,
    (x, y) => Array<number>(3).fill(clumps[Math.floor(y / 3) * w + Math.floor(x / 3)]!) as [number, number, number],
  );
  const [among, alone] = [leaves, flat(w, h, 32)].map((depth) => through(defocus(), lamp, { depth }));
  const middle = at(alone!, 240, 135);
  for (let y = 95; y < 175; y++)
    for (let x = 200; x < 280; x++)
      if (at(alone!, x, y) > 0.95 * middle || at(alone!, x, y) < 0.05 * middle)
        expect(Math.abs(at(among!, x, y) - at(alone!, x, y)) / middle, `${x}, ${y}`).toBeLessThan(0.25);
});

/** The radius (µm) of an even disc that spreads light as far, by its second moment. */
function drawnRadius(out: Frame, x0: number, y0: number, pitch: number): number {
  let [sum, moment] = [0, 0];
  for (let y = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++) {
      sum += at(out, x, y);
      moment += at(out, x, y) * ((x - x0) ** 2 + (y - y0) ** 2);
    }
  return Math.sqrt(2 * (moment / sum)) * pitch * 1000;
}

const plain = { catEye: 100, rim: 0, blades: 0 };

test.each([
  [960, 20],
  [1920, 20],
  [960, 53],
  [1920, 53],
  [1920, 150],
])("at %i px a circle of %i µm is drawn as large as it is asked, by depth and of highlights", (w, wanted) => {
  const h = (w * 9) / 16;
  const [x, y] = [w / 2 + 3, h / 2 - 5];
  const lamp = impulse(w, h, x, y, 500);
  // Radius at infinity, µm: f² / (2 N (s - f)). Three times as far away as the focus it is two thirds of it.
  const atInfinity = (1000 * 50 ** 2) / (2 * 2 * (9000 - 50));
  const strength = wanted / ((2 / 3) * atInfinity);
  const byDepth = { by: "depth", focus: 9, most: 6, ...plain };
  const far = through(lookOf([{ kind: "defocus", strength, params: byDepth }]), lamp, {
    depth: flat(w, h, 27),
  });
  const ofLamps = through(
    lookOf([
      {
        kind: "defocus",
        params: { by: "highlights", size: wanted, most: 6, threshold: -8, knee: 0, limit: 16, ...plain },
      },
    ]),
    lamp,
  );
  const pitch = 24.9 / w;
  // A pixel has a width of its own: an even disc on a grid is a little wider than the circle.
  const allowed = 0.06 * wanted + 0.25 * pitch * 1000;
  expect(Math.abs(drawnRadius(far, x, y, pitch) - wanted)).toBeLessThan(allowed);
  expect(Math.abs(drawnRadius(ofLamps, x, y, pitch) - wanted)).toBeLessThan(allowed);
});

test("it begins at nothing: a lamp is what it was at a strength of a thousandth, and falls without a jump", () => {
  const lamp = impulse(120, 68, 60, 34, 50);
  for (const params of [
    { by: "highlights", size: 400, ...plain },
    { by: "depth", focus: 2, most: 6, ...plain },
  ]) {
    const peaks = Array.from({ length: 60 }, (_, i) => (i / 60) ** 2 * 2).map((strength) =>
      at(
        through(
          lookOf([{ kind: "defocus", strength: strength || 1e-3, params }], { focalLength: 85, stop: 1.4 }),
          lamp,
          {
            ...(params.by === "depth" ? { depth: flat(120, 68, 30) } : {}),
          },
        ),
        60,
        34,
      ),
    );
    expect(peaks[0]).toBeCloseTo(50, 2);
    peaks.slice(1).forEach((peak, i) => expect(Math.abs(Math.log2(peak / peaks[i]!))).toBeLessThan(0.6));
  }
});

test("what is near and blurred lies over what is sharp behind it, as much as its circles cover, and loses no light", () => {
  const [w, h] = [480, 270];
  const isNear = (x: number) => x < 200;
  const picture = painted(w, h, (x) => (isNear(x) ? [2, 2, 2] : [0.1, 0.1, 0.1]));
  const depth = painted(w, h, (x) => Array(3).fill(isNear(x) ? 2 : 4) as [number, number, number]);
  const out = through(defocus(), picture, { depth });
  const radius = 85 ** 2 / (1.4 * (4000 - 85)) / 2 / (24.9 / w);
  // Share of a disc beyond a straight edge at a distance from its middle.
  const beyond = (d: number) => {
    const t = Math.min(1, Math.max(-1, d / radius));
    return (Math.acos(t) - t * Math.sqrt(1 - t * t)) / Math.PI;
  };
  for (const d of [2, 5, 9, 13, 20]) {
    const cover = beyond(d + 0.5);
    const wanted = cover * 2 + (1 - cover) * 0.1;
    expect(Math.abs(at(out, 199 + d + 1, 135) - wanted), `${d} px beyond the edge`).toBeLessThan(0.08);
    const own = 1 - beyond(d + 0.5);
    expect(Math.abs(at(out, 199 - d, 135) - (own * 2 + (1 - own) * 0.1)), `${d} px within it`).toBeLessThan(0.08);
  }
  expect(Math.abs(total(out) / total(picture) - 1)).toBeLessThan(0.01);
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
