import { expect, test } from "vitest";
import { guessOf } from "./guess";

test.each([
  ["edges-T2.8.exr", { kind: "edges", stop: 2.8 }],
  ["day one/50mm_flat_T4-turned.dpx", { kind: "flat", stop: 4, focalLength: 50, second: true }],
  ["flat-T1,4.exr", { kind: "flat", stop: 1.4 }],
  ["grid.exr", { kind: "grid" }],
  ["without.exr", { kind: "pair" }],
  ["with-1-4.exr", { kind: "pair", second: true, grade: "1/4" }],
  ["with-2.exr", { kind: "pair", second: true, grade: "2" }],
  ["A001_C003.0001.dpx", {}],
])("%s", (name, said) => {
  expect(guessOf(name)).toEqual(said);
});
