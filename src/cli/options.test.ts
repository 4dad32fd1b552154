import { Command } from "commander";
import { expect, test } from "vitest";
import { choiceOption, frameListOption, overscanOption } from "./options";

test.each([
  ["7", [[7, 7]]],
  ["1-24", [[1, 24]]],
  [
    "1-3,20",
    [
      [1, 3],
      [20, 20],
    ],
  ],
  [
    "30-60x15",
    [
      [30, 30],
      [45, 45],
      [60, 60],
    ],
  ],
  ["5,4, 1-3,2", [[1, 5]]],
])("frames %s", (text, wanted) => expect(frameListOption(text)).toEqual(wanted));

test.each(["", "a", "3-1", "1-", "1-9x0", "1,,2", "0-99999999"])("frames “%s” are none", (text) =>
  expect(() => frameListOption(text)).toThrow(/write frames as|more than one command makes/),
);

test("overscan is all of it, none, or a share of the width", () => {
  expect(["keep", "crop", "5%", "2.5%"].map(overscanOption)).toEqual([Infinity, 0, 0.05, 0.025]);
  for (const text of ["5", "-1%", "500%", "some"]) expect(() => overscanOption(text)).toThrow(/keep, crop/);
});

test("one of some words is taken in any case, and what is none is told which there are", () => {
  const command = () =>
    new Command()
      .exitOverride()
      .configureOutput({ writeErr: () => {} })
      .addOption(choiceOption("--gaps <what>", "gaps", ["hold", "Black"]));
  expect(command().parse(["--gaps", "HOLD"], { from: "user" }).opts()).toEqual({ gaps: "hold" });
  expect(command().parse(["--gaps", "black"], { from: "user" }).opts()).toEqual({ gaps: "Black" });
  expect(() => command().parse(["--gaps", "white"], { from: "user" })).toThrow(/Allowed choices are hold, Black/);
});
