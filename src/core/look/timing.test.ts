import { describe as group, expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { demoProfiles } from "../../demo/glass/profiles";
import { cabinetOf } from "../profile/profiles";
import type { Timed } from "../when/when";
import { lookAt } from "./at-frame";
import { describe } from "./describe";
import { addArea, type Path, setAt, timedAt, valueAt, withTimed } from "./edit";
import { lookSchema } from "./look";
import { problems } from "../problems";
import {
  asKeyframes,
  copiedKeyframes,
  hasKeyAt,
  keyFramesOf,
  keysAt,
  movedKeyframes,
  pastedKeyframes,
  setShown,
  stretchedKeyframes,
  timeableAt,
  timedPaths,
  withEase,
  withKeyframeAt,
  withoutKeyframes,
} from "./timing";

const still = lookOf([{ kind: "glow", params: { threshold: 2 } }, { kind: "trim" }]);
const SIZE: Path = ["e0", "size"];
const GAIN: Path = ["e0", "gain"];
const STOP: Path = [null, "lens.stop"];
const keyed = [1, 5, 9].reduce((look, frame) => withKeyframeAt(look, SIZE, frame, frame), still);
const frames = (look: typeof still, path = SIZE) => (keysAt(look, path) ?? []).map(({ frame }) => frame);
const places = (...at: number[]) => at.map((frame) => ({ path: SIZE, frame }));
const isValid = (look: unknown) => expect(problems(lookSchema, look)).toEqual([]);

group("keyframes", () => {
  test("are set, told and taken away; the last one leaves its value standing", () => {
    expect(frames(keyed)).toEqual([1, 5, 9]);
    expect(hasKeyAt(keyed, { path: SIZE, frame: 5 })).toBe(true);
    expect(hasKeyAt(keyed, { path: SIZE, frame: 6 })).toBe(false);
    const one = withoutKeyframes(keyed, places(1, 9));
    expect(frames(one)).toEqual([5]);
    const none = withoutKeyframes(one, places(5));
    expect(timedAt(none, SIZE)).toBeUndefined();
    expect(valueAt(none, SIZE)).toBe(5);
    isValid(none);
  });
  test("are moved together, and those they meet give way", () => {
    expect(frames(movedKeyframes(keyed, places(1, 5), 2))).toEqual([3, 7, 9]);
    const met = movedKeyframes(keyed, places(5), 4);
    expect(frames(met)).toEqual([1, 9]);
    expect(keysAt(met, SIZE)!.at(-1)!.value).toBe(5);
  });
  test("are stretched about a frame, to whole frames", () => {
    expect(frames(stretchedKeyframes(keyed, places(1, 5, 9), 1, 1.5))).toEqual([1, 7, 13]);
    expect(frames(stretchedKeyframes(keyed, places(5, 9), 9, 0.6))).toEqual([1, 7, 9]);
  });
  test("are copied from several values and pasted on them, elsewhere, with their eases", () => {
    const two = withEase(withKeyframeAt(keyed, STOP, 4, 5), places(5), "hold");
    const clip = copiedKeyframes(two, [...places(5, 9), { path: STOP, frame: 5 }]);
    const { look: pasted, places: made } = pastedKeyframes(two, clip, 20);
    expect(frames(pasted)).toEqual([1, 5, 9, 20, 24]);
    expect(frames(pasted, STOP)).toEqual([5, 20]);
    expect(keysAt(pasted, SIZE)!.find(({ frame }) => frame === 20)).toMatchObject({ value: 5, ease: "hold" });
    expect(made).toHaveLength(3);
    isValid(pasted);
    // What they belonged to may be gone.
    const elsewhere = pastedKeyframes(lookOf([]), clip, 2);
    expect(elsewhere.places).toEqual([{ path: STOP, frame: 2 }]);
  });
  test("lie under noise, which stays when they go", () => {
    const noise: Timed = { noise: { amplitude: 1, rate: 8, seed: 2, stepped: false } };
    const both = withKeyframeAt(withTimed(still, SIZE, noise), SIZE, 12, 3);
    expect(Object.keys(timedAt(both, SIZE)!).sort()).toEqual(["keys", "noise"]);
    isValid(both);
    const at = (frame: number) =>
      lookAt(both, cabinetOf(demoProfiles()), { width: 64, height: 36, frame }).elements[0]!.state.values
        .size as number;
    const values = Array.from({ length: 24 }, (_, i) => at(i + 1));
    expect(new Set(values).size).toBeGreaterThan(20);
    expect(Math.max(...values.map((value) => Math.abs(value - 12)))).toBeLessThanOrEqual(1);
    expect(timedAt(withoutKeyframes(both, [{ path: SIZE, frame: 3 }]), SIZE)).toEqual(noise);
  });
});

test("what moves a value becomes keyframes that give the same values, without those that say nothing", () => {
  const ramp: Timed = { ramp: { from: 2, to: 10, first: 5, last: 15 } };
  const ramped = withTimed(still, SIZE, ramp);
  const at = (look: typeof still) => (frame: number) =>
    lookAt(look, cabinetOf([]), { width: 64, height: 36, frame }).elements[0]!.state.values.size as number;
  const baked = asKeyframes(ramped, SIZE, at(ramped), { first: 1, last: 24 });
  expect(frames(baked)).toEqual([1, 5, 15, 24]);
  for (let frame = 1; frame <= 24; frame++) expect(at(baked)(frame)).toBeCloseTo(at(ramped)(frame), 3);
  isValid(baked);
});

test("what may be timed: numbers, colours, areas' numbers, the lens and strengths, and nothing else", () => {
  const areas = addArea(still, "e0", { kind: "shape" });
  const told = (path: Path) => timeableAt(areas, path);
  expect([SIZE, ["e0", "tintCore"], ["e0", "mix"], STOP, [null, "strength"]].map((path) => told(path as Path))).toEqual(
    ["number", "triple", "number", "number", "number"],
  );
  expect(told(["e0", "where.areas.area-1.x"])).toBe("number");
  expect(told(["e0", "lay"])).toBeNull();
  expect(told([null, "view.kind"])).toBeNull();
  expect(told(["gone", "size"])).toBeNull();
});

test("timed values are listed by what they belong to, and told with their units", () => {
  const look = withKeyframeAt(withKeyframeAt(keyed, STOP, 4, 5), ["e1", "exposure"], 1, 30);
  expect(timedPaths(look)).toEqual([STOP, SIZE, ["e1", "exposure"]]);
  expect(timedPaths(look, "e0")).toEqual([SIZE]);
  expect(keyFramesOf(look, timedPaths(look))).toEqual([1, 5, 9, 30]);
  expect(describe(look, SIZE)).toMatchObject({ of: "Glow", label: "Size", unit: "% of height", min: 0.2, max: 40 });
  expect(describe(look, STOP)).toMatchObject({ of: "Look", label: "Stop" });
  const areas = addArea(look, "e0", { kind: "shape", name: "Tower" });
  expect(describe(areas, ["e0", "where.areas.area-1.x"])).toMatchObject({
    of: "Glow, Tower",
    label: "Across",
    unit: "% of width",
  });
  expect(describe(areas, ["e0", "where.feather"])).toMatchObject({ of: "Glow, area", label: "Feather" });
});

test("what wavers or follows is set to what is shown: the value under it moves by as much, within its range", () => {
  const noise: Timed = { noise: { amplitude: 2, rate: 8, seed: 2, stepped: false } };
  const shownAt = (look: typeof still, frame: number) =>
    lookAt(look, cabinetOf([]), { width: 64, height: 36, frame }).elements[0]!.state.values.size as number;
  for (const wavering of [
    withTimed(setAt(still, SIZE, 10, 1), SIZE, noise),
    withKeyframeAt(withTimed(still, SIZE, noise), SIZE, 12, 7),
  ]) {
    const shown = shownAt(wavering, 7);
    expect(shownAt(setShown(wavering, SIZE, shown + 3, shown, 7), 7)).toBeCloseTo(shown + 3, 6);
    isValid(setShown(wavering, SIZE, 1e6, shown, 7));
  }
});

test("a value that is not timed is simply set", () => {
  expect(valueAt(setAt(still, GAIN, 30, 4), GAIN)).toBe(30);
  expect(timedPaths(setAt(still, GAIN, 30, 4))).toEqual([]);
});
