import { describe, expect, test } from "vitest";
import { trackAcross } from "../../testing/track";
import { lookOf } from "../../testing/laboratory";
import { copiedAreas, pastedAreas } from "./areas";
import { setAt, whereOf, withFirstKeyframe } from "./edit";
import { lookAt } from "./at-frame";
import { type Look, lookSchema } from "./look";
import { cabinetOf } from "../profile/profiles";

const oval = { kind: "shape", id: "oval", name: "Oval", x: 10, width: 40 };
const track = trackAcross("t", [0, 5]);
const from = (): Look =>
  withFirstKeyframe(
    {
      ...lookOf([
        { kind: "glow", where: { areas: [oval, { kind: "depth", id: "near", near: 1, far: 4 }], feather: 7 } },
      ]),
      tracks: [track],
    },
    ["e0", "where.areas.oval.x"],
    12,
    4,
  );
const isValid = (look: Look) => expect(lookSchema.safeParse(JSON.parse(JSON.stringify(look))).success).toBe(true);
const at = (look: Look, frame: number) => lookAt(look, cabinetOf([]), { width: 320, height: 180, frame });

describe("areas that are copied", () => {
  test("come to another element of another shot with what is timed in them, and their feather", () => {
    const clip = copiedAreas(setAt(from(), ["e0", "where.areas.oval.x"], 20, 9), "e0")!;
    const look = pastedAreas(lookOf([{ kind: "trim" }]), "e0", clip);
    isValid(look);
    expect(whereOf(look, "e0")).toMatchObject({ feather: 7, areas: [{ id: "oval", name: "Oval" }, { id: "near" }] });
    const shown = at(look, 9).elements[0]!.where!.areas[0]!;
    expect(shown).toMatchObject({ kind: "shape", x: 20 });
    expect(at(look, 4).elements[0]!.where!.areas[0]).toMatchObject({ x: 12 });
  });
  test("join those that are there, under names of their own, and leave them as they were", () => {
    const own = { areas: [{ ...oval, x: -30 }], feather: 2 };
    const before = lookOf([{ kind: "trim", where: own }]);
    const look = pastedAreas(before, "e0", copiedAreas(from(), "e0")!);
    isValid(look);
    const where = whereOf(look, "e0")!;
    expect(where.feather).toBe(2);
    expect(where.areas.map(({ id }) => id)).toEqual(["oval", "area-1", "near"]);
    expect(where.areas[0]).toEqual(whereOf(before, "e0")!.areas[0]);
    expect(Object.keys(look.elements[0]!.when!)).toEqual(["where.areas.area-1.x"]);
  });
  test("pasted twice are twice there; on the whole path, too", () => {
    const clip = copiedAreas(from(), "e0")!;
    const look = pastedAreas(pastedAreas(lookOf([]), null, clip), null, clip);
    isValid(look);
    expect(look.where!.areas.map(({ id }) => id)).toEqual(["oval", "near", "area-1", "area-2"]);
    expect(Object.keys(look.when!).sort()).toEqual(["where.areas.area-1.x", "where.areas.oval.x"]);
  });
  test("go on following a track that the look has, and stand still where it has none", () => {
    const following = setAt(from(), ["e0", "where.areas.oval.follow"], "t", 1);
    const clip = copiedAreas(following, "e0")!;
    const there = pastedAreas({ ...lookOf([{ kind: "trim" }]), tracks: [track] }, "e0", clip);
    expect(whereOf(there, "e0")!.areas[0]!.follow).toBe("t");
    const gone = pastedAreas(lookOf([{ kind: "trim" }]), "e0", clip);
    expect(whereOf(gone, "e0")!.areas[0]!.follow).toBeUndefined();
    isValid(gone);
  });
  test("there are none to copy where an element acts everywhere", () => {
    expect(copiedAreas(lookOf([{ kind: "glow" }]), "e0")).toBeNull();
  });
});

describe("a polygon that goes by keyframes", () => {
  const square = [
    [-20, -20],
    [20, -20],
    [20, 20],
    [-20, 20],
  ] as const;
  const path = ["e0", "where.areas.line.points"] as const;
  const still = () => lookOf([{ kind: "trim", where: { areas: [{ kind: "polygon", id: "line", points: square }] } }]);
  const moved = square.map(([x, y]) => [x + 10, y] as const);
  const timed = () => setAt(withFirstKeyframe(still(), path, square as never, 1), path, moved, 11);
  const pointsAt = (look: Look, frame: number) => {
    const area = at(look, frame).elements[0]!.where!.areas[0]!;
    return area.kind === "polygon" ? area.points : [];
  };
  test("goes from one line to the next, point by point", () => {
    isValid(timed());
    expect(pointsAt(timed(), 1)).toEqual(square.map((point) => [...point]));
    pointsAt(timed(), 6).forEach(([x, y], i) => {
      expect(x).toBeCloseTo(square[i]![0] + 5, 9);
      expect(y).toBe(square[i]![1]);
    });
  });
  test("a point added on one frame stands on the same side of the line on all others", () => {
    const added = [...moved.slice(0, 1), [0, -45] as const, ...moved.slice(1)];
    const look = setAt(timed(), path, added, 11);
    isValid(look);
    expect(pointsAt(look, 11)).toEqual(added.map((point) => [...point]));
    const first = pointsAt(look, 1);
    expect(first).toHaveLength(5);
    // It was added over a quarter of the way along its side.
    expect(first[1]![0]).toBeCloseTo(-10, 9);
    expect(first[1]![1]).toBeCloseTo(-20, 9);
    expect(pointsAt(look, 6)).toHaveLength(5);
  });
  test("a point added behind the last stands on the side that closes the line", () => {
    const look = setAt(timed(), path, [...moved, [-30, 0]], 11);
    expect(pointsAt(look, 1)[4]![0]).toBeCloseTo(-20, 9);
    expect(pointsAt(look, 1)[4]![1]).toBeCloseTo(0, 9);
  });
  test("a point taken away on one frame is taken away on all", () => {
    const look = setAt(timed(), path, [moved[0]!, moved[2]!, moved[3]!], 11);
    isValid(look);
    expect(pointsAt(look, 1)).toEqual([square[0], square[2], square[3]].map((point) => [...point!]));
  });
  test("is held to its bounds, and takes no ramp", () => {
    const far = setAt(
      timed(),
      path,
      [
        [-400, 0],
        [900, 0],
        [0, 400],
        [1, 1],
      ],
      11,
    );
    expect(pointsAt(far, 11)[1]).toEqual([500, 0]);
    const look = still();
    const ramp = { ...look.elements[0]!, when: { [path[1]]: { ramp: { from: 1, to: 2, start: 1, end: 9 } } } };
    expect(lookSchema.safeParse({ ...look, elements: [ramp] }).success).toBe(false);
  });
});
