import { expect, test } from "vitest";
import { later, readTimeCode, timeCodeText } from "./time-code";

test.each([
  ["01:00:00:00", 24, 86400],
  ["00:00:01:12", 24, 36],
  ["00:01:00:02", 25, 1502],
  ["10:11:12:13", 30, 1100173],
])("%s at %d is frame %d, and back", (text, rate, frames) => {
  const code = readTimeCode(text, rate)!;
  expect(code).toEqual({ frames, drop: false });
  expect(timeCodeText(code, rate)).toBe(text);
});

test("dropped numbers: two a minute at 29.97, but not in each tenth (SMPTE ST 12)", () => {
  const at = (text: string) => readTimeCode(text, 29.97)!;
  expect(timeCodeText(later(at("00:00:59;29"), 1), 29.97)).toBe("00:01:00;02");
  expect(timeCodeText(later(at("00:09:59;29"), 1), 29.97)).toBe("00:10:00;00");
  // An hour of it is an hour of the clock to within a frame and a half.
  expect(Math.abs(at("01:00:00;00").frames - 3600 * 29.97)).toBeLessThan(1.5);
  for (let frames = 0; frames < 40_000; frames += 7)
    expect(readTimeCode(timeCodeText({ frames, drop: true }, 29.97), 29.97)).toEqual({ frames, drop: true });
  // Other rates have none to drop.
  expect(readTimeCode("00:01:00;00", 24)).toEqual({ frames: 1440, drop: false });
});

test.each(["", "1:2:3:4", "00:60:00:00", "00:00:00:24", "ab:cd:ef:gh"])("“%s” is no time code", (text) => {
  expect(readTimeCode(text, 24)).toBeNull();
});

test.each(["00:01:00;00", "00:01:00;01", "12:59:00;01"])("“%s” is a number that is dropped at 29.97", (text) => {
  expect(readTimeCode(text, 29.97)).toBeNull();
  expect(readTimeCode(text.replace(";", ":"), 29.97)).not.toBeNull();
});

test("at 59.94 four are dropped, and no day has more than 24 hours", () => {
  expect(readTimeCode("00:01:00;03", 59.94)).toBeNull();
  expect(readTimeCode("00:01:00;04", 59.94)).not.toBeNull();
  expect(readTimeCode("00:10:00;00", 59.94)).not.toBeNull();
  expect(readTimeCode("24:00:00:00", 24)).toBeNull();
});
