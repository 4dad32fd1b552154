import { expect, test } from "vitest";
import { DEFAULT_SLATE, slateOfFrame, slateOfRender, slateProblem } from "./slate";

test("what belongs to a render is filled in for it, what belongs to a frame for each", () => {
  const of = { shot: "TL-020", version: "warm {frame}", date: "20261130" };
  const render = slateOfRender("{shot} | {version} | {date} | {frame} | {timecode}", of);
  expect(slateOfFrame(render, { frame: 12, timeCode: "10:00:00:11" })).toBe(
    "TL-020 | warm frame | 20261130 | 12 | 10:00:00:11",
  );
});

test.each([
  ["{lens}", "{lens} is none of {shot}, {version}, {date}, {frame}, {timecode}"],
  ["shot {", "a brace is open"],
  ["  ", "there is nothing in it"],
  ["x".repeat(161), "is longer than 160 letters"],
])("%s is told what is wrong with it", (slate, problem) => {
  expect(slateProblem(slate)).toBe(problem);
});

test("the one that is offered is proper", () => {
  expect(slateProblem(DEFAULT_SLATE)).toBeNull();
});
