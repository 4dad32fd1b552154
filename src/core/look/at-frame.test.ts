import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { hashOf, lookOf, scene, through } from "../../testing/laboratory";
import { ELEMENTS } from "../elements/registry";
import { cabinetOf } from "../profile/profiles";
import type { Timed } from "../when/when";
import { whereSchema } from "../where/schema";
import { lookAt } from "./at-frame";
import { clampedWhere, rangeOf } from "./ranges";
import { lookOn } from "./camera";
import { missingGlass, platesIn } from "./glass";
import { type Look, lookSchema } from "./look";

const cabinet = cabinetOf(demoProfiles());
const lens = cabinet.lenses.get("orrin-vale-50")!;
const AT = { width: 64, height: 36, frame: 5, frameRate: 24 };
const key = (value: unknown) => ({ keys: [{ frame: 1, value, ease: "linear" }] }) as unknown as Timed;

/** A look past its schema, as one kept before there were bounds: what is timed may be anything. */
function timed(look: Look, name: string, value: unknown): Look {
  const elements = look.elements.map((element) => ({ ...element, when: { [name]: key(value) } }));
  return { ...look, elements: elements as unknown as Look["elements"] };
}

const absurd = fc.oneof(
  fc.constantFrom(-1e9, 1e9, -50, 9999, NaN, Infinity, -Infinity),
  fc.double({ min: -1e7, max: 1e7 }),
);

describe("what is timed is held to its range", () => {
  test.each(ELEMENTS.map((definition) => [definition.kind, definition] as const))(
    "%s",
    (kind, { parameters, negative }) => {
      fc.assert(
        fc.property(absurd, (value) => {
          for (const [name, parameter] of Object.entries(parameters)) {
            const range = rangeOf(parameter);
            if (!range) continue;
            const isOne = parameter.type === "number";
            const look = timed(lookOf([{ kind }]), name, isOne ? value : [value, value, value]);
            const { state } = lookAt(look, cabinet, AT).elements[0]!;
            for (const number of [state.values[name]].flat() as number[]) {
              expect(number).toBeGreaterThanOrEqual(range.min);
              expect(number).toBeLessThanOrEqual(range.max);
            }
          }
          const { strength } = lookAt(timed(lookOf([{ kind }]), "strength", value), cabinet, AT).elements[0]!;
          expect(strength >= (negative ? -10 : 0) && strength <= 10).toBe(true);
        }),
        { numRuns: 20 },
      );
    },
  );
  test("areas too, with low below high and black below white", () => {
    const where = whereSchema.parse({
      areas: [
        { kind: "key" },
        { kind: "shape" },
        {
          kind: "polygon",
          points: [
            [0, 0],
            [1, 0],
            [0, 1],
          ],
        },
      ],
    });
    fc.assert(
      fc.property(absurd, absurd, absurd, (a, b, c) => {
        const [low, shape, polygon] = where.areas;
        const wild = {
          ...where,
          feather: c,
          areas: [
            { ...low!, low: a, high: b, black: c, white: a },
            { ...shape!, width: a, outer: b },
            {
              ...polygon!,
              points: [
                [a, b],
                [c, a],
                [b, c],
              ],
            },
          ],
        } as unknown as typeof where;
        expect(whereSchema.safeParse(clampedWhere(wild)).success).toBe(true);
      }),
    );
  });
  test("and so the engine makes a picture of it, whatever stood there before there were bounds", () => {
    const frame = scene(64, 36);
    for (const { kind, parameters } of ELEMENTS)
      for (const [name, parameter] of Object.entries(parameters))
        if (parameter.type === "number") {
          const look = timed(lookOf([{ kind }]), name, 1e9);
          expect(through(look, frame).data.every(Number.isFinite), `${kind}.${name}`).toBe(true);
        }
  }, 120_000);
});

describe("the schema", () => {
  const look = (when: unknown) => lookSchema.safeParse({ ...lookOf([]), elements: [{ id: "e", kind: "glow", when }] });
  test.each([
    [{ strength: key(-50) }, /is -50; it goes from 0 to 10/],
    [{ strength: key(9999) }, /is 9999; it goes from 0 to 10/],
    [{ mix: { ramp: { from: 0, to: 3, first: 1, last: 9 } } }, /is 3; it goes from 0 to 1/],
    [{ size: { table: { first: 1, values: [1, 1e5] } } }, /is 100000; it goes from/],
    [{ strength: key(1e300) }, /./],
  ])("refuses %j", (when, says) => {
    const result = look(when);
    expect(result.success).toBe(false);
    expect(result.error!.issues.map(({ message }) => message).join()).toMatch(says);
  });
  test("takes what is within", () => expect(look({ strength: key(2), mix: key(0.5) }).success).toBe(true));
});

test("noise on a parameter that the look leaves out is about what the lens measured", () => {
  const { fromLens } = ELEMENTS.find(({ kind }) => kind === "veil")!;
  const [name, measured] = Object.entries(fromLens!(lens)).find(([, value]) => typeof value === "number") as [
    string,
    number,
  ];
  const elements = [
    {
      ...lookOf([{ kind: "veil" }]).elements[0]!,
      when: { [name]: { noise: { amplitude: 0, rate: 1, seed: 1, stepped: false } } },
    },
  ];
  const look = { ...lookOf([]), elements } as unknown as Look;
  expect(lookAt(look, cabinet, AT).elements[0]!.state.values[name]).toBe(measured);
});

