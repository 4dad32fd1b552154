import { describe, expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { distorted, distortionOf, type DistortionTable } from "../profile/distortion";
import { type GridChart, measureGrid } from "./grid";
import { MeasureError, type Plane } from "./plane";

const [width, height, pitch, focalLength] = [960, 540, 24.9 / 960, 40];
const radial: DistortionTable = {
  focalLength,
  model: "radial-tangential",
  coefficients: { k1: -0.35, k2: 0.4, k3: 0, p1: 0.004, p2: -0.006 },
};
const cylindrical: DistortionTable = {
  focalLength,
  model: "anamorphic",
  coefficients: {
    x20: -0.5,
    x02: -0.2,
    x40: 0.4,
    x22: 0.3,
    x04: 0.1,
    y20: 0.1,
    y02: -0.3,
    y40: 0,
    y22: -0.2,
    y04: 0.2,
  },
};
const LATERAL = { red: 14, green: 0, blue: -22 }; // µm at 14 mm

/** A grid of anti-aliased discs, turned by a degree, as the lens draws it; some damaged, with noise and fall-off. */
function chart(table: DistortionTable, { light = false, noise = 0, damaged = 0, tilt = 0 } = {}): GridChart {
  const next = numbers(11);
  const lens = distortionOf(table);
  const turn = Math.PI / 180;
  const plane = (channel: keyof typeof LATERAL): Plane => {
    const data = new Float64Array(width * height).fill(1);
    let serial = 0;
    for (let j = -8; j <= 8; j++)
      for (let i = -14; i <= 14; i++) {
        const [gx, gy] = [(i * 36.3 + 4.2) * pitch, (j * 36.3 - 2.7) * pitch];
        // A chart that leans away from the camera, by `tilt` degrees about the upright.
        const away = 1 + (Math.tan((tilt * Math.PI) / 180) * gx) / focalLength;
        const [ix, iy] = [gx * Math.cos(turn) - gy * Math.sin(turn), gx * Math.sin(turn) + gy * Math.cos(turn)];
        let [x, y] = distorted(lens, 1, ix / focalLength / away, iy / focalLength / away).map(
          (value) => value * focalLength,
        ) as [number, number];
        const out = Math.hypot(x, y);
        const further = out ? (LATERAL[channel] * 1e-3 * (out / 14)) / out : 0;
        [x, y] = [(x * (1 + further)) / pitch + (width - 1) / 2, (y * (1 + further)) / pitch + (height - 1) / 2];
        if (damaged && ++serial % damaged === 0) continue;
        for (let py = Math.floor(y) - 8; py <= y + 8; py++)
          for (let px = Math.floor(x) - 8; px <= x + 8; px++)
            if (px >= 0 && py >= 0 && px < width && py < height)
              data[py * width + px]! *= 1 - 0.9 * Math.min(1, Math.max(0, 5.5 - Math.hypot(px - x, py - y)));
      }
    if (damaged)
      for (let k = 0; k < 12; k++) for (let t = 0; t < 40; t++) data[(60 + k * 37) * width + 70 + k * 61 + t] = 0.1; // scratches
    const value = (v: number, i: number) => {
      const fall = 1 / (1 + (Math.hypot((i % width) - width / 2, Math.floor(i / width) - height / 2) / 900) ** 2);
      return (
        fall *
        (light ? 0.02 + 0.5 * (1 - v) : 0.5 * v) *
        (1 + noise * (next() + next() + next() + next() - 2) * Math.sqrt(3))
      );
    };
    return { width, height, data: data.map(value) };
  };
  return {
    planes: { red: plane("red"), green: plane("green"), blue: plane("blue") },
    pitchX: pitch,
    pitchY: pitch,
    axisX: (width - 1) / 2,
    axisY: (height - 1) / 2,
    focalLength,
    model: table.model,
  };
}

describe.each([
  ["radial and tangential", radial],
  ["anamorphic", cylindrical],
] as const)("a dot grid through a lens: %s", (_, table) => {
  test.each([
    ["dark dots", {}, 0.02, 0.4],
    ["light dots", { light: true }, 0.02, 0.4],
    ["a chart that leans by 0.84°", { tilt: 0.84 }, 0.02, 0.4],
    ["a chart that leans by 3.3°", { tilt: 3.3 }, 0.02, 0.4],
    ["2 % noise, missing dots and scratches", { noise: 0.02, damaged: 17 }, 0.05, 0.8],
  ] as const)("%s", (_, options, px, um) => {
    const measured = measureGrid(chart(table, options));
    expect(measured.dots.length).toBeGreaterThan(300);
    expect(measured.residual).toBeLessThan(px);
    // Coefficients lean on each other; what they do to the picture, at an edge and a corner, must be the lens's.
    const got = distortionOf({
      focalLength,
      model: table.model,
      coefficients: measured.coefficients,
    } as DistortionTable);
    for (const [x, y] of [
      [0.28, 0],
      [0, 0.16],
      [0.25, 0.14],
    ] as const) {
      const shift = (d: typeof got) =>
        distorted(d, 1, x, y).map((value, k) => ((value - [x, y][k]!) * focalLength) / pitch);
      const [wanted, found] = [shift(distortionOf(table)), shift(got)];
      expect(Math.hypot(wanted[0]! - found[0]!, wanted[1]! - found[1]!), `${x}, ${y}`).toBeLessThan(
        0.02 * Math.hypot(wanted[0]!, wanted[1]!) + 0.1,
      );
    }
    measured.lateral.heights.forEach((h, k) => {
      expect(Math.abs(measured.lateral.red[k]! - (LATERAL.red * h) / 14), `red at ${h.toFixed(1)} mm`).toBeLessThan(um);
      expect(Math.abs(measured.lateral.blue[k]! - (LATERAL.blue * h) / 14), `blue at ${h.toFixed(1)} mm`).toBeLessThan(
        um,
      );
    });
  });
});

test("what holds no grid is refused with its reason", () => {
  const flat: Plane = { width, height, data: new Float64Array(width * height).fill(0.3) };
  const empty: GridChart = {
    planes: { red: flat, green: flat, blue: flat },
    pitchX: pitch,
    pitchY: pitch,
    axisX: (width - 1) / 2,
    axisY: (height - 1) / 2,
    focalLength,
    model: "radial-tangential",
  };
  expect(() => measureGrid(empty)).toThrow(MeasureError);
  expect(() => measureGrid(empty)).toThrow(/no dots/);
});
