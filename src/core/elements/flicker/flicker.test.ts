import { expect, test } from "vitest";
import { steppedNoise } from "../../maths/noise";
import { timedValue, timedSchema } from "../../when/when";
import { flickerStops } from "./flicker";

const values = { amplitude: 0.5, rate: 12, seed: 1 } as const;
const frames = Array.from({ length: 5000 }, (_, frame) => frame);

test.each(["smooth", "stepped", "sparse"] as const)(
  "%s: no frame changes by more than the amplitude, and some by most of it",
  (character) => {
    const stops = [1, 2, 3, 4, 5].flatMap((seed) =>
      frames.map((frame) => flickerStops({ ...values, character, seed }, 1, frame, 24)),
    );
    const largest = stops.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
    expect(largest).toBeLessThanOrEqual(0.5);
    expect(largest).toBeGreaterThan(0.45);
  },
);

test.each([24, 25, 30, 50, 60])(
  "at a rate of the frames' own, %i a second, every frame has a step of its own",
  (rate) => {
    const isRepeated = (of: (frame: number) => number) =>
      frames.slice(1).filter((frame) => of(frame) === of(frame - 1)).length;
    expect(isRepeated((frame) => flickerStops({ ...values, rate, character: "stepped" }, 1, frame, rate))).toBe(0);
    const timed = timedSchema.parse({ noise: { amplitude: 1, rate, seed: 3, stepped: true } });
    expect(isRepeated((frame) => timedValue(timed, 0, { frame, frameRate: rate }) as number)).toBe(0);
    // The step of a frame's time is the frame's number.
    for (const frame of [7, 3601, 999_999]) expect(steppedNoise(2, (frame / rate) * rate)).toBe(steppedNoise(2, frame));
  },
);
