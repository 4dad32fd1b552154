import { describe, expect, test } from "vitest";
import { at, flat, halved, impulse, lookOf, painted, through, total } from "../../../testing/laboratory";
import { type FilterProfile, spreadCurve } from "../../profile/filter";

const degrees = [0, ...Array.from({ length: 33 }, (_, i) => 0.005 * 10 ** (i / 9))];

function filterOf(spread: (degrees: number) => number, scatter = 0.5): FilterProfile {
  const values = degrees.map(spread);
  return {
    format: "pale-halo-filter",
    version: 1,
    id: "trial",
    name: "Trial",
    grades: [
      {
        grade: "1",
        scatter,
        absorption: 0,
        transmissionStops: 0,
        spread: { degrees, red: values, green: values, blue: values },
      },
    ],
  };
}

const look = lookOf([{ kind: "diffusion", params: { profile: "trial", grade: "1" } }]);
const alone = lookOf([{ kind: "diffusion", params: { profile: "trial", grade: "1", surround: "black" } }]);
const [width, height] = [640, 360];
const [cx, cy] = [320, 180];
const pitch = 14 / height;
const angleOf = (r: number) => (Math.atan((r * pitch) / 50) * 180) / Math.PI;

const spreads: Record<string, (t: number) => number> = {
  "exponential core, power tail": (t) => Math.exp(-t / 0.12) + 0.02 * (1 + (t / 0.3) ** 2) ** -1.5,
  "power law of exponent 3": (t) => (1 + (t / 0.06) ** 2) ** -1.5,
  "pure exponential": (t) => Math.exp(-t / 0.35),
  "power law of exponent 2.5": (t) => (1 + (t / 0.05) ** 2) ** -1.25,
};

describe.each(Object.entries(spreads))("a point source through a filter: %s", (_, spread) => {
  const profiles = [filterOf(spread)];
  // Shape is seen without the mirrored surround, which would add light, and where the frame's upper and lower edges are
  // far.
  const out = through(alone, impulse(width, height, cx, cy, 1000), { profiles });
  const curve = spreadCurve(degrees, degrees.map(spread));
  // Unit sum over the plane, by a sum over a fine grid of rings.
  let sum = 0;
  for (let r = 0.0005; r < 735; r += Math.max(0.001, r * 0.002))
    sum += 2 * Math.PI * r * curve(angleOf(r)) * Math.max(0.001, r * 0.002);
  const wanted = (r: number) => (1000 * 0.5 * curve(angleOf(r))) / sum;
  const level = [-0.5, -0.3, -0.1, 0.1, 0.3, 0.5].flatMap((angle) => [angle, angle + Math.PI]);
  const bilinear = (x: number, y: number) => {
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const [u, v] = [x - i, y - j];
    return (
      at(out, i, j) * (1 - u) * (1 - v) +
      at(out, i + 1, j) * u * (1 - v) +
      at(out, i, j + 1) * (1 - u) * v +
      at(out, i + 1, j + 1) * u * v
    );
  };

  test("follows the profile within 0.05 log10, five decades down", () => {
    const peak = wanted(1.5);
    for (const r of [2, 3, 4, 6, 8, 12, 18, 27, 40, 60, 90, 130, 170]) {
      if (wanted(r) < peak * 1e-5) continue;
      // On the axes only whole pixels are read, so that reading adds nothing.
      const mean = (at(out, cx + r, cy) + at(out, cx - r, cy) + at(out, cx, cy + r) + at(out, cx, cy - r)) / 4;
      const around = level.reduce((s, a) => s + bilinear(cx + r * Math.cos(a), cy + r * Math.sin(a)), 0) / level.length;
      expect(Math.abs(Math.log10((r < 6 ? mean : around) / wanted(r))), `r = ${r} px`).toBeLessThan(0.05);
    }
  });

  test("is round within 5 %", () => {
    for (const r of [5, 10, 20, 40, 80]) {
      if (wanted(r) < wanted(1.5) * 1e-5) continue;
      const diagonal = Math.round(r / Math.SQRT2);
      const length = diagonal * Math.SQRT2;
      const along = Math.exp(
        Math.log(at(out, cx + Math.floor(length), cy)) * (1 - (length % 1)) +
          Math.log(at(out, cx + Math.ceil(length), cy)) * (length % 1),
      );
      expect(Math.abs(at(out, cx + diagonal, cy + diagonal) / along - 1), `r = ${r} px`).toBeLessThan(0.05);
    }
  });

  test("keeps the total light within 0.1 %", () =>
    expect(Math.abs(total(through(look, impulse(width, height, cx, cy, 1000), { profiles })) / 1000 - 1)).toBeLessThan(
      1e-3,
    ));
});

