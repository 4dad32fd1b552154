import { describe, expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import type { Timed } from "../when/when";
import {
  addArea,
  addElement,
  elementNamed,
  elementsOf,
  inArea,
  moveElement,
  type Path,
  removeArea,
  removeElement,
  setAll,
  setAt,
  switchElement,
  timedAt,
  valueAt,
  whereOf,
  withFirstKeyframe,
  withTimed,
} from "./edit";
import { upTo, without } from "./excerpt";
import { lookSchema } from "./look";
import { problems } from "../problems";

const look = lookOf([{ kind: "fog" }, { kind: "glow", params: { threshold: 2 } }, { kind: "trim" }]);
const THRESHOLD: Path = ["e1", "threshold"];
const isValid = (value: unknown) => expect(problems(lookSchema, value)).toEqual([]);

describe("a value", () => {
  test("is set in an element or in the look, and nothing else changes", () => {
    const set = setAt(look, THRESHOLD, 3, 1);
    expect(valueAt(set, THRESHOLD)).toBe(3);
    expect(valueAt(look, THRESHOLD)).toBe(2);
    expect(elementsOf(set)[0]).toBe(elementsOf(look)[0]);
    expect(setAt(look, [null, "lens.stop"], 4, 1).lens).toEqual({ ...look.lens, stop: 4 });
    expect(setAt(look, [null, "view.display"], "p3-d65", 1).view.display).toBe("p3-d65");
    expect(elementNamed(setAt(look, ["e0", "mix"], 0.5, 1), "e0").mix).toBe(0.5);
    isValid(set);
  });
  test("that is given back is left out again, with what was timed", () => {
    const timed = withFirstKeyframe(look, THRESHOLD, 4, 7);
    const back = setAt(timed, THRESHOLD, undefined, 1);
    expect(elementNamed(back, "e1").params).not.toHaveProperty("threshold");
    expect(timedAt(back, THRESHOLD)).toBeUndefined();
    isValid(back);
  });
  test("that goes by keyframes gets one at this frame; one that wavers gets another middle", () => {
    const keyed = setAt(withFirstKeyframe(look, THRESHOLD, 4, 7), THRESHOLD, 5, 9);
    expect(timedAt(keyed, THRESHOLD)).toMatchObject({
      keys: [
        { frame: 7, value: 4 },
        { frame: 9, value: 5 },
      ],
    });
    expect(valueAt(keyed, THRESHOLD)).toBe(2);
    const noise: Timed = { noise: { amplitude: 1, rate: 2, seed: 3, stepped: false } };
    const wavering = setAt(withTimed(look, THRESHOLD, noise), THRESHOLD, 5, 9);
    expect(timedAt(wavering, THRESHOLD)).toEqual(noise);
    expect(valueAt(wavering, THRESHOLD)).toBe(5);
    isValid(keyed);
    isValid(wavering);
  });
  test("is timed no more when its last keyframe's data goes", () => {
    const timed = withFirstKeyframe(look, [null, "strength"], 0.5, 3);
    expect(timed.when).toHaveProperty("strength");
    expect(withTimed(timed, [null, "strength"], undefined).when).toBeUndefined();
  });
  test("of an element that is not there is refused", () => {
    expect(() => setAt(look, ["e9", "threshold"], 3, 1)).toThrow(/no element “e9”/);
  });
  test("several are set in one", () => {
    const set = setAll(
      look,
      [
        [THRESHOLD, 1],
        [["e2", "exposure"], 2],
      ],
      1,
    );
    expect([valueAt(set, THRESHOLD), valueAt(set, ["e2", "exposure"])]).toEqual([1, 2]);
  });
});

describe("elements", () => {
  const order = (of: typeof look) => elementsOf(of).map(({ id }) => id);
  test("are moved, switched, removed", () => {
    expect(order(moveElement(look, "e2", 0))).toEqual(["e2", "e0", "e1"]);
    expect(order(moveElement(look, "e0", 99))).toEqual(["e1", "e2", "e0"]);
    expect(order(removeElement(look, "e1"))).toEqual(["e0", "e2"]);
    expect(elementNamed(switchElement(look, "e1", false), "e1").on).toBe(false);
  });
  test("are added where light meets their station, each with an id of its own", () => {
    const once = addElement(look, "halation");
    expect(order(once.look)).toEqual(["e0", "e1", "halation-1", "e2"]);
    const twice = addElement(once.look, "halation");
    expect([once.id, twice.id]).toEqual(["halation-1", "halation-2"]);
    isValid(twice.look);
  });
  test("the path up to one, and without one or all", () => {
    expect(order(upTo(look, "e1"))).toEqual(["e0"]);
    expect(order(upTo(look, null))).toEqual([]);
    expect(elementNamed(without(look, "element", "e1"), "e1").on).toBe(false);
    expect(order(without(look, "path", null))).toEqual([]);
  });
});

describe.each([null, "e1"])("areas of %s", (id) => {
  const two = addArea(addArea(look, id, { kind: "shape" }), id, { kind: "key", low: 1 });
  const [shape, key] = whereOf(two, id)!.areas;
  test("get ids that stay theirs, whatever goes before them", () => {
    expect([shape!.id, key!.id]).toEqual(["area-1", "area-2"]);
    const timed = withFirstKeyframe(two, inArea(id, key!, "low"), 2, 5);
    const left = removeArea(timed, id, shape!.id);
    expect(whereOf(left, id)!.areas.map((area) => area.id)).toEqual(["area-2"]);
    expect(timedAt(left, inArea(id, key!, "low"))).toMatchObject({ keys: [{ frame: 5, value: 2 }] });
    isValid(left);
    const third = addArea(left, id, { kind: "depth" });
    expect(whereOf(third, id)!.areas.map((area) => area.id)).toEqual(["area-2", "area-1"]);
  });
  test("take what is timed in them along, and with the last one it acts everywhere", () => {
    const timed = withFirstKeyframe(two, inArea(id, shape!, "x"), 2, 5);
    const none = removeArea(removeArea(timed, id, shape!.id), id, key!.id);
    expect(whereOf(none, id)).toBeUndefined();
    expect((id === null ? none : elementNamed(none, id)).when).toBeUndefined();
  });
  test("have their values set by name, points too", () => {
    const points = [
      [0, 0],
      [10, 0],
      [0, 10],
    ] as const;
    const drawn = addArea(look, id, {
      kind: "polygon",
      points: [
        [1, 1],
        [2, 1],
        [1, 2],
      ],
    });
    const [polygon] = whereOf(drawn, id)!.areas;
    const set = setAt(drawn, inArea(id, polygon!, "points"), points, 1);
    expect(whereOf(set, id)!.areas[0]).toMatchObject({ points });
    isValid(set);
  });
});

test("files that name areas by their number are read by ids", () => {
  const ramp = { ramp: { from: 0, to: 1, first: 0, last: 10 } };
  const where = { areas: [{ kind: "shape" }, { kind: "shape", id: "sky" }] };
  const when = { "where.areas.0.x": ramp, "where.areas.1.y": ramp, "where.feather": ramp };
  const wanted = ["where.areas.area-1.x", "where.areas.sky.y", "where.feather"];
  const element = { id: "a", kind: "fog", where, when };
  const read = lookSchema.parse({ ...look, where, when, elements: [element] });
  expect(Object.keys(read.when!)).toEqual(wanted);
  expect(Object.keys(elementsOf(read)[0]!.when!)).toEqual(wanted);
  expect(lookSchema.parse(read)).toEqual(read);
  const doubled = {
    areas: [
      { kind: "shape", id: "sky" },
      { kind: "key", id: "sky" },
    ],
  };
  expect(problems(lookSchema, { ...look, where: doubled })[0]).toMatch(/two areas have the same id/);
});
