import { between } from "../../frame/ranges";
import { describe, expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../../testing/laboratory";
import { middleOfShape, plateFrame } from "../../frame/plate";

const [width, height] = [64, 36];
const picture = painted(width, height, (x, y) => [0.1 + x / 100, 0.2, 0.3 + y / 100]);
const laid = (
  params: Record<string, unknown>,
  light: number | [number, number, number] = 0.4,
  strength = 1,
  alpha = 1,
) => {
  const plate = flat(width, height, light);
  for (let i = 3; i < plate.data.length; i += 4) plate.data[i] = alpha;
  return through(lookOf([{ kind: "plate", strength, params: { footage: "snow", ...params } }]), picture, {
    plate: () => plate,
  });
};

describe("a plate is laid over the picture", () => {
  test("added, its light by gain and strength; the picture's alpha stays", () => {
    const out = laid({ gain: 50 }, [0.4, 0.2, 0], 1.5);
    for (const [x, y] of [
      [3, 4],
      [60, 30],
    ] as const)
      [0.4, 0.2, 0].forEach((light, c) => expect(at(out, x, y, c)).toBeCloseTo(at(picture, x, y, c) + 0.75 * light, 5));
    expect(at(out, 5, 5, 3)).toBe(1);
  });
  test("multiplied, by no more than all of it; a white plate changes nothing", () => {
    expect(at(laid({ blend: "multiply" }, 0.25), 10, 10)).toBeCloseTo(0.25 * at(picture, 10, 10), 5);
    expect(at(laid({ blend: "multiply" }, 0.25, 0.5), 10, 10)).toBeCloseTo(0.625 * at(picture, 10, 10), 5);
    expect(at(laid({ blend: "multiply" }, 1), 10, 10)).toBeCloseTo(at(picture, 10, 10), 5);
  });
  test("over, by its alpha: premultiplied light covers as much as it says", () => {
    expect(at(laid({ blend: "over" }, 0.1, 1, 0.25), 10, 10)).toBeCloseTo(0.75 * at(picture, 10, 10) + 0.1, 5);
  });
  test("with no footage chosen nothing happens", () => expect(laid({ footage: "" }).data).toEqual(picture.data));
});

describe("in time", () => {
  const asked = (frame: number, params: Record<string, unknown>) => {
    let index = NaN;
    through(lookOf([{ kind: "plate", params: { footage: "snow", ...params } }]), picture, {
      frame,
      plate: (i) => ((index = i), picture),
    });
    return index;
  };
  test("the plate's first frame stands at the shot's first, moved by the offset", () => {
    // A frame alone is its shot's first.
    expect(asked(1009, {})).toBe(0);
    expect(asked(1009, { offset: -12 })).toBe(-12);
  });
  test("its ends hold or begin again, on either side", () => {
    const frames = between(7, 10);
    expect([-3, 0, 3, 4, 9].map((index) => plateFrame(frames, index, "hold"))).toEqual([7, 7, 10, 10, 10]);
    expect([-3, -1, 0, 3, 4, 9].map((index) => plateFrame(frames, index, "loop"))).toEqual([8, 10, 7, 10, 7, 8]);
  });
});

test("a plate of another shape is cut to the picture's, about its middle", () => {
  const tall = painted(40, 60, (x, y) => [x, y, 0]);
  const cut = middleOfShape(tall, width, height);
  expect([cut.width, cut.height]).toEqual([40, 23]);
  expect([at(cut, 0, 0, 0), at(cut, 0, 0, 1)]).toEqual([0, 18]);
  const wide = middleOfShape(
    painted(100, 36, (x) => [x, 0, 0]),
    width,
    height,
  );
  expect([wide.width, wide.height, at(wide, 0, 0, 0)]).toEqual([64, 36, 18]);
});
