import { describe, expect, test } from "vitest";
import { at, flat, lookOf, numbers, painted, through } from "../../testing/laboratory";
import { whereSchema } from "./schema";

const even = flat(160, 90, 0.2);
const brighter = (where: unknown, frame = even, depth = undefined as typeof even | undefined) =>
  through(lookOf([{ kind: "trim", params: { exposure: 1 }, where }]), frame, { depth });
const gainAt = (out: typeof even, x: number, y: number, of = even) => at(out, x, y) / at(of, x, y);

describe("a shape", () => {
  const disc = { kind: "shape", width: 40, height: 40, outer: 1.5 };
  test("is full inside its inner line, nothing outside its outer one, and smooth between", () => {
    const out = brighter({ areas: [disc] });
    expect(gainAt(out, 80, 45)).toBeCloseTo(2, 5);
    expect(gainAt(out, 80, 30)).toBeCloseTo(2, 5);
    expect(gainAt(out, 80, 15)).toBeCloseTo(1, 5);
    for (let y = 16; y < 30; y++) expect(gainAt(out, 80, y)).toBeLessThanOrEqual(gainAt(out, 80, y + 1) + 1e-6);
  });
  test("inverted, moved, free in width and height, rotated", () => {
    expect(gainAt(brighter({ areas: [{ ...disc, inverted: true }] }), 80, 45)).toBeCloseTo(1, 5);
    expect(gainAt(brighter({ areas: [{ ...disc, x: 25 }] }), 120, 45)).toBeCloseTo(2, 5);
    const tall = { ...disc, width: 10, height: 80 };
    expect(
      [gainAt(brighter({ areas: [tall] }), 80, 12), gainAt(brighter({ areas: [tall] }), 110, 45)].map((gain) =>
        Math.round(gain * 100),
      ),
    ).toEqual([200, 100]);
    expect(gainAt(brighter({ areas: [{ ...tall, rotation: 90 }] }), 110, 45)).toBeCloseTo(2, 5);
  });
  test("joined by union, intersection and difference, weakened by strength", () => {
    const left = { ...disc, x: -10 };
    const right = { ...disc, x: 10 };
    const both = (combine: string) => brighter({ areas: [left, { ...right, combine }] });
    expect([52, 80, 108].map((x) => Math.round(gainAt(both("union"), x, 45) * 10))).toEqual([20, 20, 20]);
    expect([52, 80, 108].map((x) => Math.round(gainAt(both("intersection"), x, 45) * 10))).toEqual([10, 20, 10]);
    expect([52, 80, 108].map((x) => Math.round(gainAt(both("difference"), x, 45) * 10))).toEqual([20, 10, 10]);
    expect(gainAt(brighter({ areas: [disc], strength: 0.5 }), 80, 45)).toBeCloseTo(1.5, 4);
  });
});

test("a polygon holds what lies inside it", () => {
  const out = brighter({
    areas: [
      {
        kind: "polygon",
        points: [
          [-30, -30],
          [30, -30],
          [0, 40],
        ],
        soft: 2,
      },
    ],
  });
  expect([gainAt(out, 80, 40), gainAt(out, 10, 45), gainAt(out, 50, 80)].map((gain) => Math.round(gain * 10))).toEqual([
    20, 10, 10,
  ]);
});

test("a key on light takes its stops, one on colour its hue, whatever the light", () => {
  const ramp = painted(160, 16, (x) => Array(3).fill(0.18 * 2 ** (x / 20 - 4)) as [number, number, number]);
  const out = brighter({ areas: [{ kind: "key", low: 0, high: 2, soft: 0.5 }] }, ramp);
  expect([100, 60, 150].map((x) => Math.round((at(out, x, 8) / at(ramp, x, 8)) * 10))).toEqual([20, 10, 10]);
  const colours = painted(80, 16, (x) => (x < 40 ? [0.5, 0.1, 0.1] : [0.02, 0.02, 0.1]));
  const red = brighter({ areas: [{ kind: "key", colour: [1, 0.2, 0.2], width: 0.1 }] }, colours);
  expect([10, 70].map((x) => Math.round((at(red, x, 8, 2) / at(colours, x, 8, 2)) * 10))).toEqual([20, 10]);
});

test("a range of depth takes what stands in it", () => {
  const depth = painted(160, 90, (x) => Array(3).fill(1 + x / 10) as [number, number, number]);
  const out = brighter({ areas: [{ kind: "depth", near: 5, far: 10, soft: 0.05 }] }, even, depth);
  expect([10, 70, 150].map((x) => Math.round(gainAt(out, x, 45) * 10))).toEqual([10, 20, 10]);
});

