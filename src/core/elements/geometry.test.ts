import { describe, expect, test } from "vitest";
import { at, flat, impulse, lookOf, painted, scene, through } from "../../testing/laboratory";
import { frameGeometry } from "../frame/geometry";
import type { LensProfile } from "../profile/lens";
import { distorted, distortionOf, type DistortionTable } from "../profile/distortion";
import { fitZoom, geometryReport } from "./geometry";

const [width, height] = [960, 540];
const sensor = { width: 24.9, height: 14 };
const heights = [0, 4, 8, 12, 16];
const radial = (k: { k1?: number; k2?: number; p1?: number; p2?: number }): DistortionTable => ({
  focalLength: 50,
  model: "radial-tangential",
  coefficients: { k1: 0, k2: 0, k3: 0, p1: 0, p2: 0, ...k },
});
const squeezed: DistortionTable = {
  focalLength: 50,
  model: "anamorphic",
  coefficients: {
    x20: -0.5,
    x02: -0.2,
    x40: 0.6,
    x22: 0.3,
    x04: 0.1,
    y20: 0.15,
    y02: -0.3,
    y40: 0,
    y22: -0.4,
    y04: 0.2,
  },
};
const lens = (table: DistortionTable, red = 0, blue = 0): LensProfile => ({
  format: "pale-halo-lens",
  version: 1,
  id: "trial",
  name: "Trial",
  squeeze: 1,
  distortion: [table],
  lateralColour: [
    { focalLength: 50, heights, red: heights.map((h) => (red * h) / 16), blue: heights.map((h) => (blue * h) / 16) },
  ],
});
const { pitchX, pitchY, axisX, axisY } = frameGeometry(width, height, sensor, 1);

const places = [-4, -2, 0, 2, 4].flatMap((i) =>
  [-2, -1, 0, 1, 2].map((j) => [axisX + i * 98.3, axisY + j * 97.7] as const),
);
const SIGMA = 2.6;
const dots = painted(width, height, (x, y) => {
  const light = places.reduce(
    (sum, [px, py]) => sum + Math.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * SIGMA ** 2)),
    0,
  );
  return [light, light, light];
});

function centroid(frame: ReturnType<typeof through>, x0: number, y0: number, channel: number): [number, number] {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = Math.round(y0) - 14; y <= Math.round(y0) + 14; y++) {
    for (let x = Math.round(x0) - 14; x <= Math.round(x0) + 14; x++) {
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const v = at(frame, x, y, channel);
      sum += v;
      sx += v * x;
      sy += v * y;
    }
  }
  return [sx / sum, sy / sum];
}

describe.each([
  ["barrel", radial({ k1: -0.6, k2: 0.5 }), 1],
  ["pincushion, twice", radial({ k1: 0.3 }), 2],
  ["decentred", radial({ k1: -0.2, p1: 0.01, p2: -0.02 }), 1],
  ["anamorphic", squeezed, 1],
] as const)("distortion: %s", (_, table, strength) => {
  test("dot centres fall within 0.05 px RMS of the model", () => {
    const profile = lens(table);
    const out = through(
      lookOf([{ kind: "distortion", strength, params: { fit: "keep" } }], { profile: "trial" }),
      dots,
      { profiles: [profile] },
    );
    let squares = 0;
    let count = 0;
    for (const [px, py] of places) {
      const [dx, dy] = distorted(
        distortionOf(table),
        strength,
        ((px - axisX) * pitchX) / 50,
        ((py - axisY) * pitchY) / 50,
      );
      const [wx, wy] = [(dx * 50) / pitchX + axisX, (dy * 50) / pitchY + axisY];
      if (wx < 16 || wy < 16 || wx > width - 17 || wy > height - 17) continue;
      const [x, y] = centroid(out, wx, wy, 1);
      squares += (x - wx) ** 2 + (y - wy) ** 2;
      count++;
    }
    expect(count).toBeGreaterThan(14);
    expect(Math.sqrt(squares / count)).toBeLessThan(0.05);
  });
});

