import fc from "fast-check";
import { expect, test } from "vitest";
import { chromaOf, colourAt } from "./chroma";
import { whiteFor, whiteGains } from "./daylight";

const channel = fc.double({ min: 0, max: 16, noNaN: true });

test("a colour goes on the disc and back as it was", () => {
  fc.assert(
    fc.property(channel, channel, channel, (r, g, b) => {
      fc.pre(r + g + b > 1e-6);
      const back = colourAt(chromaOf([r, g, b]));
      [r, g, b].forEach((value, i) => expect(Math.abs(back[i]! - value)).toBeLessThan(1e-9 * (r + g + b)));
    }),
  );
});

test("white is the middle, the primaries lie on the circle, a third of a turn apart", () => {
  expect(chromaOf([0.4, 0.4, 0.4])).toMatchObject({ u: 0, v: 0 });
  const [red, green, blue] = [chromaOf([1, 0, 0]), chromaOf([0, 1, 0]), chromaOf([0, 0, 1])];
  for (const { u, v } of [red, green, blue]) expect(Math.hypot(u, v)).toBeCloseTo(1, 12);
  expect(Math.atan2(green.v, green.u)).toBeCloseTo((2 * Math.PI) / 3, 12);
  expect(Math.atan2(blue.v, blue.u)).toBeCloseTo((-2 * Math.PI) / 3, 12);
  expect(chromaOf([0, 0, 0])).toEqual({ u: 0, v: 0, amount: 0 });
});

test("a place that no light has is drawn in towards white, and the amount is kept", () => {
  const held = colourAt({ u: -1, v: 0, amount: 2 });
  expect(Math.min(...held)).toBeCloseTo(0, 12);
  expect((held[0] + held[1] + held[2]) / 3).toBeCloseTo(2, 12);
});

test("the white that is picked makes what was picked neutral, within what white may be moved", () => {
  for (const [mired, tint] of [
    [40, 10],
    [-60, -8],
    [70, 25],
  ] as const) {
    const light = whiteGains(mired, tint).map((gain) => 0.4 / gain) as [number, number, number];
    const found = whiteFor(light);
    expect(found.mired).toBeCloseTo(mired, 3);
    expect(found.tint).toBeCloseTo(tint, 3);
    const gains = whiteGains(found.mired, found.tint);
    expect((light[0] * gains[0]) / (light[1] * gains[1])).toBeCloseTo(1, 4);
    expect((light[2] * gains[2]) / (light[1] * gains[1])).toBeCloseTo(1, 4);
  }
  const far = whiteFor([1, 0.05, 0.02]);
  expect(far.mired).toBeGreaterThanOrEqual(-100);
  expect(far.tint).toBeLessThanOrEqual(30);
});
