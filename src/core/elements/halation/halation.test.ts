import { expect, test } from "vitest";
import { at, impulse, lookOf, through, total } from "../../../testing/laboratory";
import { takenLight } from "../key";
import { halationProfile } from "./halation";

const params = {
  threshold: 3,
  knee: 1,
  limit: 16,
  ring: 200,
  tail: 320,
  layers: [14, 4, 0.8],
  background: 0,
  saturation: 1,
};
const [width, height, lamp] = [640, 360, 3000];
const pitch = 14 / height; // mm
const taken = takenLight({ channel: "maximum", threshold: 3, knee: 1, limit: 16 }, lamp);
const halo = (more: Record<string, unknown> = {}) =>
  through(lookOf([{ kind: "halation", params: { ...params, ...more } }]), impulse(width, height, 320, 180, lamp));

test("a point's light comes back in a ring that is brightest at its stated radius and dips in the middle", () => {
  const profile = halationProfile(200, 320);
  const radii = Array.from({ length: 400 }, (_, i) => 40 + i);
  const brightest = radii.reduce((best, r) => (profile(r) > profile(best) ? r : best));
  expect(Math.abs(brightest / 200 - 1)).toBeLessThan(0.12);
  expect(profile(200)).toBeGreaterThan(1.3 * profile(60));
});

test("the rendered ring has that shape, is round, and is red most", () => {
  const out = halo({ ring: 400, tail: 900 });
  const profile = halationProfile(400, 900);
  for (const r of [4, 8, 11, 16, 24, 40]) {
    const wanted = 0.14 * taken * profile(r * pitch * 1000) * (pitch * 1000) ** 2;
    expect(Math.abs(Math.log10(at(out, 320 + r, 180, 0) / wanted)), `${r} px`).toBeLessThan(0.06);
    expect(Math.abs(at(out, 320, 180 + r, 0) / at(out, 320 + r, 180, 0) - 1), `${r} px round`).toBeLessThan(0.05);
    expect(at(out, 320 + r, 180, 0) / at(out, 320 + r, 180, 2)).toBeCloseTo(14 / 0.8, 1);
  }
});

test("the light that comes back is the stated share of the light that was taken, on any format", () => {
  const out = halo();
  params.layers.forEach((percent, channel) =>
    expect((total(out, channel) - lamp) / taken).toBeCloseTo(percent / 100, 3),
  );
  expect((total(halo({ background: 0.75 }), 0) - lamp) / taken).toBeCloseTo(0.035, 3);
  // A small proxy of a large format: the ring is within a pixel, and the light is still there.
  const coarse = through(
    lookOf([{ kind: "halation", params: { ...params, ring: 20, tail: 30 } }], {}, { width: 54, height: 30 }),
    impulse(240, 136, 120, 68, lamp),
  );
  expect((total(coarse, 0) - lamp) / taken).toBeCloseTo(0.14, 2);
});