test("what is 0 in the look and keyframed above it may act: its plate is asked for and missed, and its frames are computed", () => {
  const rising = {
    keys: [
      { frame: 1, value: 0, ease: "linear" },
      { frame: 9, value: 1, ease: "linear" },
    ],
  };
  const look = lookOf([
    { kind: "plate", strength: 0, params: { footage: "snow" }, when: { strength: rising } },
    { kind: "diffusion", strength: 0, params: { profile: "nowhere" }, when: { strength: rising } },
    { kind: "plate", strength: 0, params: { footage: "never" } },
  ]);
  expect(platesIn(look)).toEqual(["snow"]);
  expect(missingGlass(look, cabinet)).toEqual(["elements.1.params.profile: there is no filter “nowhere”"]);
  const frame = scene(32, 18);
  const exposed = lookOf([{ kind: "trim", strength: 0, params: { exposure: 1 }, when: { strength: rising } }]);
  const lights = [1, 5, 9].map((number) => through(exposed, frame, { frame: number }).data[0]! / frame.data[0]!);
  expect(lights[0]).toBeCloseTo(1, 6);
  expect(lights[1]).toBeGreaterThan(1.2);
  expect(lights[2]).toBeCloseTo(2, 3);
});

test("a shot wears a look with its own camera and depth, whatever the look brought", () => {
  const brought = {
    ...lookOf([{ kind: "grain" }]),
    depth: { footage: "far", reads: "distance" as const, near: 0, far: 1 },
  };
  const worn = lookOn(brought, { sensorWidth: 36, sensorHeight: 24, squeeze: 2, depth: null });
  expect(worn.camera).toEqual({ sensor: { width: 36, height: 24 }, squeeze: 2 });
  expect(worn.depth).toBe(undefined);
  expect(worn.elements).toBe(brought.elements);
});

describe("overall strength", () => {
  const frame = scene(64, 36);
  const kinds = ["fog", "glow", "vignette", "trim", "sharpen"];
  const params: Record<string, object> = { trim: { exposure: 1 } };
  const path = (strength: number, more: object = {}) =>
    kinds.map((kind) => ({ kind, strength, params: kind in params ? params[kind] : {}, ...more })) as never;
  const withOverall = (look: Look, strength: number) => lookSchema.parse({ ...look, strength });

  test("multiplies every element's strength, by its own strength law", () => {
    const elements = kinds.map((kind) => ({ kind, strength: 0.8 }));
    const halved = kinds.map((kind) => ({ kind, strength: 0.4 }));
    expect(hashOf(through(withOverall(lookOf(elements), 0.5), frame))).toBe(hashOf(through(lookOf(halved), frame)));
  });
  test("0 is the footage, bit for bit, even within an area", () => {
    const where = { areas: [{ kind: "shape" }] };
    for (const look of [lookOf(path(1)), lookOf(path(1, { where })), { ...lookOf(path(1)), where }])
      expect(hashOf(through(withOverall(look as Look, 0), frame))).toBe(hashOf(frame));
  });
  test("an element that is kept out acts at its own", () => {
    const look = withOverall(lookOf([{ kind: "fog" }, { kind: "glow", keptOut: true } as never]), 0);
    const alone = lookOf([{ kind: "fog", on: false }, { kind: "glow" }]);
    expect(hashOf(through(look, frame))).toBe(hashOf(through(alone, frame)));
  });
  test("is timed, and so are focal length, stop and focus, which show in what the lens gives", () => {
    const when = { strength: { ramp: { from: 0, to: 2, first: 0, last: 10 } } };
    const lensWhen = {
      "lens.focalLength": { ramp: { from: 50, to: 60, first: 0, last: 10 } },
      "lens.stop": { table: { first: 5, values: [4] } },
      "lens.focusDistance": { keys: [{ frame: 5, value: 7 }] },
    };
    const look = lookSchema.parse({
      ...lookOf([{ kind: "illumination", strength: 0.5 }]),
      when: { ...when, ...lensWhen },
    });
    const at = lookAt(look, cabinet, AT);
    expect(at.strength).toBe(1);
    expect(at.elements[0]).toMatchObject({ strength: 0.5, state: { strength: 0.5 } });
    expect(at.context).toMatchObject({ focalLength: 55, stop: 4, focusDistance: 7 });
    const still = lookOf([{ kind: "illumination", strength: 0.5 }], { focalLength: 55, stop: 4, focusDistance: 7 });
    expect(hashOf(through(look, frame, { frame: 5 }))).toBe(hashOf(through(still, frame)));
    expect(hashOf(through(look, frame, { frame: 8 }))).not.toBe(hashOf(through(still, frame)));
  });
});

test("what is held to its range is said, by its name, with what it was and is", () => {
  const look = timed(lookOf([{ kind: "glow" }]), "threshold", 1e6);
  expect(lookAt(look, cabinet, AT).clamped).toEqual([{ element: "e0", name: "threshold", value: 1e6, to: 12 }]);
  const wild = { ...lookOf([]), when: { strength: key(9) } } as Look;
  expect(lookAt(wild, cabinet, AT).clamped).toEqual([{ element: null, name: "strength", value: 9, to: 2 }]);
});

test("an element that lacks its table does not act, and says why", () => {
  const look = lookOf([{ kind: "sharpness" }], { profile: null });
  const [element] = lookAt(look, cabinet, AT).elements;
  expect(element).toMatchObject({ isActive: false });
  expect(element!.missing).toMatch(/./);
});
