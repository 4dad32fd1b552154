import { expect, test } from "vitest";
import { at, flat, halved, impulse, lookOf, painted, through, total } from "../../../testing/laboratory";
import { takenLight } from "../key";
import { glowProfile } from "./spread";

const params = { threshold: 2, knee: 1, size: 5, falloff: 0.5, gain: 50, hold: 16, limit: 16 };

test("the glow of a point has the stated shape and half its light within the stated size", () => {
  const [w, h] = [640, 360];
  const light = 1000;
  const out = through(
    lookOf([{ kind: "glow", params: { ...params, surround: "black" } }]),
    impulse(w, h, 320, 180, light),
  );
  const taken = takenLight({ channel: "maximum", threshold: 2, knee: 1, limit: 16 }, light);
  const profile = glowProfile(0.05 * h, 0.5);
  for (const r of [4, 8, 16, 32, 64, 120])
    expect(Math.abs(Math.log10(at(out, 320 + r, 180) / (0.5 * taken * profile(r)))), `${r} px`).toBeLessThan(0.05);
});

test("what is below the threshold's knee takes no part, bit for bit", () => {
  const dim = flat(160, 90, 0.18 * 2 ** 1.4);
  expect(through(lookOf([{ kind: "glow", params }]), dim).data).toEqual(dim.data);
});

test.each([
  ["each", (light: number[], taken: (x: number) => number) => light.map(taken)],
  [
    "maximum",
    (light: number[], taken: (x: number) => number) =>
      light.map((x) => (x * taken(Math.max(...light))) / Math.max(...light)),
  ],
  ["green", (light: number[], taken: (x: number) => number) => light.map((x) => (x * taken(light[1]!)) / light[1]!)],
] as const)("the light of a point that is taken, keyed on: %s", (channel, expected) => {
  const [w, h] = [320, 180];
  const light = [40, 6, 0.3];
  const source = painted(w, h, (x, y) => (x === 160 && y === 90 ? (light as [number, number, number]) : [0, 0, 0]));
  const out = through(lookOf([{ kind: "glow", params: { ...params, channel, surround: "black" } }]), source);
  const profile = glowProfile(0.05 * h, 0.5);
  const key = { channel: "maximum" as const, threshold: 2, knee: 1, limit: 16 };
  expected(light, (x) => takenLight(key, x)).forEach((taken, c) => {
    if (taken)
      expect(Math.abs(Math.log10(at(out, 176, 90, c) / (0.5 * taken * profile(16)))), `channel ${c}`).toBeLessThan(
        0.05,
      );
    else expect(at(out, 176, 90, c)).toBeLessThan(1e-9);
  });
});

test("the key is continuous in value and slope through its knee", () => {
  const key = { channel: "maximum" as const, threshold: 2, knee: 2, limit: 16 };
  const slope = (x: number) => (takenLight(key, x * 1.0001) - takenLight(key, x)) / (x * 0.0001);
  for (const stops of [1, 3]) {
    const edge = 0.18 * 2 ** stops;
    expect(takenLight(key, edge * 1.0001)).toBeCloseTo(takenLight(key, edge * 0.9999), 3);
    expect(slope(edge * 1.001)).toBeCloseTo(slope(edge * 0.999), 2);
  }
});

test("glow is added, holds what is bright, and is the same glow at half the size", () => {
  const lamp = painted(800, 448, (x, y) => (Math.hypot(x - 400.5, y - 224.5) < 14 ? [20, 20, 20] : [0.05, 0.05, 0.05]));
  const added = through(lookOf([{ kind: "glow", params }]), lamp);
  const held = through(lookOf([{ kind: "glow", params: { ...params, hold: 4 } }]), lamp);
  expect(at(added, 400, 224)).toBeGreaterThan(21);
  expect(at(held, 400, 224)).toBeLessThan(20.5);
  expect(at(held, 440, 224)).toBeGreaterThan(0.2);
  const small = through(lookOf([{ kind: "glow", params }]), halved(lamp));
  for (const x of [215, 230, 260, 320])
    expect(Math.abs(at(small, x, 112) / at(halved(added), x, 112) - 1)).toBeLessThan(0.02);
});

test("mix and strength 0 are exact, and the light laid over scales with strength", () => {
  const source = impulse(320, 180, 160, 90, 500);
  for (const setup of [{ strength: 0 }, { mix: 0 }, { on: false }])
    expect(through(lookOf([{ kind: "glow", params, ...setup }]), source).data).toEqual(source.data);
  const extra = (setup: { strength?: number; mix?: number }) =>
    total(through(lookOf([{ kind: "glow", params, ...setup }]), source)) - 500;
  expect(extra({ strength: 2 }) / extra({ strength: 1 })).toBeCloseTo(2, 3);
  expect(extra({ mix: 0.25 }) / extra({ mix: 1 })).toBeCloseTo(0.25, 3);
});
