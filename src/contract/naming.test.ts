import { describe, expect, test } from "vitest";
import { fileNameBy, namingProblem, stemFrom } from "./naming";

const of = { shot: "TL-010", version: "As opened / warm", date: "20261130" };
const named = (pattern: string, format = "exr", isOneFile = false) =>
  fileNameBy(stemFrom(pattern, of), format, isOneFile);

describe("names by a pattern", () => {
  test.each([
    ["{shot}_{version}.{frame}", "TL-010_As_opened_warm.%04d.exr"],
    ["{date}_{shot}", "20261130_TL-010.%04d.exr"],
    ["{frame}_{shot}", "%04d_TL-010.exr"],
    ["{shot}.{frame}.comp", "TL-010.%04d.comp.exr"],
    ["reel A {shot}", "reel_A_TL-010.%04d.exr"],
    ["{shot} {frame} {frame}", "TL-010.%04d.exr"],
  ])("%s", (pattern, name) => {
    expect(named(pattern)).toBe(name);
  });

  test("one file for all frames has no number", () => {
    expect(named("{shot}_{version}.{frame}", "mov", true)).toBe("TL-010_As_opened_warm.mov");
    expect(named("{frame}_{shot}", "mov", true)).toBe("TL-010.mov");
  });

  test("renders of before, whose names hold no place for a number, are called as they were", () => {
    expect([fileNameBy("TL-010", "exr", false), fileNameBy("TL-010", "mov", true)]).toEqual([
      "TL-010.%04d.exr",
      "TL-010.mov",
    ]);
  });

  test.each([
    ["{take}", /\{take\} is none of \{shot\}/],
    ["{shot", /a brace is open/],
    ["../{shot}", /no folders/],
    ["{frame}", /nothing of a name/],
    ["...", /nothing of a name/],
  ])("%s is refused in words", (pattern, reason) => {
    expect(namingProblem(pattern)).toMatch(reason);
  });

  test("whatever a version is called, no name leaves its folder or begins with a dot", () => {
    for (const version of [
      "../../etc",
      "a\\b",
      "..",
      " ",
      "{frame}",
      "{shot}{",
      "名前",
      "x".repeat(400),
      "名".repeat(200),
    ]) {
      const name = fileNameBy(stemFrom("{version}", { ...of, version }), "exr", false);
      expect(name).toMatch(/^[^./\\][^/\\]*\.%04d\.exr$/);
      expect(Buffer.byteLength(name)).toBeLessThan(240);
    }
  });
});
