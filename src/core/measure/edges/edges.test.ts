import { describe, expect, test } from "vitest";
import { numbers } from "../../../testing/laboratory";
import { contrastAt } from "../edge";
import type { Plane } from "../plane";
import { measureEdges } from "./edges";
import { contrastRows } from "./rows";

/** The normal distribution function (Abramowitz and Stegun 26.2.17, within 7.5e-8). */
const normal = (x: number): number => {
  const t = 1 / (1 + 0.2316419 * Math.abs(x));
  const tail =
    (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return x > 0 ? 1 - tail : tail;
};

interface Square {
  x: number;
  y: number;
  half: number;
  /** Radians. */
  turn: number;
  /** Softness along the square's first side's normal, and along the other's, px. */
  across: number;
  down: number;
  /** Light it adds to the ground. */
  light: number;
}

const GROUND = 0.6;

/** Turned squares blurred by Gaussians, by the closed form, with noise. */
function chart(width: number, height: number, squares: Square[], noise = 0): Plane {
  const data = new Float64Array(width * height).fill(GROUND);
  for (const { x: cx, y: cy, half, turn, across, down, light } of squares) {
    const reach = Math.ceil(half * Math.SQRT2 + 6 * Math.max(across, down));
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    for (let y = Math.max(0, Math.floor(cy - reach)); y < Math.min(height, cy + reach); y++)
      for (let x = Math.max(0, Math.floor(cx - reach)); x < Math.min(width, cx + reach); x++) {
        const [u, v] = [(x - cx) * c + (y - cy) * s, (y - cy) * c - (x - cx) * s];
        const bar = (t: number, soft: number) => normal((t + half) / soft) - normal((t - half) / soft);
        data[y * width + x]! += light * bar(u, across) * bar(v, down);
      }
  }
  const next = numbers(11);
  if (noise)
    for (let i = 0; i < data.length; i++)
      data[i]! += noise * (next() + next() + next() + next() + next() + next() - 3) * Math.SQRT2;
  return { width, height, data };
}

const gaussian = (f: number, deviation: number) => Math.exp(-2 * (Math.PI * deviation * f) ** 2);
const WIDTH = 1280;
const HEIGHT = 720;
const PITCH = 24.9 / WIDTH;
const [AXIS_X, AXIS_Y] = [(WIDTH - 1) / 2, (HEIGHT - 1) / 2];
const PLACES = [
  [0, 0],
  ...[0, 90, 180, 270].map((degrees) => [220, degrees] as const),
  ...[30, 150, 210, 330].map((degrees) => [430, degrees] as const),
  ...[28, 152, 208, 332].map((degrees) => [590, degrees] as const),
] as const;
/** Softness by distance from the axis, px: along the radius it grows faster. */
const meridional = (away: number) => 0.8 + away / 500;
const sagittal = (away: number) => 0.8 + away / 900;

const lensChart = (noise = 0, ink = -0.5) =>
  chart(
    WIDTH,
    HEIGHT,
    PLACES.map(([away, degrees]) => {
      const angle = (degrees * Math.PI) / 180;
      return {
        x: AXIS_X + away * Math.cos(angle) + 0.37,
        y: AXIS_Y + away * Math.sin(angle) + 0.21,
        half: 42,
        turn: angle + (5 * Math.PI) / 180,
        across: meridional(away),
        down: sagittal(away),
        light: ink,
      };
    }),
    noise,
  );

describe("a chart of turned squares, softer towards the corners", () => {
  test.each([-0.5, 0.9])("every side is found, dark on light and light on dark (%d)", (ink) => {
    const { edges, refused } = measureEdges(lensChart(0, ink));
    expect(edges.length).toBe(4 * PLACES.length);
    expect(refused).toEqual([]);
    const [least, most] = [Math.min, Math.max].map((of) => of(...edges.map(({ step }) => step)));
    const wanted = Math.abs(ink) / (2 * GROUND + ink);
    expect(least).toBeGreaterThan(0.97 * wanted);
    expect(most).toBeLessThan(1.03 * wanted);
  });

  test("with noise of 0.5 %, each reads its own softness, and its uncertainty holds the truth", () => {
    const { edges } = measureEdges(lensChart(0.005));
    let [held, all] = [0, 0];
    for (const { x, y, response, uncertainty } of edges) {
      const place = PLACES.map(([away, degrees]) => {
        const angle = (degrees * Math.PI) / 180;
        return {
          away,
          angle,
          far: Math.hypot(AXIS_X + away * Math.cos(angle) - x, AXIS_Y + away * Math.sin(angle) - y),
        };
      }).sort((a, b) => a.far - b.far)[0]!;
      const radial = Math.abs(response.normal[0] * Math.cos(place.angle) + response.normal[1] * Math.sin(place.angle));
      const soft = radial > 0.7 ? meridional(place.away) : sagittal(place.away);
      for (const f of [0.05, 0.1, 0.2, 0.3]) {
        const off = Math.abs(contrastAt(response, f) - gaussian(f, soft));
        expect(off, `${x.toFixed(0)}, ${y.toFixed(0)} at ${f}`).toBeLessThan(0.03);
        all++;
        if (off < 2 * contrastAt({ frequencies: response.frequencies, contrast: uncertainty }, f)) held++;
      }
    }
    expect(held / all).toBeGreaterThan(0.9);
  });

  test("gathered into rows they are the lens's table, both directions at every height", () => {
    const rows = contrastRows(measureEdges(lensChart(0.005)).edges, { axisX: AXIS_X, axisY: AXIS_Y, pitch: PITCH });
    expect(rows.heights.length).toBeGreaterThanOrEqual(4);
    expect(rows.filled).toEqual({ sagittal: [], meridional: [] });
    expect(rows.frequencies[0]).toBe(0);
    rows.heights.forEach((height, g) =>
      rows.frequencies.forEach((lp, i) => {
        const [away, f] = [height / PITCH, lp * PITCH];
        if (f > 0.3) return;
        expect(Math.abs(rows.meridional[g]![i]! - gaussian(f, meridional(away))), `${height} mm, ${lp}`).toBeLessThan(
          0.03,
        );
        expect(Math.abs(rows.sagittal[g]![i]! - gaussian(f, sagittal(away))), `${height} mm, ${lp}`).toBeLessThan(0.03);
      }),
    );
  });
});

test("edges that cannot be measured are told with the reason, and a picture without edges has none", () => {
  const flat = chart(320, 240, [], 0.005);
  expect(measureEdges(flat).edges).toEqual([]);
  expect(() => contrastRows([], { axisX: 0, axisY: 0, pitch: 0.01 })).toThrow(/No slanted edge/);
  const clipped = chart(
    320,
    240,
    [{ x: 160, y: 120, half: 50, turn: 0.09, across: 1.2, down: 1.2, light: 0.9 }],
    0.002,
  );
  const cutOff = { ...clipped, data: Float64Array.from(clipped.data, (value) => Math.min(value, 1)) };
  const { edges, refused } = measureEdges(cutOff);
  expect(edges).toEqual([]);
  expect(refused.map(({ reason }) => reason)).toEqual(
    Array(4).fill("The bright side of the edge is clipped; expose the chart less"),
  );
});
