import { expect, test } from "vitest";
import { contrastSensitivity, edgeVisibility } from "./vision";

test("the eye is most sensitive at a few cycles a degree, and sees nothing at sixty", () => {
  const at = [0.1, 0.5, 1, 3, 10, 30, 60].map(contrastSensitivity);
  expect(Math.max(...at)).toBe(Math.max(at[2]!, at[3]!));
  expect(at[3]!).toBeGreaterThan(300);
  expect(at[3]!).toBeLessThan(800);
  expect(at[6]!).toBeLessThan(10);
});

test("an edge is the more visible the more light it separates and the narrower it is", () => {
  for (const [a, b] of [
    [edgeVisibility(1, 0.1), edgeVisibility(1, 0.3)],
    [edgeVisibility(2, 0.3), edgeVisibility(1, 0.3)],
    [edgeVisibility(1, 0.001), edgeVisibility(1, 0.05)],
  ] as const)
    expect(a).toBeGreaterThan(b);
  expect(edgeVisibility(0, 0.1)).toBe(0);
  // Darker by a stop over half the picture's height passes; over a tenth of it, it does not.
  expect(edgeVisibility(-1, 0.5)).toBeLessThan(1);
  expect(edgeVisibility(-1, 0.1)).toBeGreaterThan(1);
});
