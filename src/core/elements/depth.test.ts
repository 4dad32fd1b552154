import { describe, expect, test } from "vitest";
import { compile } from "../compile/compile";
import { cabinetOf } from "../profile/profiles";
import { distanceOf } from "../frame/depth-plate";
import { lookSchema } from "../look/look";
import { problems } from "../problems";
import { platesIn } from "../look/glass";
import { hashOf, lookOf, painted, scene, through } from "../../testing/laboratory";

const picture = scene(240, 135);
const metres = painted(240, 135, (x, y) => Array(3).fill(2 + x / 12 + y / 40) as [number, number, number]);
const defocus = { kind: "defocus", params: { by: "depth", focus: 9 } };
const withPlate = (elements: Parameters<typeof lookOf>[0], depth: object) =>
  lookSchema.parse({ ...lookOf(elements), depth: { footage: "distances", ...depth } });

describe("a depth plate", () => {
  test("that holds metres is the same as a depth channel of them, wherever depth is used", () => {
    const users = [
      defocus,
      { kind: "fog", params: { depth: 10 } },
      { kind: "shafts", params: { threshold: 3 } },
      { kind: "trim", params: { exposure: 1 }, where: { areas: [{ kind: "depth", near: 5, far: 10, soft: 0.05 }] } },
    ];
    for (const user of users) {
      const own = through(lookOf([user]), picture, { depth: metres });
      const plate = through(withPlate([user], {}), picture, { plate: () => metres });
      const none = through(lookOf([user]), picture);
      expect(hashOf(own), user.kind).not.toBe(hashOf(none));
      const most = own.data.reduce(
        (worst, value, i) => Math.max(worst, Math.abs(plate.data[i]! - value) / Math.max(0.05, value)),
        0,
      );
      expect(most, user.kind).toBeLessThan(1e-3);
    }
  });
  test("takes the place of the footage's own depth, and its first channel is what counts", () => {
    const wrong = painted(240, 135, () => [9, 9, 9]);
    const red = painted(240, 135, (x, y) => [2 + x / 12 + y / 40, 0, 77]);
    const grey = through(withPlate([defocus], {}), picture, { plate: () => metres });
    expect(hashOf(through(withPlate([defocus], {}), picture, { depth: wrong, plate: () => red }))).toBe(hashOf(grey));
  });
  test("follows the shot from its first frame on, read as it stands, and holds its last frame", () => {
    const plan = compile(
      withPlate([defocus], {}),
      cabinetOf([]),
      { width: 64, height: 36, frame: 7, sourceKey: "shot", shot: { first: 3, last: 9 } },
      { kind: "light" },
    );
    expect(plan.extras.map(({ request }) => request)).toEqual([
      { kind: "plate", footage: "distances", encoding: "linear-ap1", ends: "hold", index: 4 },
    ]);
  });
});

test("what values stand for", () => {
  const distance = { reads: "distance" as const, near: 2, far: 12 };
  expect([0, 0.5, 1].map((value) => distanceOf(distance, value))).toEqual([2, 7, 12]);
  const nearness = { reads: "nearness" as const, near: 2, far: 50 };
  expect(distanceOf(nearness, 1)).toBeCloseTo(2, 9);
  expect(distanceOf(nearness, 0)).toBeCloseTo(50, 9);
  expect(1 / distanceOf(nearness, 0.25)).toBeCloseTo(1 / 50 + 0.25 * (1 / 2 - 1 / 50), 9);
  expect(distanceOf({ reads: "distance", near: 0, far: 1 }, 0)).toBe(1e5);
});

test("a look with a depth plate names it among its footage; impossible ends are refused by name", () => {
  const look = withPlate([], {});
  expect(platesIn(look)).toEqual(["distances"]);
  expect(problems(lookSchema, { ...look, depth: { footage: "a", near: 5, far: 4 } })[0]).toMatch(
    /^depth\.far: is farther than near/,
  );
  expect(problems(lookSchema, { ...look, depth: { footage: "a", reads: "nearness", near: 0, far: 4 } })[0]).toMatch(
    /^depth\.near/,
  );
});
