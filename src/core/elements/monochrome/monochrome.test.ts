import { expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../../testing/laboratory";

const through1 = (params: Record<string, unknown>, light: [number, number, number], strength = 1) => {
  const out = through(lookOf([{ kind: "monochrome", strength, params }]), flat(4, 4, light));
  return [0, 1, 2].map((c) => at(out, 1, 1, c));
};

test("grey stays as it is, whatever film and filter; colours become grey", () => {
  for (const response of ["panchromatic", "orthochromatic", "redBlind"])
    for (const filter of ["none", "yellow", "orange", "red", "green"]) {
      through1({ response, filter }, [0.3, 0.3, 0.3]).forEach((value) => expect(value).toBeCloseTo(0.3, 5));
      const [r, g, b] = through1({ response, filter }, [0.5, 0.2, 0.1]);
      expect(g).toBeCloseTo(r!, 6);
      expect(b).toBeCloseTo(r!, 6);
    }
});

test("films and filters see what they should: red filters darken blue, a film blind to red darkens red", () => {
  const [red, blue, green] = [
    [1, 0.05, 0.05],
    [0.05, 0.05, 1],
    [0.05, 1, 0.05],
  ] as [number, number, number][];
  const seen = (params: Record<string, unknown>, light: [number, number, number]) => through1(params, light)[0]!;
  expect(seen({ filter: "red" }, blue)).toBeLessThan(0.5 * seen({}, blue));
  expect(seen({ filter: "red" }, red)).toBeGreaterThan(seen({}, red));
  expect(seen({ filter: "green" }, green)).toBeGreaterThan(seen({}, green));
  expect(seen({ response: "orthochromatic" }, red)).toBeLessThan(0.6 * seen({}, red));
  expect(seen({ response: "redBlind" }, blue)).toBeGreaterThan(seen({ response: "orthochromatic" }, blue));
});

test("half the strength takes half of the colour away; above 1 the filter deepens", () => {
  const light: [number, number, number] = [0.6, 0.2, 0.1];
  const [whole] = through1({}, light);
  through1({}, light, 0.5).forEach((value, c) => expect(value).toBeCloseTo((light[c]! + whole!) / 2, 5));
  const sky: [number, number, number] = [0.1, 0.2, 0.8];
  expect(through1({ filter: "yellow" }, sky, 2)[0]!).toBeLessThan(through1({ filter: "yellow" }, sky, 1)[0]!);
});

test("toning tints shadows and highlights apart, and keeps luminance", () => {
  const ramp = painted(64, 1, (x) => Array(3).fill(0.18 * 2 ** ((x - 32) / 6)) as [number, number, number]);
  const look = lookOf([{ kind: "monochrome", params: { shadows: [0.8, 1, 1.3], highlights: [1.2, 1, 0.8] } }]);
  const out = through(look, ramp);
  const warmth = (x: number) => at(out, x, 0, 0) / at(out, x, 0, 2);
  expect(warmth(4)).toBeLessThan(0.8);
  expect(warmth(60)).toBeGreaterThan(1.2);
});
