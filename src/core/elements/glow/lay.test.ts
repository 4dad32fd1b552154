import { describe, expect, test } from "vitest";
import { at, halved, impulse, lookOf, painted, through, total } from "../../../testing/laboratory";
import type { Frame } from "../../image/image";

const params = { threshold: 2, knee: 1, size: 5, falloff: 0.5, gain: 50, hold: 16, limit: 16, dither: 0 };
const glowing = (frame: Frame, more: Record<string, unknown> = {}) =>
  through(lookOf([{ kind: "glow", params: { ...params, ...more } }]), frame);

const lamp = (height: number) => {
  const unit = height / 540;
  return painted((height * 16) / 9, height, (x, y) =>
    Math.hypot((x + 0.5) / unit - 480, (y + 0.5) / unit - 270) < 20 ? [12, 11, 9] : [0.04, 0.04, 0.05],
  );
};

test("the same settings at 540, 1080 and 2160 lines are the same glow", () => {
  const [small, middle, large] = [540, 1080, 2160].map((height) => glowing(lamp(height)));
  for (const [x, y] of [
    [510, 270],
    [540, 290],
    [600, 270],
    [480, 400],
    [700, 200],
  ] as const) {
    const near = at(small!, x, y);
    expect(Math.abs(at(halved(middle!), x, y) / near - 1), `1080 lines at ${x}`).toBeLessThan(0.02);
    expect(Math.abs(at(halved(halved(large!)), x, y) / near - 1), `2160 lines at ${x}`).toBeLessThan(0.02);
  }
}, 60_000);

test("a wide glow on a dark ground shows no band at 10 bits: dither fills the steps between codes", () => {
  const [width, height] = [640, 360];
  const dark = painted(width, height, (x, y) => (x < 60 && Math.abs(y - 180) < 40 ? [40, 40, 40] : [2e-4, 2e-4, 2e-4]));
  const code = (light: number) =>
    Math.round(1023 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055));
  /**
   * Codes averaged down a column: in steps of a whole code where there are bands, with fractions where dither fills
   * them.
   */
  const fractional = (dither: number) => {
    const out = glowing(dark, { size: 30, gain: 2, dither });
    const columns = Array.from(
      { length: 240 },
      (_, i) => Array.from({ length: 32 }, (_, y) => code(at(out, 120 + i, 164 + y))).reduce((a, b) => a + b, 0) / 32,
    );
    expect(Math.max(...columns) - Math.min(...columns)).toBeGreaterThan(8);
    return columns.filter((mean) => mean % 1 > 0.03 && mean % 1 < 0.97).length / columns.length;
  };
  expect(fractional(1.5)).toBeGreaterThan(fractional(0) + 0.3);
});

test("dither keeps the glow's light", () => {
  const source = lamp(540);
  expect(total(glowing(source, { dither: 5 })) / total(glowing(source))).toBeCloseTo(1, 4);
});

test("fine bright detail glows finely: a wire's glow keeps to the wire", () => {
  const wire = painted(640, 360, (x) => (x === 320 ? [30, 30, 30] : [0.02, 0.02, 0.02]));
  const out = glowing(wire, { size: 2, falloff: 0.2 });
  expect(at(out, 322, 180)).toBeGreaterThan(2 * at(out, 330, 180));
  for (const y of [60, 180, 300]) expect(at(out, 325, y) / at(out, 325, 180)).toBeCloseTo(1, 2);
});

describe("ways to lay over", () => {
  const source = lamp(540);
  const added = glowing(source),
    base = (x: number) => at(source, x, 270);
  const glowOf = (x: number) => at(added, x, 270) - base(x);
  test("lighten is the larger, screen loses the product, and both leave what is far away", () => {
    const [lighten, screen] = [glowing(source, { lay: "lighten" }), glowing(source, { lay: "screen" })];
    for (const x of [505, 520, 560]) {
      expect(at(lighten, x, 270)).toBeCloseTo(Math.max(base(x), glowOf(x)), 4);
      expect(at(screen, x, 270)).toBeLessThanOrEqual(at(added, x, 270) + 1e-6);
      expect(at(screen, x, 270)).toBeGreaterThanOrEqual(at(lighten, x, 270) - 1e-6);
    }
  });
  test.each(["soft", "overlay", "dodge"])("%s leaves no hole: never darker than the picture, and finite", (lay) => {
    const out = glowing(source, { lay });
    expect(out.data.every((value, i) => Number.isFinite(value) && value >= source.data[i]! * 0.999)).toBe(true);
  });
  test("picture level 0 is the glow alone, and the roll-off keeps mid-grey's place", () => {
    expect(at(glowing(source, { level: 0 }), 520, 270)).toBeCloseTo(glowOf(520), 4);
    const rolled = glowing(source, { level: 0, gamma: 2 });
    expect(at(rolled, 520, 270)).toBeCloseTo(glowOf(520) ** 2 * 0.18 ** -1, 3);
  });
});

describe("shape", () => {
  const [width, height] = [400, 240];
  const point = (more: Record<string, unknown>) =>
    glowing(impulse(width, height, 200, 120, 2000), { size: 6, surround: "black", ...more });
  test("a long glow is long along its angle, and holds as much light", () => {
    const [round, flatways, leaning] = [point({}), point({ aspect: 4 }), point({ aspect: 4, angle: 45 })];
    expect(at(flatways, 240, 120)).toBeGreaterThan(3 * at(flatways, 200, 160));
    expect(at(leaning, 228, 148)).toBeGreaterThan(3 * at(leaning, 228, 92));
    // Each is fitted for itself, within the fit's own 0.05 log10.
    expect(Math.abs(Math.log10(at(leaning, 228, 148) / at(flatways, 240, 120)))).toBeLessThan(0.1);
    expect(Math.abs((total(leaning) - 2000) / (total(round) - 2000) - 1)).toBeLessThan(0.08);
  });
  test("a split draws red and blue apart by its amount, about green, and keeps the light", () => {
    const [whole, apart] = [point({}), point({ split: "across", splitAmount: 4 })];
    const centre = (frame: Frame, channel: number) => {
      let [sum, moment] = [0, 0];
      for (let y = 0; y < height; y++)
        for (let x = 120; x < 280; x++) {
          const light = x === 200 && y === 120 ? 0 : at(frame, x, y, channel);
          sum += light;
          moment += light * x;
        }
      return moment / sum;
    };
    const shift = (centre(apart, 0) - centre(apart, 2)) / (0.04 * height);
    expect(Math.abs(shift)).toBeGreaterThan(1.2);
    expect(Math.abs(centre(apart, 1) - 200)).toBeLessThan(0.2);
    for (const channel of [0, 1, 2]) expect(total(apart, channel) / total(whole, channel)).toBeCloseTo(1, 1);
    const grey = point({ split: "across", splitAmount: 4, splitSaturation: 0 });
    expect(at(grey, 220, 120, 0)).toBeCloseTo(at(grey, 220, 120, 2), 5);
  });
});
