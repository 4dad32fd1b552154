import { expect, test } from "vitest";
import { apply } from "../maths/matrix";
import { findEncoding } from "./own-encoding";
import { P3_D65, REC709, toXyz } from "./primaries";
import { encodingByName } from "./encodings";
import { statedName } from "./stated-primaries";

const numbers = (of: typeof REC709) => [...of.red, ...of.green, ...of.blue, ...of.white];

test("primaries that are in a list come to the same light, stated by their numbers", () => {
  const stated = findEncoding(statedName(numbers(REC709))!)!;
  stated.toWorking!.forEach((value, i) => expect(value).toBeCloseTo(encodingByName("linear-rec709").toWorking![i]!, 6));
});

test("others are converted by their own matrix: white is white, and red is their red", () => {
  const { toWorking, primaries, family } = findEncoding(statedName(numbers(P3_D65))!)!;
  expect(family).toBe("linear");
  apply(toWorking!, [1, 1, 1]).forEach((value) => expect(value).toBeCloseTo(1, 5));
  const [x, y, z] = apply(toXyz(primaries!), [1, 0, 0]);
  expect(x / (x + y + z)).toBeCloseTo(0.68, 5);
  expect(y / (x + y + z)).toBeCloseTo(0.32, 5);
});

test("what spans no triangle, or is no number, is no encoding", () => {
  expect(statedName([0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3])).toBeNull();
  expect(statedName([NaN, 0.3, 0.2, 0.7, 0.1, 0, 0.3, 0.3])).toBeNull();
  expect(statedName([0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0])).toBeNull();
  for (const name of ["linear-xy:", "linear-xy:1,2,3", "linear-xy:a,b,c,d,e,f,g,h"])
    expect(findEncoding(name)).toBeUndefined();
});
