import { describe, expect, test } from "vitest";
import { at, flat, lookOf, through } from "../../testing/laboratory";
import { lookSchema } from "../look/look";
import { problems } from "../problems";
import { whereSchema } from "../where/schema";
import { withoutArea } from "../look/timed";
import { valueOf, withValueOf } from "./address";
import type { Generator } from "./generator";
import { keyframes, withKeyframe } from "./keyframes";
import { GENERATORS, timedSchema, timedValue } from "./when";

const keys = (ease: string) =>
  timedSchema.parse({
    keys: [
      { frame: 10, value: 0, ease },
      { frame: 20, value: 1, ease },
      { frame: 30, value: 1, ease },
    ],
  });

describe("keyframes", () => {
  test.each([
    ["hold", [0, 0, 0, 1, 1]],
    ["linear", [0, 0, 0.5, 1, 1]],
    ["ease", [0, 0, 0.5, 1, 1]],
  ] as const)("%s", (ease, wanted) => {
    expect([5, 10, 15, 20, 35].map((frame) => timedValue(keys(ease), 9, { frame, frameRate: 24 }))).toEqual(wanted);
  });
  test("smooth keys pass through their values and never beyond them", () => {
    for (let frame = 0; frame <= 40; frame++) {
      const value = timedValue(keys("smooth"), 9, { frame, frameRate: 24 }) as number;
      expect(value).toBeGreaterThanOrEqual(0);
      expect(value).toBeLessThanOrEqual(1);
    }
    expect([10, 20, 30].map((frame) => timedValue(keys("smooth"), 9, { frame, frameRate: 24 }))).toEqual([0, 1, 1]);
  });
  test("triples move channel by channel", () => {
    const timed = timedSchema.parse({
      keys: [
        { frame: 0, value: [0, 1, 2], ease: "linear" },
        { frame: 4, value: [4, 1, 0] },
      ],
    });
    expect(timedValue(timed, 0, { frame: 1, frameRate: 24 })).toEqual([1, 1, 1.5]);
  });
});

test("noise stays within its amplitude about the base, repeats, and differs by seed", () => {
  const noise = (seed: number) =>
    Array.from(
      { length: 100 },
      (_, frame) =>
        timedValue(timedSchema.parse({ noise: { amplitude: 0.2, rate: 8, seed } }), 1, {
          frame,
          frameRate: 24,
        }) as number,
    );
  expect(noise(1)).toEqual(noise(1));
  expect(noise(1)).not.toEqual(noise(2));
  expect(Math.max(...noise(1).map((value) => Math.abs(value - 1)))).toBeLessThanOrEqual(0.2);
  expect(new Set(noise(1)).size).toBeGreaterThan(50);
});

test("a ramp and a table hold at their ends", () => {
  expect(
    [0, 5, 10, 99].map((frame) =>
      timedValue(timedSchema.parse({ ramp: { from: 2, to: 4, first: 0, last: 10 } }), 0, { frame, frameRate: 24 }),
    ),
  ).toEqual([2, 3, 4, 4]);
  expect(
    [-3, 1, 2, 9].map((frame) =>
      timedValue(timedSchema.parse({ table: { first: 1, values: [7, 8] } }), 0, { frame, frameRate: 24 }),
    ),
  ).toEqual([7, 7, 8, 8]);
});

test("a look's exposure follows its keys, frame by frame", () => {
  const look = lookOf([
    {
      kind: "trim",
      when: {
        exposure: {
          keys: [
            { frame: 1, value: 0, ease: "linear" },
            { frame: 3, value: 2 },
          ],
        },
      },
    },
  ]);
  expect([1, 2, 3].map((frame) => at(through(look, flat(16, 16, 0.25), { frame }), 4, 4))).toEqual([0.25, 0.5, 1]);
});

test("names lead into plain data, by ids in lists; ones that lead nowhere are refused", () => {
  const data = {
    where: {
      areas: [
        { id: "sky", x: 0 },
        { id: "road", x: 1 },
      ],
      points: [
        [1, 2],
        [3, 4],
      ],
    },
  };
  expect(valueOf(data, ["where", "areas", "road", "x"])).toBe(1);
  expect(valueOf(data, ["where", "points", "1", "0"])).toBe(3);
  expect(valueOf(data, ["where", "areas", "sea", "x"])).toBeUndefined();
  expect(valueOf(data, ["where", "toString"])).toBeUndefined();
  const moved = withValueOf(data, ["where", "areas", "sky", "x"], () => 4);
  expect(moved.where.areas).toEqual([
    { id: "sky", x: 4 },
    { id: "road", x: 1 },
  ]);
  expect(moved.where.areas[1]).toBe(data.where.areas[1]);
  expect(withValueOf(data, ["where", "points"], () => undefined).where).not.toHaveProperty("points");
  expect(() => withValueOf(data, ["where", "areas", "sea", "x"], () => 4)).toThrow(/leads nowhere/);
  expect(() => withValueOf(data, ["nowhere", "x"], () => 4)).toThrow(/leads nowhere/);
});

