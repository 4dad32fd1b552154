import { expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { differences, differenceText } from "./differences";
import { addElement, moveElement, removeElement, setAt, switchElement, withFirstKeyframe } from "./edit";
import type { Look } from "./look";

const NAMES = { nameOf: (id: string) => id.toUpperCase(), lensOf: () => null };
const told = (before: Look, after: Look) => differences(before, after, NAMES).map(differenceText);
const look = lookOf([{ kind: "glow", params: { threshold: 2 } }, { kind: "grain" }, { kind: "trim" }]);

test("a look differs from itself in nothing, nor where a default is written out", () => {
  expect(told(look, look)).toEqual([]);
  expect(told(look, setAt(look, ["e2", "exposure"], 0, 1))).toEqual([]);
});

test("values before and after stand with their units, element by element", () => {
  expect(told(look, setAt(look, ["e0", "threshold"], 3, 1))).toEqual(["Glow: Threshold 2.0 stops → 3.0 stops"]);
  expect(told(look, setAt(look, ["e1", "strength"], 0.5, 1))).toEqual(["Grain: Strength 1.00 × → 0.50 ×"]);
  expect(told(look, switchElement(look, "e1", false))).toEqual(["Grain: Switched on → off"]);
  expect(told(look, setAt(look, [null, "lens.stop"], 4, 1))).toEqual(["Lens: Stop T2.0 → T4.0"]);
  expect(told(look, setAt(look, [null, "lens.profile"], "merrow-85", 1))).toEqual([
    "Lens: Lens ORRIN-VALE-50 → MERROW-85",
  ]);
});

test("what came, what went and what moved is said once", () => {
  expect(told(look, addElement(look, "vignette").look)).toEqual(["Vignette: Element not there → there"]);
  expect(told(look, removeElement(look, "e1"))).toEqual(["Grain: Element there → not there"]);
  expect(told(look, moveElement(look, "e2", 0))).toEqual(["Look: Order Glow, Grain, Trim → Trim, Glow, Grain"]);
});

test("what is timed counts, and what stays the same number of things is said to have changed", () => {
  const timed = withFirstKeyframe(look, ["e0", "threshold"], 2, 1);
  expect(told(look, timed)).toEqual(["Glow: When nothing timed → 1 timed"]);
  expect(told(timed, withFirstKeyframe(look, ["e0", "threshold"], 3, 1))).toEqual([
    "Glow: When 1 timed → 1 timed, changed",
  ]);
});

test("a lens that is taken off counts", () => {
  const taking = {
    ...{ profile: "own-50", focalLength: 50, stop: 2, maxGain: 3 },
    ...{ transmission: 1, illumination: 1, distortion: 1, lateralColour: 1, contrast: 1 },
  };
  const off: Look = { ...look, camera: { ...look.camera, taking } };
  expect(told(look, off)).toEqual([expect.stringMatching(/Taking lens.*left on.*OWN-50/)]);
});
