import { describe, expect, test } from "vitest";
import { at, flat, lookOf, through } from "../../testing/laboratory";
import { lookSchema, problems } from "../look/look";
import { whereSchema } from "../where/schema";
import { atFrame, timedSchema, timedValue, withoutArea, withoutWhere } from "./when";

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
    expect([5, 10, 15, 20, 35].map((frame) => timedValue(keys(ease), 9, frame, 24))).toEqual(wanted);
  });
  test("smooth keys pass through their values and never beyond them", () => {
    for (let frame = 0; frame <= 40; frame++) {
      const value = timedValue(keys("smooth"), 9, frame, 24) as number;
      expect(value).toBeGreaterThanOrEqual(0);
      expect(value).toBeLessThanOrEqual(1);
    }
    expect([10, 20, 30].map((frame) => timedValue(keys("smooth"), 9, frame, 24))).toEqual([0, 1, 1]);
  });
  test("triples move channel by channel", () => {
    const timed = timedSchema.parse({
      keys: [
        { frame: 0, value: [0, 1, 2], ease: "linear" },
        { frame: 4, value: [4, 1, 0] },
      ],
    });
    expect(timedValue(timed, 0, 1, 24)).toEqual([1, 1, 1.5]);
  });
});

test("noise stays within its amplitude about the base, repeats, and differs by seed", () => {
  const noise = (seed: number) =>
    Array.from(
      { length: 100 },
      (_, frame) => timedValue(timedSchema.parse({ noise: { amplitude: 0.2, rate: 8, seed } }), 1, frame, 24) as number,
    );
  expect(noise(1)).toEqual(noise(1));
  expect(noise(1)).not.toEqual(noise(2));
  expect(Math.max(...noise(1).map((value) => Math.abs(value - 1)))).toBeLessThanOrEqual(0.2);
  expect(new Set(noise(1)).size).toBeGreaterThan(50);
});

test("a ramp and a table hold at their ends", () => {
  expect(
    [0, 5, 10, 99].map((frame) =>
      timedValue(timedSchema.parse({ ramp: { from: 2, to: 4, first: 0, last: 10 } }), 0, frame, 24),
    ),
  ).toEqual([2, 3, 4, 4]);
  expect(
    [-3, 1, 2, 9].map((frame) => timedValue(timedSchema.parse({ table: { first: 1, values: [7, 8] } }), 0, frame, 24)),
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

test("a path into an area moves it; one that leads nowhere is refused", () => {
  const element = {
    params: {},
    where: { areas: [{ x: 0 }] },
    when: { "where.areas.0.x": timedSchema.parse({ ramp: { from: 0, to: 10, first: 0, last: 10 } }) },
  };
  expect(atFrame(element, 4, 24).where.areas[0]!.x).toBe(4);
  expect(() =>
    atFrame(
      { params: {}, when: { "where.areas.3.x": timedSchema.parse({ table: { first: 0, values: [1] } }) } },
      0,
      24,
    ),
  ).toThrow(/leads nowhere/);
});

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

test("an area that goes takes its keys along, and those after it keep theirs", () => {
  const a = timedSchema.parse({ ramp: { from: 0, to: 1, first: 0, last: 10 } });
  const when = { "where.areas.0.x": a, "where.areas.1.x": a, "where.areas.2.y": a, "where.feather": a, exposure: a };
  expect(Object.keys(withoutArea(when, 1)!)).toEqual([
    "where.areas.0.x",
    "where.areas.1.y",
    "where.feather",
    "exposure",
  ]);
  expect(Object.keys(withoutWhere(when)!)).toEqual(["exposure"]);
});
