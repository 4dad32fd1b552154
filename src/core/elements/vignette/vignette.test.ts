import { expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../../testing/laboratory";

const [width, height] = [480, 270];
const params = { inner: 40, outer: 120, aspect: 1, exposure: 0 };
const vignetted = (more: Record<string, unknown>, frame = flat(width, height, 0.4), strength = 1) =>
  through(lookOf([{ kind: "vignette", strength, params: { ...params, ...more } }]), frame);

test("colour multiplies the outside alone, and strength is its power", () => {
  for (const strength of [0.5, 1, 2]) {
    const out = vignetted({ colour: [0.5, 1, 2] }, undefined, strength);
    [0.5, 1, 2].forEach((factor, channel) => {
      expect(at(out, 2, 2, channel)).toBeCloseTo(0.4 * factor ** strength, 5);
      expect(at(out, 240, 135, channel)).toBeCloseTo(0.4, 6);
    });
  }
});

test("blur softens the outside to its stated width, leaves the inside bit for bit, and flat light flat", () => {
  const stripes = painted(width, height, (x) => (x % 8 < 4 ? [0.2, 0.2, 0.2] : [0.6, 0.6, 0.6]));
  const out = vignetted({ blur: 3 }, stripes);
  for (const x of [238, 240, 243]) expect(at(out, x, 135)).toBe(at(stripes, x, 135));
  // Away from the edge, whose mirror image makes a wider stripe.
  const column = Array.from({ length: 16 }, (_, i) => at(out, 40 + i, 8));
  expect(Math.max(...column) - Math.min(...column)).toBeLessThan(0.01);
  const edge = vignetted(
    { blur: 3 },
    painted(width, height, (x) => (x < 60 ? [1, 1, 1] : [0, 0, 0])),
  );
  // The slope of a Gaussian-blurred edge is 1 / (sigma sqrt(2 pi)) per px; sigma is 3 % of the height.
  expect((at(edge, 59, 8) - at(edge, 60, 8)) * 0.03 * height * Math.sqrt(2 * Math.PI)).toBeCloseTo(1, 1);
  const plain = vignetted({ blur: 3 });
  expect(plain.data.every((value, i) => Math.abs(value - (i % 4 === 3 ? 1 : 0.4)) < 2e-6)).toBe(true);
});
