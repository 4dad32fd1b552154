import { expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../../testing/laboratory";
import { platesIn } from "../../look/glass";

const [width, height] = [192, 108];
// A lamp in the middle of a dark room.
const room = painted(
  width,
  height,
  (x, y) => Array(3).fill(Math.hypot(x - 96, y - 54) < 4 ? 50 : 0.01) as [number, number, number],
);
// A smudge left of the lamp, and one far from it.
const glass = painted(
  width,
  height,
  (x, y) =>
    Array(3).fill(Math.abs(y - 54) < 12 && (Math.abs(x - 64) < 12 || x < 10) ? 1 : 0) as [number, number, number],
);
const look = (params = {}) => lookOf([{ kind: "dirt", params: { footage: "smudge", reach: 14, ...params } }]);
const lift = (out: typeof room, x: number, y: number) => at(out, x, y) - at(room, x, y);

test("a picture of dirt lights up where it is white and a lamp is near", () => {
  const out = through(look(), room, { plate: () => glass });
  expect(lift(out, 64, 54)).toBeGreaterThan(0.05);
  expect(lift(out, 64, 54)).toBeGreaterThan(40 * lift(out, 3, 54));
  // Clean glass of the same distance from the lamp stays as it was.
  expect(Math.abs(lift(out, 128, 54))).toBeLessThan(1e-5);
});

test("clean glass changes nothing, and no picture draws the dirt instead", () => {
  const clean = through(look(), room, { plate: () => flat(width, height, 0) });
  expect(clean.data.every((value, i) => Math.abs(value - room.data[i]!) < 1e-6)).toBe(true);
  const drawn = through(look({ footage: "" }), room, {
    plate: () => {
      throw new Error("asked for");
    },
  });
  expect(drawn.data).not.toEqual(room.data);
});

test("the picture holds still, and is one of the look's plates", () => {
  const asked: number[] = [];
  for (const frame of [1, 40]) through(look(), room, { frame, plate: (index) => (asked.push(index), glass) });
  expect(asked).toEqual([0, 0]);
  expect(platesIn(look())).toEqual(["smudge"]);
  expect(platesIn(look({ footage: "" }))).toEqual([]);
});