test("a keyframe that is set where one is changes it; elsewhere it goes on as the one before it does", () => {
  const before = keyframes.schema.parse([
    { frame: 1, value: 0, ease: "linear" },
    { frame: 9, value: 1, ease: "hold" },
  ]);
  expect(withKeyframe(before, 9, 2)).toEqual([before[0], { frame: 9, value: 2, ease: "hold" }]);
  expect(withKeyframe(before, 4, 2)[1]).toEqual({ frame: 4, value: 2, ease: "linear" });
  expect(withKeyframe(before, -3, 2)[0]).toEqual({ frame: -3, value: 2, ease: "smooth" });
});

test.each(Object.entries(GENERATORS))(
  "%s begins as what its schema takes, at the value that was there",
  (name, generator) => {
    const { schema, begin, value, label, summary, parameters } = generator as Generator<unknown>;
    const data = begin(3, 10);
    expect(schema.safeParse(data).success).toBe(true);
    expect(value(data, 3, { frame: 10, frameRate: 24 }) as number).toBeCloseTo(3, 0);
    expect(label && summary).toBeTruthy();
    for (const [parameter, { min, max, default: first, label: of }] of Object.entries(parameters)) {
      expect(first >= min && first <= max && of.length > 0).toBe(true);
      expect(schema.safeParse({ ...(data as object), [parameter]: max + 1 }).success, `${name}.${parameter}`).toBe(
        false,
      );
    }
  },
);

test("keys out of order are refused by their place", () => {
  const look = {
    ...lookOf([]),
    elements: [
      {
        id: "a",
        kind: "trim",
        when: {
          exposure: {
            keys: [
              { frame: 5, value: 0 },
              { frame: 2, value: 1 },
            ],
          },
        },
      },
    ],
  };
  expect(problems(lookSchema, look)[0]).toMatch(/^elements\.0\.when\.exposure/);
});

test("the whole path’s area moves by its own keys", () => {
  const disc = { kind: "shape", width: 20, height: 20, outer: 1.2 };
  const look = {
    ...lookOf([{ kind: "trim", params: { exposure: 1 } }]),
    where: whereSchema.parse({ areas: [{ ...disc, x: -30 }] }),
    when: {
      "where.areas.0.x": timedSchema.parse({
        keys: [
          { frame: 1, value: -30, ease: "linear" },
          { frame: 11, value: 30 },
        ],
      }),
    },
  };
  const brightest = (frame: number) => {
    const out = through(look, flat(160, 90, 0.25), { frame });
    return [32, 80, 128].map((x) => Number(at(out, x, 45).toFixed(4)));
  };
  expect(brightest(1)).toEqual([0.5, 0.25, 0.25]);
  expect(brightest(6)).toEqual([0.25, 0.5, 0.25]);
  expect(brightest(11)).toEqual([0.25, 0.25, 0.5]);
});

test("what is timed must be there: a misspelt parameter, a missing area and a path without one are named", () => {
  const ramp = { ramp: { from: 0, to: 1, first: 0, last: 10 } };
  const faults = (when: Record<string, unknown>, rest = {}) =>
    problems(lookSchema, { ...lookOf([]), elements: [{ id: "a", kind: "trim", when, ...rest }] });
  expect(faults({ exposure: ramp, strength: ramp })).toEqual([]);
  expect(faults({ exposrue: ramp })[0]).toMatch(/^elements\.0\.when\.exposrue: names no number of “trim”/);
  expect(faults({ "where.areas.1.x": ramp }, { where: { areas: [{ kind: "shape" }] } })[0]).toMatch(/names no number/);
  expect(faults({ exposure: { keys: [{ frame: 1, value: [1, 1, 1] }] } })[0]).toMatch(/takes single numbers/);
  expect(faults({ "where.areas.0.x": ramp }, { where: { areas: [{ kind: "shape" }] } })).toEqual([]);
  expect(problems(lookSchema, { ...lookOf([]), when: { "where.feather": ramp } })[0]).toMatch(
    /^when\.where\.feather: names no number/,
  );
});

test("an area that goes takes its keys along, and those of the others stay theirs", () => {
  const a = timedSchema.parse({ ramp: { from: 0, to: 1, first: 0, last: 10 } });
  const when = { "where.areas.sky.x": a, "where.areas.sky-2.x": a, "where.feather": a, exposure: a };
  expect(Object.keys(withoutArea(when, "sky")!)).toEqual(["where.areas.sky-2.x", "where.feather", "exposure"]);
  expect(Object.keys(withoutArea(when)!)).toEqual(["exposure"]);
  expect(withoutArea({ "where.feather": a })).toBeUndefined();
});
