import { expect, test } from "vitest";
import { at, lookOf, painted, through } from "../../../testing/laboratory";
import { softnessAt } from "./edgeSoftness";

const [width, height] = [640, 360];
const pitch = 14 / height;
const params = { blur: 60, start: 30, growth: 1.5, ratio: 1, curvature: 0 };
const line = (x0: number, light: number) => painted(width, height, (x) => { const v = 0.02 + light * Math.max(0, 1 - Math.abs(x - x0)); return [v, v, v]; });
const soft = (frame: ReturnType<typeof line>, more: Record<string, unknown> = {}, strength = 1) => through(lookOf([{ kind: "edgeSoftness", strength, params: { ...params, ...more } }]), frame);
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
