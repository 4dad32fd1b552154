import { expect, test } from "vitest";
import { at, flat, lookOf, through } from "../../../testing/laboratory";

const shot = { first: 1, last: 9 };
/** Each frame of the shot is an even field of its own light: a tenth of its number. */
const field = (number: number) => flat(16, 8, number / 10);
const pixel = (elements: Parameters<typeof lookOf>[0], frame = 4) => {
  const out = through(lookOf(elements), field(frame), { frame, shot, others: field });
  return [0, 1, 2].map((channel) => at(out, 5, 4, channel));
};
const lag = { kind: "channelLag", params: { red: 0, green: 1, blue: 2 } };
const halving = { kind: "trim", params: { exposure: -1 } };

test("each channel comes from its own frame of the shot", () => {
  expect(pixel([lag])).toEqual([0.4, 0.3, 0.2].map(Math.fround));
});
test("what stands before it on the path is done to the late channels, too", () => {
  pixel([halving, lag]).forEach((light, c) => expect(light).toBeCloseTo([0.2, 0.15, 0.1][c]!, 6));
  pixel([halving, halving, lag, halving]).forEach((light, c) =>
    expect(light).toBeCloseTo([0.05, 0.0375, 0.025][c]!, 6),
  );
});
test("what is timed before it is taken at the late frames' own time", () => {
  const ridden = {
    ...halving,
    when: {
      strength: {
        keys: [
          { frame: 1, value: 0, ease: "linear" },
          { frame: 5, value: 4 },
        ],
      },
    },
  };
  const stops = (frame: number) => (frame / 10) * 2 ** -(frame - 1);
  pixel([ridden, lag]).forEach((light, c) => expect(light / stops(4 - c)).toBeCloseTo(1, 3));
});
test("two of them lag twice, and three channels may all be late", () => {
  pixel([lag, lag]).forEach((light, c) => expect(light).toBeCloseTo([0.4, 0.2, 0.1][c]!, 6));
  pixel([halving, { kind: "channelLag", params: { red: 1, green: 2, blue: 3 } }]).forEach((light, c) =>
    expect(light).toBeCloseTo([0.15, 0.1, 0.05][c]!, 6),
  );
});
