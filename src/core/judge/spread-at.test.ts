import { expect, test } from "vitest";
import { lookOf, through } from "../../testing/laboratory";
import { glassOnly, pointFrame, spreadIn } from "./spread-at";

const [WIDTH, HEIGHT] = [640, 360];
const spread = (look: ReturnType<typeof lookOf>, at: [number, number] = [0.5, 0.5]) =>
  spreadIn(through(glassOnly(look), pointFrame(WIDTH, HEIGHT, at)), 40);

test("of no glass, all light stays in one pixel", () => {
  const { picture } = spread(lookOf([{ kind: "trim", params: { exposure: 3 } }, { kind: "grain" }]));
  expect([picture.width, picture.height]).toEqual([81, 81]);
  expect(picture.data[4 * (40 * 81 + 40)]).toBeCloseTo(1, 5);
  expect(picture.data.filter((value, i) => i % 4 < 3 && value > 1e-6)).toHaveLength(3);
});

test("of a filter, what is scattered lies about the point, falls with distance, and is as round as it is", () => {
  const { picture, rings } = spread(lookOf([{ kind: "diffusion", params: { profile: "milkglass", grade: "1" } }]));
  const at = (x: number, y: number) => picture.data[4 * ((40 + y) * 81 + 40 + x) + 1]!;
  expect(at(0, 0)).toBeGreaterThan(0.3);
  expect(at(20, 0) / at(0, 20)).toBeCloseTo(1, 1);
  const light = rings.green.light.slice(3);
  expect(light.every((value, i) => i === 0 || value <= 1.02 * light[i - 1]!)).toBe(true);
});

test("of a lens at a corner the spread lies where distortion draws the point", () => {
  const lens = { profile: "orrin-vale-25", focalLength: 25, stop: 1.4 };
  const { rings } = spread(
    lookOf([{ kind: "distortion", params: { fit: "keep" } }, { kind: "sharpness" }], lens),
    [0.85, 0.2],
  );
  // Barrel: nearer to the middle than it was put.
  expect(rings.green.x).toBeLessThan(0.85 * (WIDTH - 1) - 1);
  expect(rings.green.y).toBeGreaterThan(0.2 * (HEIGHT - 1) + 0.5);
});
