import { expect, test } from "vitest";
import { lensTables, readLensData } from "./lens-data";

const shot = { first: 101, last: 106, frameRate: 24, timeCode: "01:00:00:00" };

test("a CSV by frame, whatever its headings' spelling and order", () => {
  const { rows, told } = readLensData(
    "Frame, Focal length (mm), T-Stop, Focus (m)\n101,50,T2,3\n102,51,2.2,3.1\n104,53,2.8,3.4\n",
    shot,
  );
  expect(rows[1]).toEqual({ frame: 102, focalLength: 51, stop: 2.2, focusDistance: 3.1 });
  expect(told).toEqual(["3 frames of the shot have no row; they hold the one before"]);
  const tables = lensTables(rows);
  expect(tables["lens.focalLength"]).toEqual({ table: { first: 101, values: [50, 51, 51, 53] } });
  expect(tables["lens.stop"]).toEqual({ table: { first: 101, values: [2, 2.2, 2.2, 2.8] } });
});

test("JSON by time code, matched from the footage's own", () => {
  const { rows } = readLensData(
    JSON.stringify([
      { timeCode: "01:00:00:02", focus: 4 },
      { timeCode: "01:00:00:05", focus: 9 },
    ]),
    shot,
  );
  expect(rows.map(({ frame }) => frame)).toEqual([103, 106]);
  expect(lensTables(rows)).toEqual({ "lens.focusDistance": { table: { first: 103, values: [4, 4, 4, 9] } } });
});

test("time code goes on past midnight, with dropped numbers too; rows before the shot stay before it", () => {
  const over = { first: 101, last: 106, frameRate: 24, timeCode: "23:59:59:22" };
  const { rows, told } = readLensData("tc,focus\n23:59:59:21,1\n23:59:59:23,2\n00:00:00:00,3\n00:00:00:03,4\n", over);
  expect(rows.map(({ frame, focusDistance }) => [frame, focusDistance])).toEqual([
    [102, 2],
    [103, 3],
    [106, 4],
  ]);
  expect(told[0]).toContain("1 row lies outside");
  const dropping = { first: 1, last: 4, frameRate: 29.97, timeCode: "23:59:59;28" };
  expect(readLensData("tc,focus\n23:59:59;29,1\n00:00:00;00,2\n", dropping).rows.map(({ frame }) => frame)).toEqual([
    2, 3,
  ]);
});

test.each(["inf", "Infinity", "∞"])("focus at “%s” is as far as there is", (far) => {
  expect(readLensData(`frame,focus\n101,${far}\n102,5\n`, shot).rows.map(({ focusDistance }) => focusDistance)).toEqual(
    [1e6, 5],
  );
  expect(() => readLensData(`frame,focal length\n101,${far}\n`, shot)).toThrow("no focal length");
});

test("what lies outside the shot, and columns that are not read, are said", () => {
  const { rows, told } = readLensData("frame;weather;focus\n100;snow;2\n101;snow;2.5\n", shot);
  expect(rows).toHaveLength(1);
  expect(told[0]).toContain("weather");
  expect(told[1]).toContain("1 row lies outside");
});

test.each([
  ["", "has no"],
  ["[", "not valid JSON"],
  ["{}", "no list of frames"],
  ["focus\n3\n", "no column “frame”"],
  ["frame\n101\n", "no column “focal length”"],
  ["frame,focus\n101,far\n", "row 1: “far” is no distance"],
  ["frame,focus\nx,3\n", "row 1: “x” is no frame"],
  ["frame,stop\n101,-2\n", "row 1: “-2” is no T-stop"],
  ["frame,focus\n7,3\n", "none of them match"],
  ["tc,focus\nnoon,3\n", "row 1: “noon” is no time code"],
])("“%s” is refused: %s", (text, reason) => {
  expect(() => readLensData(text, shot)).toThrow(reason);
});

test("time code is of no use where the footage has none", () => {
  expect(() => readLensData("tc,focus\n01:00:00:00,3\n", { ...shot, timeCode: null })).toThrow("the footage has none");
});
