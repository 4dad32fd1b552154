import { expect, test } from "vitest";
import { betweenPrinted } from "./profile";

/** Contrast as lenses have it, softer with image height. */
const lens = (height: number) => (f: number) => Math.exp(-((f / (70 - 2 * height)) ** 1.25));
const HEIGHTS = Array.from({ length: 16 }, (_, i) => i);

test.each([[[10, 30]], [[10, 20, 40]], [[15, 30, 45, 60]]])(
  "printed at %j lp/mm: it goes through those, between them within 0.03, and changes as evenly with height",
  (printed) => {
    const filled = betweenPrinted(
      printed,
      HEIGHTS.map((height) => printed.map(lens(height))),
    );
    const middle = (printed[0]! + printed[1]!) / 2;
    for (const height of HEIGHTS) {
      for (const f of printed) expect(filled[height]!(f)).toBeCloseTo(lens(height)(f), 6);
      expect(Math.abs(filled[height]!(middle) - lens(height)(middle))).toBeLessThan(0.03);
      expect(filled[height]!(0)).toBe(1);
    }
    // Beyond what was printed: no jumps from one height to the next.
    const beyond = filled.map((of) => of(1.3 * printed.at(-1)!));
    const steps = beyond.slice(1).map((value, i) => value - beyond[i]!);
    expect(Math.max(...steps)).toBeLessThan(0.002);
    expect(Math.min(...steps)).toBeGreaterThan(-0.05);
  },
);