test.each([
  ["bent and straightened", ["bend", "straighten"]],
  ["straightened and bent", ["straighten", "bend"]],
])("%s, dots lie where they were, within 0.05 px RMS", (_, directions) => {
  const profile = lens(radial({ k1: -0.6, k2: 0.5 }));
  const path = directions.map((direction) => ({ kind: "distortion", params: { direction, fit: "keep" } }));
  const one = through(lookOf(path.slice(0, 1), { profile: "trial" }), dots, { profiles: [profile] });
  const both = through(lookOf(path, { profile: "trial" }), dots, { profiles: [profile] });
  // Those in the corners leave the frame between the two.
  const inner = places.filter(([x, y]) => Math.hypot(x - axisX, y - axisY) < 400);
  const misses = inner.map(([x, y]) => {
    const [cx, cy] = centroid(both, x, y, 1);
    return (cx - x) ** 2 + (cy - y) ** 2;
  });
  expect(inner.length).toBeGreaterThan(14);
  expect(Math.sqrt(misses.reduce((sum, miss) => sum + miss, 0) / misses.length)).toBeLessThan(0.05);
  const [x, y] = places[0]!;
  expect(at(one, Math.round(x), Math.round(y), 1)).toBeLessThan(0.9 * at(dots, Math.round(x), Math.round(y), 1));
});

test.each(["3", "7", "15"])(
  "red and blue are displaced against green by the profile's micrometres, within 0.03 px; %s samples of the spectrum",
  (samples) => {
    const look = lookOf(
      [
        { kind: "distortion", params: { fit: "keep" } },
        { kind: "lateralColour", strength: 1.5, params: { samples } },
      ],
      { profile: "trial" },
    );
    const out = through(look, dots, { profiles: [lens(radial({ k1: -0.3 }), 18, -26)] });
    for (const [px, py] of places) {
      const [dx, dy] = distorted(
        distortionOf(radial({ k1: -0.3 })),
        1,
        ((px - axisX) * pitchX) / 50,
        ((py - axisY) * pitchY) / 50,
      );
      const [gx, gy] = centroid(out, (dx * 50) / pitchX + axisX, (dy * 50) / pitchY + axisY, 1);
      const h = Math.hypot((gx - axisX) * pitchX, (gy - axisY) * pitchY);
      if (h < 0.5) continue;
      for (const [channel, at16] of [
        [0, 18],
        [2, -26],
      ] as const) {
        const [cx, cy] = centroid(out, gx, gy, channel);
        const radial = ((cx - gx) * (gx - axisX) * pitchX) / h + ((cy - gy) * (gy - axisY) * pitchY) / h;
        expect(Math.abs(radial - (((1.5 * at16 * h) / 16) * 1e-3) / pitchX), `height ${h.toFixed(1)} mm`).toBeLessThan(
          0.03,
        );
      }
    }
  },
);

test("a wide fringe is a smooth band of the spectrum, not three ghosts", () => {
  const line = painted(width, height, (x) => (Math.abs(x - 800) < 2 ? [1, 1, 1] : [0, 0, 0]));
  /** The least light from red's place to blue's, against the most. */
  const dip = (samples: string) => {
    const out = through(
      lookOf([{ kind: "lateralColour", strength: 10, params: { samples } }], { profile: "trial" }),
      line,
      { profiles: [lens(radial({}), 60, -60)] },
    );
    const row = Array.from(
      { length: 23 },
      (_, i) => at(out, 789 + i, 270, 0) + at(out, 789 + i, 270, 1) + at(out, 789 + i, 270, 2),
    );
    return Math.min(...row) / Math.max(...row);
  };
  expect(dip("3")).toBeLessThan(0.05);
  expect(dip("15")).toBeGreaterThan(0.7);
});

test("a fringe of green against red and blue shows no more than the picture at its edges", () => {
  const light = [0.5, 0.25, 0.125] as const;
  // Red and blue lie nearly together, green far from both: the spectrum's ends lie far beyond all three.
  for (const sign of [-1, 1]) {
    const out = through(
      lookOf([{ kind: "lateralColour", strength: 10, params: { samples: "15" } }], { profile: "trial" }),
      flat(width, height, [...light]),
      { profiles: [lens(radial({}), 40 * sign, 30 * sign)] },
    );
    const worst = out.data.reduce((most, value, i) => Math.max(most, Math.abs(value - [...light, 1][i % 4]!)), 0);
    expect(worst).toBeLessThan(1e-5);
  }
});

test("the surround is never seen when the frame is filled, and all of the source is when it is shown whole", () => {
  const geometry = frameGeometry(width, height, sensor, 1);
  const distortion = distortionOf(radial({ k1: -0.6 }));
  expect(fitZoom({ distortion, strength: 1, fit: "fill" }, geometry, 50)).toBeLessThan(1);
  expect(geometryReport({ distortion, strength: 1, fit: "all" }, geometry, 50).lost).toBeLessThan(0.02);
  const filled = through(
    lookOf([{ kind: "distortion", params: { fit: "fill" } }], { profile: "trial" }),
    flat(width, height, 0.4),
    { profiles: [lens(radial({ k1: -0.6 }))] },
  );
  expect(at(filled, 0, 0)).toBeCloseTo(0.4, 4);
});

