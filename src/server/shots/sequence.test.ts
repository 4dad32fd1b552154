import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { fileOf, framesOf, groupNames, LONGEST_GAP, parsePattern } from "./sequence";

test("both ways to write a sequence name the same files, and gaps are found", () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-sequence-"));
  for (const n of [1, 2, 5]) writeFileSync(join(folder, `take.000${n}.exr`), "");
  writeFileSync(join(folder, "take.note.exr"), "");
  for (const name of ["take.%04d.exr", "take.####.exr"]) {
    const pattern = parsePattern(join(folder, name));
    expect(framesOf(pattern)).toEqual([
      [1, 2],
      [5, 5],
    ]);
    expect(fileOf(pattern, 5)).toBe(join(folder, "take.0005.exr"));
  }
  expect(framesOf(parsePattern(join(folder, "take.0001.exr")))).toEqual([[1, 1]]);
});

test("names are grouped into sequences and single files", () => {
  const groups = groupNames(["b.0002.png", "b.0001.png", "still.png", "a_10.png", "plate7.png"]);
  expect(groups.map(({ pattern, frames }) => [pattern, frames])).toEqual([
    ["b.%04d.png", [[1, 2]]],
    ["still.png", [[1, 1]]],
    ["a_10.png", [[10, 10]]],
    ["plate7.png", [[7, 7]]],
  ]);
});

test("a gap above the bound starts another sequence, and a number no frame can have is a name", () => {
  const next = 2 + LONGEST_GAP;
  const far = ["a_0001.png", `a_${next}.png`, `a_${next + 1}.png`, `a_${2 * next + 2}.png`, "a_20261128143000.png"];
  expect(groupNames(far).map(({ pattern, frames }) => [pattern, frames])).toEqual([
    [
      "a_%04d.png",
      [
        [1, 1],
        [next, next + 1],
      ],
    ],
    [`a_${2 * next + 2}.png`, [[2 * next + 2, 2 * next + 2]]],
    ["a_20261128143000.png", [[1, 1]]],
  ]);
  const folder = mkdtempSync(join(tmpdir(), "halo-far-"));
  for (const name of far) writeFileSync(join(folder, name), "");
  expect(framesOf(parsePattern(join(folder, "a_%04d.png")))).toEqual([
    [1, 1],
    [next, next + 1],
    [2 * next + 2, 2 * next + 2],
  ]);
});
