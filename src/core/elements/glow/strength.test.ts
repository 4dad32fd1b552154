import { expect, test } from "vitest";
import { at, hashOf, impulse, lookOf, painted, through, total } from "../../../testing/laboratory";
import type { Frame } from "../../image/image";
import { shearFor } from "./plan";

const params = { threshold: 2, knee: 1, size: 5, gain: 50, hold: 16, limit: 16, dither: 0 };
const glowing = (frame: Frame, strength: number, more: Record<string, unknown>, number = 1) =>
  through(lookOf([{ kind: "glow", strength, params: { ...params, ...more } }]), frame, { frame: number });
const lamp = painted(320, 180, (x, y) => (Math.hypot(x - 160, y - 90) < 9 ? [12, 11, 9] : [0.04, 0.04, 0.05]));
const addedBy = (kind: string, strength: number, more: Record<string, unknown>) => {
  const out = through(lookOf([{ kind, strength, params: { ...params, ...more } }], { profile: "hask-scope-40" }), lamp);
  return [180, 200, 230].map((x) => at(out, x, 90) - at(lamp, x, 90));
};

test.each([
  ["glow", { gamma: 2 }],
  ["glow", { gamma: 0.5 }],
  [
    "glow",
    {
      rollOff: [
        [-12, -12],
        [-2, -2],
        [1, 0.2],
        [8, 2.5],
      ],
    },
  ],
])("strength multiplies the light that is laid, after its roll-off: %s %j", (kind, more) => {
  const [once, twice] = [addedBy(kind, 1, more), addedBy(kind, 2, more)];
  once.forEach((light, i) => expect(twice[i]! / light).toBeCloseTo(2, 3));
});

test.each([
  ["halation", { threshold: 2, layers: [60, 40, 20] }],
  ["streak", { threshold: 2, gain: 40 }],
])("so it does with %s", (kind, own) => {
  const rollOff = [
    [-12, -12],
    [-5, -6.5],
    [-1, -2],
    [8, 2.5],
  ];
  const added = (strength: number) => {
    const look = lookOf([{ kind, strength, params: { ...own, rollOff } }], { profile: "hask-scope-40" });
    const out = through(look, lamp);
    return [170, 175, 185].map((x) => at(out, x, 90) - at(lamp, x, 90));
  };
  const [once, twice] = [added(1), added(2)];
  once.forEach((light, i) => {
    expect(light).toBeGreaterThan(0);
    expect(twice[i]! / light).toBeCloseTo(2, 2);
  });
});

test("its dither is another one on every frame, and the same again on the same", () => {
  const dithered = (frame: number) => hashOf(glowing(lamp, 1, { dither: 5 }, frame));
  expect(dithered(1)).not.toBe(dithered(2));
  expect(dithered(2)).toBe(dithered(2));
});

test("a leaning ellipse is sheared upright: its covariance is what it was", () => {
  for (const aspect of [0.3, 2, 10])
    for (const angle of [-70, -10, 5, 30, 45, 60, 89])
      for (const [width, height] of [
        [1920, 1080],
        [100, 4000],
        [4000, 17],
      ] as const) {
        const {
          across,
          down,
          size,
          aspect: upright,
          width: w,
          height: h,
        } = shearFor({ aspect, angle }, { width, height }, 1);
        const turn = (angle * Math.PI) / 180;
        const [c, s] = [Math.cos(turn), Math.sin(turn)];
        const wanted = [aspect ** 2 * c * c + s * s, (aspect ** 2 - 1) * c * s, aspect ** 2 * s * s + c * c];
        // Back from the upright frame: x + across y, y + down x.
        const [vx, vy] = [(upright * size) ** 2, size ** 2];
        const made = [vx + across ** 2 * vy, across * vy + down * vx, vy + down ** 2 * vx];
        made.forEach((value, i) => expect(value).toBeCloseTo(wanted[i]!, 6));
        expect(w * h).toBeLessThanOrEqual(2.1 * Math.max(width * height, Math.min(width, height) * (width + height)));
      }
});

test("leaning, on long and tall frames, it keeps its light; on slivers it stays finite", () => {
  const lit = (width: number, height: number, angle: number) => {
    const spot = impulse(width, height, width >> 1, height >> 1, 1000);
    return total(glowing(spot, 1, { aspect: 5, angle, size: 1, threshold: -8, knee: 0 })) / 1000;
  };
  for (const angle of [20, 45, 80, 90])
    for (const [width, height] of [
      [400, 240],
      [100, 1200],
      [1200, 100],
    ] as const)
      expect(Math.abs(lit(width, height, angle) - 1.5), `${width}x${height} at ${angle}°`).toBeLessThan(0.05);
  for (const [width, height] of [
    [17, 4000],
    [4000, 17],
    [1, 1],
  ] as const)
    expect(lit(width, height, 40)).toBeGreaterThanOrEqual(1);
});