test.each([0.01, 0.8, 3])(
  "the part of the picture that leaves the frame is counted, at %f of a pincushion",
  (strength) => {
    const geometry = frameGeometry(width, height, sensor, 1);
    const distortion = distortionOf(radial({ k1: 0.6 }));
    const { lost } = geometryReport({ distortion, strength, fit: "keep" }, geometry, 25);
    // Counted point by point.
    const [halfX, halfY] = [sensor.width / 50, sensor.height / 50];
    const n = 400;
    let out = 0;
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        const [x, y] = distorted(distortion, strength, ((2 * i + 1) / n - 1) * halfX, ((2 * j + 1) / n - 1) * halfY);
        if (Math.abs(x) > halfX || Math.abs(y) > halfY) out++;
      }
    expect(lost).toBeCloseTo(out / n ** 2, 2);
  },
);

test("a barrel loses nothing, and all of the frame is kept when it is shown whole", () => {
  const geometry = frameGeometry(width, height, sensor, 1);
  const barrel = distortionOf(radial({ k1: -0.6 }));
  expect(geometryReport({ distortion: barrel, strength: 1, fit: "keep" }, geometry, 50).lost).toBe(0);
  const pincushion = distortionOf(radial({ k1: 0.6 }));
  expect(geometryReport({ distortion: pincushion, strength: 1, fit: "all" }, geometry, 25).lost).toBeLessThan(0.001);
});

test("a lamp beside darkness digs no black ring, and no light is negative", () => {
  const source = impulse(width, height, 700, 400, 300);
  for (let i = 0; i < source.data.length; i++) if ((i & 3) !== 3) source.data[i] = Math.max(source.data[i]!, 0.02);
  const out = through(lookOf([{ kind: "distortion" }]), source);
  let darkest = Infinity;
  for (let i = 1; i < out.data.length; i += 4) darkest = Math.min(darkest, out.data[i]!);
  expect(darkest).toBeGreaterThan(0.0149);
});

test("neighbouring geometry is one resampling: the pair equals the pair in the other order", () => {
  const source = scene(320, 180);
  const one = through(lookOf([{ kind: "distortion" }, { kind: "lateralColour" }]), source);
  const other = through(lookOf([{ kind: "lateralColour" }, { kind: "distortion" }]), source);
  expect(other.data).toEqual(one.data);
});

describe("alpha", () => {
  const edge = painted(320, 180, () => [0.5, 0.5, 0.5]);
  for (let y = 0; y < 180; y++) for (let x = 0; x < 320; x++) edge.data[(y * 320 + x) * 4 + 3] = x < 200 ? 1 : 0;
  const opaque = painted(320, 180, () => [0.5, 0.5, 0.5]);
  const look = (kind: string, params = {}) =>
    ({ ...lookOf([{ kind, params }], { profile: "trial" }), tracks: [] }) as ReturnType<typeof lookOf>;
  const profile = lens(radial({ k1: -1.2 }), 400, -400);

  test("moves as colour does, by the same filter: associated colour and alpha stay equal", () => {
    const picture = { ...edge, data: edge.data.slice() };
    for (let i = 0; i < picture.data.length; i += 4) picture.data.fill(picture.data[i + 3]!, i, i + 3);
    const out = through(look("distortion", { fit: "keep" }), picture, { profiles: [profile] });
    let [between, worst] = [0, 0];
    for (let i = 0; i < out.data.length; i += 4) {
      const [green, alpha] = [out.data[i + 1]!, out.data[i + 3]!];
      worst = Math.max(worst, Math.abs(Math.min(1, Math.max(0, green)) - alpha));
      if (alpha > 0.05 && alpha < 0.95) between++;
    }
    expect(worst).toBeLessThan(2e-5);
    expect(between).toBeGreaterThan(50);
  });
  test.each(["distortion", "lateralColour"])("of an opaque picture stays 1, to the bit: %s", (kind) => {
    const out = through(look(kind), opaque, { profiles: [profile] });
    expect(out.data.every((value, i) => i % 4 !== 3 || value === 1)).toBe(true);
  });
});
