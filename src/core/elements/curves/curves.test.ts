import { expect, test } from "vitest";
import { hashOf, lookOf, scene, through } from "../../../testing/laboratory";
import { curveThrough } from "../../maths/curve";
import { lookSchema } from "../../look/look";
import { problems } from "../../problems";
import { elementsOf } from "../../look/edit";

const picture = scene(96, 54);
const hashAfter = (params: Record<string, unknown>, strength = 1) =>
  hashOf(through(lookOf([{ kind: "curves", strength, params }]), picture));
const knots = (...raised: number[]) => raised.map((by, i) => [-6 + 3 * i, -6 + 3 * i + by]);

test("a look of the first version, with numbers at knots, is read as curves and looks the same at any strength", () => {
  for (const strength of [0.5, 1, 1.7]) {
    expect(hashAfter({ blacks: 0.4, lights: -0.3 }, strength)).toBe(
      hashAfter({ master: knots(0.4, 0, 0, -0.3, 0) }, strength),
    );
    expect(hashAfter({ shadows: 0.5, lightsRGB: [0.2, 0, -0.2] }, strength)).toBe(
      hashAfter(
        { red: knots(0, 0.5, 0, 0.2, 0), green: knots(0, 0.5, 0, 0, 0), blue: knots(0, 0.5, 0, -0.2, 0) },
        strength,
      ),
    );
  }
  const read = elementsOf(lookOf([{ kind: "curves", params: { shadows: 0.5 } }]))[0]!;
  expect(Object.keys(read.params)).toEqual(["master"]);
});

test("points that do not ascend, too few or too many of them, are refused by name", () => {
  const faults = (master: unknown) =>
    problems(lookSchema, { ...lookOf([]), elements: [{ id: "c", kind: "curves", params: { master } }] });
  expect(
    faults([
      [0, 0],
      [3, 3],
    ]),
  ).toEqual([]);
  expect(
    faults([
      [3, 3],
      [0, 0],
    ])[0],
  ).toMatch(/^elements\.0\.params\.master: points ascend/);
  expect(faults([[0, 0]])[0]).toMatch(/^elements\.0\.params\.master/);
  expect(faults(Array.from({ length: 17 }, (_, i) => [i / 2, 0]))[0]).toMatch(/^elements\.0\.params\.master/);
  expect(
    faults([
      [0, 0],
      [3, 99],
    ])[0],
  ).toMatch(/^elements\.0\.params\.master\.1\.1/);
});

test("a drawn curve goes through its points, never down, and straight on beyond them", () => {
  const curve = curveThrough([
    [-4, -6],
    [0, 0],
    [2, 1],
    [5, 5],
  ]);
  expect([-4, 0, 2, 5].map(curve)).toEqual([-6, 0, 1, 5]);
  expect([curve(-7), curve(8)]).toEqual([-9, 8]);
  const steps = Array.from({ length: 400 }, (_, i) => curve(-8 + i / 20));
  expect(steps.every((value, i) => i === 0 || value >= steps[i - 1]!)).toBe(true);
  // What a hand draws downwards is held level.
  const folded = curveThrough([
    [0, 3],
    [2, 1],
  ]);
  expect(folded(2)).toBeGreaterThanOrEqual(folded(0));
});

test("a roll-off bends what an element adds, and only that", () => {
  const look = (rollOff?: unknown) =>
    lookOf([{ kind: "halation", params: { threshold: 2, ...(rollOff ? { rollOff } : {}) } }]);
  const plain = through(look(), picture);
  expect(
    hashOf(
      through(
        look([
          [-12, -12],
          [8, 8],
        ]),
        picture,
      ),
    ),
  ).toBe(hashOf(plain));
  const halved = through(
    look([
      [-11, -12],
      [8, 7],
    ]),
    picture,
  );
  for (let i = 0; i < plain.data.length; i += 4) {
    const [added, half] = [plain.data[i]! - picture.data[i]!, halved.data[i]! - picture.data[i]!];
    if (added > 1e-4) expect(Math.abs(half / added - 0.5)).toBeLessThan(0.01);
  }
});
