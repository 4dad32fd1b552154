import { expect, test } from "vitest";
import { at, lookOf, painted, through } from "../../../testing/laboratory";
import { softnessAt } from "./edgeSoftness";

const [width, height] = [640, 360];
const pitch = 14 / height;
const params = { blur: 60, start: 30, growth: 1.5, ratio: 1, smear: 0, curvature: 0, aspect: 1 };
const line = (x0: number, light: number) =>
  painted(width, height, (x) => {
    const v = 0.02 + light * Math.max(0, 1 - Math.abs(x - x0));
    return [v, v, v];
  });
const soft = (frame: ReturnType<typeof line>, more: Record<string, unknown> = {}, strength = 1) =>
  through(lookOf([{ kind: "edgeSoftness", strength, params: { ...params, ...more } }]), frame);
/** Standard deviation along a row of what a thin upright line becomes, px. */
const spread = (out: ReturnType<typeof line>, x0: number, y: number) => {
  let [sum, moment] = [0, 0];
  for (let x = x0 - 9; x <= x0 + 9; x++) {
    const light = at(out, x, y) - 0.02;
    [sum, moment] = [sum + light, moment + light * (x - x0) ** 2];
  }
  return Math.sqrt(moment / sum);
};

test("inside the start nothing changes; towards the corner blur grows as its curve says", () => {
  const centre = soft(line(330, 1));
  expect(at(centre, 330, 180)).toBeCloseTo(1.02, 2);
  const corner = Math.hypot(width / 2, height / 2);
  for (const x0 of [520, 600]) {
    const wanted = softnessAt(params as never, 1, (x0 - 319.5) / corner).radial / 1000 / pitch;
    expect(Math.abs(spread(soft(line(x0, 1)), x0, 180) - wanted), `at ${x0}`).toBeLessThan(0.15 * wanted + 0.1);
  }
});

test("a radial ratio smears along the radius and spares what lies along it", () => {
  const smeared = soft(line(600, 1), { ratio: 4 });
  const across = soft(line(600, 1), { ratio: 0.25 });
  expect(spread(smeared, 600, 180)).toBeGreaterThan(2 * spread(across, 600, 180));
});

test("where only highlights soften, what is below the key stays sharp to the bit", () => {
  const dim = line(600, 0.3);
  expect(soft(dim, { softens: "highlights", threshold: 3 }).data).toEqual(dim.data);
  const lamp = line(600, 40);
  const out = soft(lamp, { softens: "highlights", threshold: 3, limit: 16 });
  expect(at(out, 600, 180)).toBeLessThan(0.8 * at(lamp, 600, 180));
  expect(at(out, 603, 180)).toBeGreaterThan(2 * at(lamp, 603, 180));
});

/** Standard deviation of what a thin upright line at x0 becomes, over the whole width on one row. */
const wideSpread = (out: ReturnType<typeof line>, x0: number, y: number, reach: number) => {
  let [sum, moment] = [0, 0];
  for (let x = x0 - reach; x <= Math.min(width - 1, x0 + reach); x++) {
    const light = at(out, x, y) - 0.02;
    [sum, moment] = [sum + light, moment + light * (x - x0) ** 2];
  }
  return Math.sqrt(moment / sum);
};

test("a smear draws out along the radius what a blur of the same width spreads all round", () => {
  const upright = soft(line(600, 1), { blur: 0, smear: 100 });
  expect(spread(upright, 600, 180)).toBeGreaterThan(1.2);
  // Straight above the axis the radius runs down the frame: an upright line lies along it.
  const above = soft(line(320, 1), { blur: 0, smear: 100, start: 0 });
  expect(spread(above, 320, 10)).toBeLessThan(0.45);
});

test("wide blurs keep their width, their light and their smooth shape", () => {
  // A tenfold enlargement of the sensor: blurs of many pixels.
  for (const [blur, bar] of [
    [60, 0.1],
    [25, 0.1],
  ] as const) {
    const look = {
      ...lookOf([{ kind: "edgeSoftness", params: { ...params, start: 0, growth: 1, blur } }]),
      camera: { sensor: { width: 2.49, height: 1.4 }, squeeze: 1 },
    };
    const [x0, y] = [480, 180];
    const out = through(look, line(x0, 1));
    const corner = Math.hypot(width / 2, height / 2);
    const wanted =
      softnessAt({ ...params, start: 0, growth: 1, blur } as never, 1, (x0 - 319.5) / corner).radial /
      1000 /
      (1.4 / height);
    expect(wanted).toBeGreaterThan(2.5);
    expect(Math.abs(wideSpread(out, x0, y, Math.ceil(4.5 * wanted)) / wanted - 1), `${blur} µm`).toBeLessThan(bar);
    let light = 0;
    for (let x = 0; x < width; x++) light += at(out, x, y) - 0.02;
    expect(light).toBeCloseTo(1, 1);
    // Nothing rings: away from the line it only falls.
    for (let x = x0 + 3; x < x0 + 3 * wanted; x++) expect(at(out, x + 1, y)).toBeLessThan(at(out, x, y) + 2e-4);
  }
});

test("an aspect keeps the sides or the top sharp, and the corner as it was", () => {
  const field = (aspect: number, x: number, y: number) => {
    const spot = painted(
      width,
      height,
      (px, py) => Array(3).fill(px === x && py === y ? 1 : 0.02) as [number, number, number],
    );
    return at(soft(spot, { aspect, start: 0, growth: 1 }), x, y);
  };
  const [side, top, corner] = [
    [620, 180],
    [320, 5],
    [632, 354],
  ] as const;
  expect(field(3, ...side)).toBeGreaterThan(1.3 * field(1, ...side));
  expect(field(3, ...top)).toBeLessThan(0.8 * field(1, ...top));
  expect(field(3, ...corner)).toBeCloseTo(field(1, ...corner), 1);
});

test("field curvature: one sign brings a ring back into focus, the other takes it away sooner", () => {
  const at = (curvature: number, share: number) =>
    softnessAt({ ...params, start: 0, growth: 2, curvature } as never, 1, share).radial;
  expect(at(0.5, 0.5)).toBeCloseTo(0, 6);
  expect(at(-0.5, 0.5)).toBeGreaterThan(1.9 * at(0, 0.5));
});

test("beside a lamp nothing goes darker than it was, whichever way it is softened", () => {
  const lamp = painted(
    width,
    height,
    (x, y) => Array(3).fill(Math.hypot(x - 560, y - 300) < 3 ? 300 : 0.02) as [number, number, number],
  );
  for (const more of [{}, { ratio: 5 }, { ratio: 0.2 }, { smear: 120 }, { aspect: 3 }])
    expect(
      soft(lamp, more, 2).data.reduce((least, value) => Math.min(least, value)),
      JSON.stringify(more),
    ).toBeGreaterThan(0.0199);
});
