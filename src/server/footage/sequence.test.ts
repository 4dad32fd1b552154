import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { fileOf, framesOf, gapsOf, groupNames, parsePattern } from "./sequence";

test("both ways to write a sequence name the same files, and gaps are found", () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-sequence-"));
  for (const n of [1, 2, 5]) writeFileSync(join(folder, `take.000${n}.exr`), "");
  writeFileSync(join(folder, "take.note.exr"), "");
  for (const name of ["take.%04d.exr", "take.####.exr"]) {
    const pattern = parsePattern(join(folder, name));
    expect(framesOf(pattern)).toEqual([1, 2, 5]);
    expect(fileOf(pattern, 5)).toBe(join(folder, "take.0005.exr"));
  }
  expect(gapsOf([1, 2, 5])).toEqual([3, 4]);
  expect(framesOf(parsePattern(join(folder, "take.0001.exr")))).toEqual([1]);
});

test("names are grouped into sequences and single files", () => {
  const groups = groupNames(["b.0002.png", "b.0001.png", "still.png", "a_10.png", "plate7.png"]);
  expect(groups.map(({ pattern, frames }) => [pattern, frames])).toEqual([
    ["b.%04d.png", [1, 2]],
    ["still.png", [1]],
    ["a_10.png", [10]],
    ["plate7.png", [7]],
  ]);
});
