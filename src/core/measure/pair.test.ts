import { expect, test } from "vitest";
import { demoFilters } from "../../demo/glass/filters";
import { lookOf, numbers, painted, through } from "../../testing/laboratory";
import type { Frame } from "../image/image";
import { spreadCurve } from "../profile/filter";
import { chartOf } from "./chart";
import { measurePair } from "./pair";

const [WIDTH, HEIGHT] = [640, 360];
const SENSOR = { width: 24.9, height: (24.9 * HEIGHT) / WIDTH };
const FOCAL = 50;

/** Small lamps, large and small, before a dark wall with some texture. */
function scene(): Frame {
  const next = numbers(21);
  const lamps = Array.from({ length: 24 }, () => ({
    x: next() * WIDTH,
    y: next() * HEIGHT,
    size: 1.5 + 5 * next() ** 2,
    light: [20 + 60 * next(), 20 + 50 * next(), 15 + 40 * next()],
  }));
  return painted(WIDTH, HEIGHT, (x, y) => {
    const wall = 0.04 + 0.02 * Math.sin(x / 5) * Math.cos(y / 7) + 0.03 * (x / WIDTH);
    const light: [number, number, number] = [wall, wall * 0.9, wall * 0.8];
    for (const lamp of lamps) {
      const far = Math.hypot(x - lamp.x, y - lamp.y) / lamp.size;
      if (far < 5) for (let c = 0; c < 3; c++) light[c]! += lamp.light[c]! * Math.exp(-(far ** 2));
    }
    return light;
  });
}

const noisy = (frame: Frame, seed: number): Frame => {
  const next = numbers(seed);
  const normal = () => next() + next() + next() + next() + next() + next() - 3;
  return {
    ...frame,
    data: frame.data.map((value, i) => (i % 4 === 3 ? value : value * (1 + 0.005 * 1.41 * normal()))),
  };
};

const chart = (frame: Frame) => chartOf(frame, SENSOR);

test.each(["1/4", "1"])(
  "a filter of grade %s: scatter within a twentieth of it, spread within 0.1 log10, light that comes through",
  (grade) => {
    const filter = demoFilters().find(({ id }) => id === "milkglass")!;
    const truth = filter.grades.find((entry) => entry.grade === grade)!;
    const without = scene();
    const look = lookOf(
      [{ kind: "diffusion", params: { profile: "milkglass", grade, compensate: false } }],
      { focalLength: FOCAL },
      SENSOR,
    );
    const found = measurePair(chart(noisy(without, 5)), chart(noisy(through(look, without), 6)), FOCAL);
    const { scatter, transmission, spread } = found.channels.green;
    expect(found.explained).toBeGreaterThan(0.97);
    expect(Math.abs(scatter / truth.scatter - 1)).toBeLessThan(0.05);
    expect(Math.abs(Math.log2(transmission) - truth.transmissionStops)).toBeLessThan(0.02);
    const curve = spreadCurve(truth.spread.degrees, truth.spread.green);
    const pitch = SENSOR.width / WIDTH;
    const angle = (px: number) => (Math.atan((px * pitch) / FOCAL) * 180) / Math.PI;
    // The profile is relative light: brought to one over the frame's reach, px by px.
    let sum = 0;
    for (let r = 0.05; r < Math.hypot(WIDTH, HEIGHT); r += 0.1) sum += 2 * Math.PI * r * 0.1 * curve(angle(r));
    found.degrees.forEach((degrees, i) => {
      const px = (Math.tan((degrees * Math.PI) / 180) * FOCAL) / pitch;
      if (px < 2 || px > HEIGHT / 4) return;
      const off = Math.log10(spread[i]!) - Math.log10(curve(degrees) / sum);
      expect(Math.abs(off), `${px.toFixed(1)} px`).toBeLessThan(0.1);
    });
  },
);

test("what moved, is clipped, or has no bright light is refused with the reason", () => {
  const without = scene();
  const fog = through(lookOf([{ kind: "diffusion", params: { profile: "milkglass", grade: "1/4" } }]), without);
  const moved = painted(WIDTH, HEIGHT, (x, y) => {
    const at = (y * WIDTH + Math.min(WIDTH - 1, x + 9)) * 4;
    return [fog.data[at]!, fog.data[at + 1]!, fog.data[at + 2]!];
  });
  expect(() => measurePair(chart(without), chart(moved), FOCAL)).toThrow(/something moved/);
  const clipped = { ...without, data: without.data.map((value) => Math.min(1, value)) };
  expect(() => measurePair(chart(clipped), chart(fog), FOCAL)).toThrow(/clipped/);
  const flat = painted(WIDTH, HEIGHT, (x) => [0.2 + x / 9000, 0.2 + x / 9000, 0.2]);
  expect(() => measurePair(chart(noisy(flat, 3)), chart(flat), FOCAL)).toThrow(/too little bright light/);
});