describe("what moves light is limited where it comes from, where it falls, or both", () => {
  // A lamp inside the area, and one outside it.
  const lamps = painted(256, 144, (x, y) =>
    Math.abs(y - 72) < 2 && (Math.abs(x - 64) < 2 || Math.abs(x - 192) < 2) ? [40, 40, 40] : [0.01, 0.01, 0.01],
  );
  const glow = (limits: string) =>
    through(
      lookOf([
        {
          kind: "glow",
          params: { gain: 100, size: 6, hold: 16 },
          where: { areas: [{ kind: "shape", x: -25, width: 60, height: 60, outer: 1.2 }], limits },
        },
      ]),
      lamps,
    );
  const lift = (limits: string, x: number, y = 72) => at(glow(limits), x, y) / 0.01;
  test("source: only the lamp inside glows, and it glows beyond the area", () => {
    expect(lift("source", 74)).toBeGreaterThan(2);
    expect(lift("source", 64, 134)).toBeGreaterThan(1.05);
    expect(lift("source", 202)).toBeLessThan(lift("result", 74) / 3);
  });
  test("result: nothing changes outside", () => {
    expect(lift("result", 74)).toBeGreaterThan(2);
    expect(lift("result", 202)).toBeCloseTo(1, 5);
  });
});

test("the area itself is shown as a matte, and over the picture", () => {
  const look = lookOf([{ kind: "trim", where: { areas: [{ kind: "shape", width: 40, height: 40 }] } }]);
  const shown = (over: boolean) =>
    new Uint8Array(through(look, even, { output: { kind: "area", element: "e0", over } }).data.buffer);
  const pixel = (bytes: Uint8Array, x: number, y: number) => [
    ...bytes.subarray((y * 160 + x) * 4, (y * 160 + x) * 4 + 3),
  ];
  expect(pixel(shown(false), 80, 45)).toEqual([255, 255, 255]);
  expect(pixel(shown(false), 2, 2)).toEqual([0, 0, 0]);
  const [r, , b] = pixel(shown(true), 80, 45);
  expect(r! - b!).toBeGreaterThan(60);
  expect(pixel(shown(true), 2, 2)[0]).toBe(pixel(shown(true), 2, 2)[2]);
});

describe("a key by itself", () => {
  const [width, height] = [240, 200];
  const keyed = (area: Record<string, unknown>, frame: typeof even) =>
    through(
      lookOf([
        { kind: "trim", params: { exposure: 1 }, where: { areas: [{ kind: "key", low: 0, soft: 0.2, ...area }] } },
      ]),
      frame,
    );
  const next = numbers(3);
  const grainy = painted(
    width,
    height,
    (x) => Array(3).fill((x < 120 ? 0.1 : 0.19) * (1 + 0.25 * (next() - 0.5))) as [number, number, number],
  );
  const spread = (out: typeof even, left: number) => {
    const gains = Array.from({ length: 1600 }, (_, i) => gainAt(out, left + (i % 40), 40 + Math.floor(i / 40), grainy));
    const mean = gains.reduce((a, b) => a + b, 0) / gains.length;
    return Math.sqrt(gains.reduce((sum, gain) => sum + (gain - mean) ** 2, 0) / gains.length);
  };
  test("looks through grain, and its edge stays where it was", () => {
    const [raw, steady] = [keyed({ steady: 0 }, grainy), keyed({ steady: 1 }, grainy)];
    expect(spread(steady, 180)).toBeLessThan(0.25 * spread(raw, 180));
    expect(gainAt(steady, 110, 100, grainy)).toBeCloseTo(1, 2);
    expect(gainAt(steady, 130, 100, grainy)).toBeGreaterThan(1.9);
  });
  test("its own blur softens its edge alone, and it joins the others as before", () => {
    const step = painted(width, height, (x) => Array(3).fill(x < 120 ? 0.02 : 0.5) as [number, number, number]);
    const soft = keyed({ steady: 0, blur: 3 }, step);
    expect(gainAt(soft, 119, 100, step)).toBeCloseTo(1.5, 1);
    expect(gainAt(soft, 114, 100, step)).toBeGreaterThan(1.05);
    const disc = { kind: "shape", width: 40, height: 40, outer: 1.2 };
    const both = (combine: string) =>
      through(
        lookOf([
          {
            kind: "trim",
            params: { exposure: 1 },
            where: {
              areas: [
                disc,
                { kind: "key", low: 0, soft: 0.2, blur: 1, combine },
                { kind: "shape", x: 40, width: 10, height: 10, outer: 1.2 },
              ],
            },
          },
        ]),
        step,
      );
    const seen = (out: typeof even) => [100, 130, 200, 216].map((x) => Math.round(gainAt(out, x, 100, step)));
    expect(seen(both("intersection"))).toEqual([1, 2, 1, 2]);
    expect(seen(both("difference"))).toEqual([2, 1, 1, 2]);
    expect(seen(both("union"))).toEqual([2, 2, 2, 2]);
  });
});

test("the whole path has an area too: outside it the footage stays as it came in, to the bit", () => {
  const source = painted(160, 90, (x, y) => [0.1 + x / 200, 0.3, y / 90]);
  const look = {
    ...lookOf([{ kind: "diffusion" }, { kind: "trim", params: { exposure: 1 } }]),
    where: whereSchema.parse({ areas: [{ kind: "shape", width: 50, height: 50, outer: 1.2 }] }),
  };
  const out = through(look, source);
  const everywhere = through({ ...look, where: undefined }, source);
  for (const [x, y] of [
    [2, 2],
    [150, 80],
    [20, 45],
  ] as const)
    for (const c of [0, 1, 2]) expect(at(out, x, y, c)).toBe(at(source, x, y, c));
  for (const c of [0, 1, 2]) expect(at(out, 80, 45, c)).toBeCloseTo(at(everywhere, 80, 45, c), 6);
});