test("the spread is the same within 2 % wherever the point falls on the pixel grid", () => {
  const profiles = [filterOf(spreads["exponential core, power tail"]!)];
  const here = through(look, impulse(width, height, cx, cy, 1000), { profiles });
  for (const [dx, dy] of [
    [1, 0],
    [0, 1],
    [2, 1],
    [3, 2],
    [5, 7],
  ] as const) {
    const moved = through(look, impulse(width, height, cx + dx, cy + dy, 1000), { profiles });
    for (const [x, y] of [
      [3, 0],
      [0, 5],
      [9, 4],
      [-14, 7],
      [30, -20],
      [60, 50],
      [-110, 3],
    ] as const) {
      const ratio = at(moved, cx + dx + x, cy + dy + y) / at(here, cx + x, cy + y);
      expect(Math.abs(ratio - 1), `moved ${dx},${dy}, seen at ${x},${y}`).toBeLessThan(0.02);
    }
  }
});

test("a flat field stays flat and a frame's total is kept, to its edges", () => {
  const field = through(lookOf([{ kind: "diffusion" }]), flat(200, 120, 0.18));
  for (const [x, y] of [
    [0, 0],
    [199, 119],
    [100, 60],
    [0, 60],
  ] as const)
    expect(at(field, x, y)).toBeCloseTo(0.18, 5);
});

test("a half-size frame gives the full-size result scaled down", () => {
  const full = painted(800, 448, (x, y) => (Math.hypot(x - 300.5, y - 200.5) < 9 ? [30, 20, 10] : [0.1, 0.1, 0.1]));
  const glass = lookOf([{ kind: "diffusion", strength: 2 }]);
  const small = through(glass, halved(full));
  const reference = halved(through(glass, full));
  for (const [x, y] of [
    [150, 120],
    [170, 100],
    [200, 130],
    [60, 60],
    [300, 200],
    [150, 30],
  ] as const) {
    expect(Math.abs(at(small, x, y) / at(reference, x, y) - 1), `${x},${y}`).toBeLessThan(0.02);
  }
});

test("strength scales the scattered light, and the transmission's stops", () => {
  const seen = (strength: number, compensate: boolean) =>
    total(
      through(
        lookOf([{ kind: "diffusion", strength, params: { grade: "1", compensate } }]),
        impulse(320, 180, 160, 90, 100),
      ),
    ) / 100;
  expect(seen(1, true)).toBeCloseTo(1, 3);
  expect(Math.log2(seen(1, false))).toBeCloseTo(-0.28, 2);
  expect(Math.log2(seen(2, false))).toBeCloseTo(-0.56, 2);
});

test("on squeezed footage the spread is round on the scene: half as wide as high in pixels", () => {
  const squeezed = { ...look, camera: { ...look.camera, squeeze: 2 } };
  const out = through(squeezed, impulse(width, height, cx, cy, 1000), {
    profiles: [filterOf(spreads["exponential core, power tail"]!)],
  });
  for (const r of [4, 8, 16, 32])
    expect(Math.abs(Math.log10(at(out, cx + r, cy) / at(out, cx, cy + 2 * r))), `${r} px`).toBeLessThan(0.05);
});
