import { describe, expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { toggled, UNCOMPARED, UPRIGHT, type WipeLine } from "../view/compare";
import { keptLookOf, type Others, referenceLook, referenceName } from "./compare";
import { acrossLine, beyondLine, movedTo, referencePart, shifted, turnedTo } from "./line";

const look = lookOf([{ kind: "glow" }, { kind: "trim" }], {}, undefined, "soft");
const other = { ...lookOf([{ kind: "grain" }]), name: "Quiet" };
const others: Others = {
  versions: [{ id: 7, number: 2, name: "Warm" }],
  looks: [{ id: "quiet", name: "Quiet", revision: 4 }],
  shots: [{ id: "s2", name: "Second", revision: 5 }],
  stills: [{ id: 3, shotId: "s2", frame: 9, note: "" }],
};

describe("what a picture is held against", () => {
  test("the selected element off, or the path where none is selected", () => {
    const kinds = (of: ReturnType<typeof referenceLook>) =>
      of!.look.elements.filter(({ on }) => on).map(({ kind }) => kind);
    expect(kinds(referenceLook({ kind: "element" }, look, "e0", others))).toEqual(["trim"]);
    expect(kinds(referenceLook({ kind: "element" }, look, null, others))).toEqual([]);
    expect(kinds(referenceLook({ kind: "path" }, look, "e0", others))).toEqual([]);
  });
  test("the footage has neither glass nor tone", () => {
    const footage = referenceLook({ kind: "footage" }, { ...look, where: lookOf([]).where }, null, others)!.look;
    expect(footage).toMatchObject({ elements: [], view: { kind: "plain", display: "srgb" } });
    expect(footage.where).toBeUndefined();
  });
  test("a version and another look are seen through the present view", () => {
    for (const reference of [
      { kind: "version", id: 7 },
      { kind: "look", id: "quiet" },
      { kind: "shot", id: "s2" },
    ] as const) {
      const found = referenceLook(reference, look, null, others, other)!.look;
      expect(found.elements.map(({ kind }) => kind)).toEqual(["grain"]);
      expect(found.view).toEqual(look.view);
    }
  });
  test("a still is its own light, with nothing on it but the present view", () => {
    const { look: seen, still } = referenceLook({ kind: "still", id: 3 }, look, null, others)!;
    expect([seen.elements, seen.view, still]).toEqual([[], look.view, 3]);
    expect(referenceName({ kind: "still", id: 3 }, null, others)).toBe("the still of s2, frame 9");
  });
  test("another shot's look is seen as this shot would wear it, with this shot's camera", () => {
    const squeezed = { ...look, camera: { ...look.camera, squeeze: 2 } };
    expect(referenceLook({ kind: "shot", id: "s2" }, squeezed, null, others, other)!.look.camera.squeeze).toBe(2);
  });
  test("what is gone is told of, and shows nothing", () => {
    expect(keptLookOf({ kind: "version", id: 1 }, "s1", others)).toBeNull();
    expect(keptLookOf({ kind: "look", id: "none" }, "s1", others)).toBeNull();
    expect(keptLookOf({ kind: "version", id: 7 }, "s1", others)).toEqual({ in: "version", shotId: "s1", id: 7 });
    expect(referenceLook({ kind: "version", id: 1 }, look, null, others)).toBeNull();
    expect(referenceName({ kind: "version", id: 1 }, null, others)).toBe("a version that is gone");
    expect(referenceName({ kind: "version", id: 7 }, null, others)).toBe("version 2, Warm");
  });
  test("one key switches the last way off and on again", () => {
    const on = toggled(UNCOMPARED, "side");
    expect(on).toMatchObject({ way: "side", last: "side" });
    expect(toggled(on, on.last).way).toBeNull();
    expect(toggled(toggled(on, on.last), on.last).way).toBe("side");
    expect(toggled(on, "difference")).toMatchObject({ way: "difference", last: "difference" });
  });
});

describe("the line of a wipe", () => {
  const size = { width: 800, height: 400 };
  /** Area of a polygon given in shares, by the shoelace formula. */
  const areaOf = (corners: { x: number; y: number }[]) =>
    Math.abs(
      corners.reduce((sum, { x, y }, i) => {
        const next = corners[(i + 1) % corners.length]!;
        return sum + x * next.y - next.x * y;
      }, 0) / 2,
    );
  test("upright in the middle, its left half is the reference", () => {
    const part = referencePart(UPRIGHT, size);
    expect(areaOf(part)).toBeCloseTo(0.5, 9);
    expect(Math.max(...part.map(({ x }) => x))).toBeCloseTo(0.5, 9);
  });
  test("through the middle, at any angle, it halves the picture; the other way round it shows the other half", () => {
    for (let angle = -180; angle < 180; angle += 15) {
      const part = referencePart({ ...UPRIGHT, angle }, size);
      expect(areaOf(part), `${angle}°`).toBeCloseTo(0.5, 9);
      const opposite = referencePart({ ...UPRIGHT, angle: angle + 180 }, size);
      expect(areaOf(opposite)).toBeCloseTo(0.5, 9);
      const middle = part.reduce((sum, { x, y }) => ({ x: sum.x + x / part.length, y: sum.y + y / part.length }), {
        x: 0,
        y: 0,
      });
      expect(beyondLine({ ...UPRIGHT, angle }, size, { x: middle.x * 800, y: middle.y * 400 })).toBeLessThan(0);
    }
  });
  test("at the frame's edges it shows all of the reference, or none", () => {
    expect(areaOf(referencePart({ x: 1, y: 0.5, angle: 0 }, size))).toBeCloseTo(1, 9);
    expect(areaOf(referencePart({ x: 0, y: 0.5, angle: 0 }, size))).toBeCloseTo(0, 9);
  });
  test("is turned to the hand by its upper end, as it looks on the screen and not in the frame's shares", () => {
    const line: WipeLine = { x: 0.25, y: 0.75, angle: 0 };
    const middle = { x: 200, y: 300 };
    expect(turnedTo(line, size, { x: 200, y: 200 }).angle).toBeCloseTo(0, 9);
    expect(turnedTo(line, size, { x: 300, y: 300 }).angle).toBeCloseTo(90, 9);
    expect(turnedTo(line, size, { x: 270, y: 230 }).angle).toBeCloseTo(45, 9);
    const across = acrossLine(turnedTo(line, size, { x: 270, y: 230 }));
    // The hand lies on the line it has turned.
    expect((270 - middle.x) * across.x + (230 - middle.y) * across.y).toBeCloseTo(0, 9);
  });
  test("moved across itself it moves along its normal; dragged out of the frame it stays at its edge", () => {
    expect(shifted(UPRIGHT, size, 0.1)).toMatchObject({ x: 0.6, y: 0.5 });
    const flat = shifted({ ...UPRIGHT, angle: 90 }, size, 0.1);
    expect(flat.x).toBeCloseTo(0.5, 9);
    expect(flat.y).toBeCloseTo(0.7, 9);
    expect(movedTo(UPRIGHT, size, { x: -50, y: 900 })).toMatchObject({ x: 0, y: 1 });
  });
});
