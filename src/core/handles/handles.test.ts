import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { ELEMENTS } from "../elements/registry";
import { areaDefinition } from "../where/registry";
import { type Area, whereSchema } from "../where/schema";
import { type Handle, type LinesHandle, percentOf, pixelOf } from "./handle";
import { type Lines, linesAt, onLine, reachOf, withInnerThrough, withLinesAt, withOuterThrough } from "./lines";
import { circleAt, laidAt, rayAt, withLaidAt, withRadiusAt, withRayAt } from "./places";

const frame = { width: 1280, height: 720 };
const where = whereSchema.parse({
  areas: [
    { kind: "shape" },
    {
      kind: "polygon",
      points: [
        [0, 0],
        [9, 0],
        [9, 9],
      ],
    },
  ],
});
const handleOfArea = (area: Area) => areaDefinition(area).handle?.(area) ?? null;
const shape = handleOfArea(where.areas[0]!) as LinesHandle;

/** The names of values a handle reads. */
const namesOf = ({ kind: _, label: __, ...rest }: Handle): string[] =>
  Object.entries(rest).flatMap(([key, value]) => {
    if (["full", "plane", "unless"].includes(key)) return [];
    return typeof value === "object" ? Object.values(value as object).filter((v) => v !== "point") : [String(value)];
  });

test("every handle of an element names parameters it has", () => {
  const handled = ELEMENTS.filter(({ handles }) => handles?.length);
  expect(handled.map(({ kind }) => kind).sort()).toEqual(
    ["edgeSoftness", "ghosts", "glow", "net", "plate", "shafts", "star", "streak", "swirl", "tone", "vignette"].sort(),
  );
  for (const { kind, handles, parameters } of handled)
    for (const handle of handles!)
      for (const name of namesOf(handle).filter((name) => name !== "Axis"))
        expect(Object.keys(parameters), `${kind}: ${handle.label}`).toContain(name);
});

test("every handle of an area names values it has", () => {
  for (const area of where.areas)
    for (const name of namesOf(handleOfArea(area)!).filter((name) => name !== "feather"))
      expect(Object.keys(area)).toContain(name);
  expect(handleOfArea(whereSchema.parse({ areas: [{ kind: "depth" }] }).areas[0]!)).toBeNull();
});

test("the frame's centre is 0, its corners are 50 %", () => {
  expect(pixelOf(0, 0, frame)).toEqual([640, 360]);
  expect(percentOf([0, 0], frame)).toEqual([-50, -50]);
  expect(percentOf([1280, 720], frame)).toEqual([50, 50]);
});

const values = fc.record({
  x: fc.double({ min: -200, max: 200, noNaN: true }),
  y: fc.double({ min: -200, max: 200, noNaN: true }),
  width: fc.double({ min: 5, max: 300, noNaN: true }),
  height: fc.double({ min: 5, max: 300, noNaN: true }),
  rotation: fc.double({ min: -180, max: 180, noNaN: true }),
  roundness: fc.double({ min: 0, max: 1, noNaN: true }),
  outer: fc.double({ min: 1.05, max: 6, noNaN: true }),
  feather: fc.double({ min: 0, max: 30, noNaN: true }),
});

describe("lines", () => {
  test("what is read off the picture and set again is what it was, to a hundredth", () => {
    fc.assert(
      fc.property(values, (given) => {
        const back = withLinesAt(shape, linesAt(shape, given, frame), frame);
        for (const [name, value] of Object.entries(back))
          expect(Math.abs(Number(value) - given[name as keyof typeof given])).toBeLessThanOrEqual(0.0051);
      }),
    );
  });
  test("places on a line lie where it says they do, whatever its turn and roundness", () => {
    fc.assert(
      fc.property(values, fc.double({ min: 0, max: 6.28, noNaN: true }), (given, angle) => {
        const lines = linesAt(shape, given, frame);
        expect(reachOf(lines, onLine(lines, 1, angle))).toBeCloseTo(1, 6);
        expect(reachOf(lines, onLine(lines, lines.outer, angle))).toBeCloseTo(lines.outer, 6);
      }),
    );
  });
  test("dragging the inner line leaves the outer one where it is, and the other way round", () => {
    const lines = linesAt(shape, { x: 0, y: 0, width: 60, height: 40, outer: 2, roundness: 1 }, frame);
    const at: [number, number] = [lines.centre[0] + lines.a * 1.3, lines.centre[1]];
    const inner = withInnerThrough(lines, at);
    expect(inner.a).toBeCloseTo(lines.a * 1.3, 9);
    expect(inner.b).toBeCloseTo(lines.b * 1.3, 9);
    expect(inner.a * inner.outer).toBeCloseTo(lines.a * lines.outer, 9);
    const outer = withOuterThrough(lines, [lines.centre[0] + lines.a * 3, lines.centre[1]]);
    expect(outer).toMatchObject({ a: lines.a, b: lines.b, outer: 3 });
    expect(withOuterThrough(lines, [...lines.centre] as [number, number]).outer).toBeGreaterThan(1);
  });
  test("a vignette's lines are heights of their own", () => {
    const vignette = ELEMENTS.find(({ kind }) => kind === "vignette")!.handles![0] as LinesHandle;
    const lines = linesAt(vignette, { inner: 50, outer: 150, aspect: 2, rotation: 0, roundness: 1 }, frame);
    expect(lines).toMatchObject({ a: 360, b: 180, outer: 3 } satisfies Partial<Lines>);
    expect(withLinesAt(vignette, { ...lines, a: 540 }, frame)).toMatchObject({ inner: 50, outer: 150, aspect: 3 });
  });
});

describe("rays, circles and placings", () => {
  const limits = { min: -90, max: 90 };
  const angle = { kind: "angle", label: "", angle: "angle", plane: "frame", length: "length" } as const;
  test("an angle is set within its limits, half a turn on where that is the same line", () => {
    const set = (degrees: number) =>
      withRayAt(angle, { centre: [0, 0], angle: (degrees * Math.PI) / 180, length: 72 }, frame, limits);
    expect(set(30)).toEqual({ angle: 30, length: 10 });
    expect(set(170)).toEqual({ angle: -10, length: 10 });
    expect(set(-120)).toEqual({ angle: 60, length: 10 });
    expect(rayAt(angle, { angle: 90, length: 10 }, frame)).toMatchObject({ length: 72, centre: [640, 360] });
  });
  test("a radius is a share of the way to the corner", () => {
    const radius = { kind: "radius", label: "", radius: "inner" } as const;
    const { radius: px } = circleAt(radius, { inner: 50 }, frame);
    expect(px).toBeCloseTo(Math.hypot(640, 360) / 2, 9);
    expect(withRadiusAt(radius, px, frame)).toEqual({ inner: 50 });
  });
  test("a placing comes back as it was", () => {
    const plate = ELEMENTS.find(({ kind }) => kind === "plate")!.handles![0]!;
    if (plate.kind !== "placing") throw new Error("a plate is placed");
    const given = { x: 12, y: -30, size: 150, rotation: 25 };
    expect(withLaidAt(plate, laidAt(plate, given, frame), frame)).toEqual(given);
  });
});
