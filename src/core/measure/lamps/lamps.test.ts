import { describe, expect, test } from "vitest";
import type { Frame } from "../../image/image";
import { chartOf } from "../chart";
import { measureTransmission } from "../transmission";
import { measureLamps } from "./reading";

const [WIDTH, HEIGHT] = [640, 360];
const SENSOR = { width: 24.9, height: (24.9 * HEIGHT) / WIDTH };

const painted = (light: (x: number, y: number) => number | readonly number[]): Frame => {
  const data = new Float32Array(4 * WIDTH * HEIGHT);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      const value = light(x, y);
      data.set(typeof value === "number" ? [value, value, value, 1] : [...value, 1], i);
    }
  return { width: WIDTH, height: HEIGHT, data };
};
const lampAt = (x: number, y: number, cx: number, cy: number) =>
  100 * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * 1.5 ** 2));
const LAMP = 100 * 2 * Math.PI * 1.5 ** 2;
const measured = (frame: Frame) => measureLamps(chartOf(frame, SENSOR));

describe("small lamps in focus", () => {
  test("an even veil of 3 % of the frame's mean", () => {
    const veil = (0.03 * LAMP) / (WIDTH * HEIGHT);
    const found = measured(painted((x, y) => lampAt(x, y, 300.4, 170.7) + veil));
    expect(found.streak).toBeNull();
    expect(found.veil!.fraction).toBeCloseTo(3, 1);
  });

  test("two exponentials along the row, by channel: length, tail, light and colour", () => {
    const [LENGTHS, TAIL, GAIN, TINT] = [[5, 8, 12], 0.3, 0.1, [0.5, 0.8, 1.7]] as const;
    const found = measured(
      painted((x, y) => {
        const d = Math.abs(x - 310.3);
        const across = Math.exp(-((y - 180.2) ** 2) / (2 * 1.8 ** 2)) / (1.8 * Math.sqrt(2 * Math.PI));
        return LENGTHS.map((length, c) => {
          const px = (length / 100) * WIDTH;
          const along = ((1 - TAIL) * Math.exp(-d / px)) / (2 * px) + (TAIL * Math.exp(-d / (4 * px))) / (8 * px);
          return lampAt(x, y, 310.3, 180.2) + LAMP * GAIN * TINT[c]! * across * along;
        });
      }),
    );
    LENGTHS.forEach((length, c) => expect(found.streak!.length[c]! / length).toBeCloseTo(1, 1));
    TINT.forEach((tint, c) => expect((found.streak!.gain * found.streak!.tint[c]!) / (10 * tint)).toBeCloseTo(1, 1));
    expect(found.streak!.tail).toBeCloseTo(TAIL, 1);
    expect(found.veil!.fraction).toBeLessThan(0.2);
  });
});

describe("small lamps out of focus", () => {
  const RADIUS = 22;
  const places = Array.from({ length: 60 }, (_, i) => [40 + 61 * (i % 10), 32 + 59 * Math.floor(i / 10)] as const);
  const discs = (isOpen: (dx: number, dy: number) => boolean) =>
    painted((x, y) => {
      const near = places.find(([cx, cy]) => Math.hypot(x - cx, y - cy) < RADIUS + 2);
      if (!near) return 0;
      let inside = 0;
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < 4; i++)
          if (isOpen((x + (i - 1.5) / 4 - near[0]) / RADIUS, (y + (j - 1.5) / 4 - near[1]) / RADIUS)) inside++;
      return inside / 2;
    });

  test("a hexagon, and no cat's eye", () => {
    const { pupil } = measured(
      discs((x, y) => {
        const sector = Math.PI / 3;
        const angle = ((Math.atan2(y, x) % sector) + sector) % sector;
        return Math.hypot(x, y) <= Math.cos(sector / 2) / Math.cos(angle - sector / 2);
      }),
    );
    expect(pupil!.blades).toBe(6);
    expect(pupil!.roundness).toBeLessThan(0.1);
    expect(pupil!.rim).toBeCloseTo(0, 1);
    expect(Math.min(...pupil!.catEye)).toBeGreaterThan(0.97);
  });

  test("a circle has no blades", () => {
    expect(measured(discs((x, y) => Math.hypot(x, y) <= 1)).pupil).toMatchObject({ blades: 0, roundness: 1 });
  });
});

test("what is no frame of lamps is refused with what is wrong", () => {
  expect(() => measured(painted(() => 0.5))).toThrow(/not 50 times as light as the dark/);
  expect(() => measured(painted((x, y) => (x < 3 && y < 3 ? 100 : 0)))).toThrow(/no lamp in the frame that lies clear/);
  const both = (x: number, y: number) => (Math.hypot(x - 200, y - 180) < 20 ? 100 : lampAt(x, y, 450, 100));
  expect(() => measured(painted(both))).toThrow(/some lamps are points of light and some are discs/);
});

describe("transmission from an even field", () => {
  const field = (level: number | readonly number[]) =>
    chartOf(
      painted(() => level),
      SENSOR,
    );

  test("grey glass is grey at every wavelength", () => {
    const { values } = measureTransmission(field(0.5), field(0.4));
    for (const value of values) expect(value).toBeCloseTo(0.8, 3);
  });

  test("warm glass lets more of the long wavelengths through", () => {
    const { wavelengths, values } = measureTransmission(field(0.5), field([0.48, 0.45, 0.35]));
    const seen = values.slice(0, wavelengths.indexOf(660));
    expect(seen).toEqual(seen.toSorted((a, b) => a - b));
  });

  test("frames in the wrong order are refused", () => {
    expect(() => measureTransmission(field(0.4), field(0.5))).toThrow(/1.25 times as much light/);
  });
});
