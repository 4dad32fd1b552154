import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { fileOf, framesOf, groupNames, MAX_GAP_LENGTH, parsePattern, parseStored, shownName } from "./sequence";
import { openSource } from "./source";

test("every way to write a sequence name the same files, and gaps are found", () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-sequence-"));
  for (const n of [1, 2, 5]) writeFileSync(join(folder, `take.000${n}.exr`), "");
  writeFileSync(join(folder, "take.note.exr"), "");
  for (const name of ["take.%04d.exr", "take.####.exr", "take.@@@@.exr"]) {
    const pattern = parsePattern(join(folder, name));
    expect(framesOf(pattern)).toEqual([
      [1, 2],
      [5, 5],
    ]);
    expect(fileOf(pattern, 5)).toBe(join(folder, "take.0005.exr"));
  }
  expect(framesOf(parsePattern(join(folder, "take.0005.exr")))).toEqual([[5, 5]]);
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
  const next = 2 + MAX_GAP_LENGTH;
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

const groups = (names: string[]) => groupNames(names).map(({ pattern, frames }) => [pattern, frames]);
const files = (name: (n: number) => string, first: number, last: number) =>
  Array.from({ length: last - first + 1 }, (_, i) => name(first + i));

test("numbers without zeros in front are one sequence, however many digits they have", () => {
  expect(groups(files((n) => `take.${n}.exr`, 1, 100))).toEqual([["take.%01d.exr", [[1, 100]]]]);
  expect(groups(files((n) => `take.${n}.exr`, 9998, 10_001))).toEqual([["take.%04d.exr", [[9998, 10_001]]]]);
  expect(groups(["a.0999.exr", "a.1000.exr", "a.10000.exr", "a.7.exr"])).toEqual([
    [
      "a.%04d.exr",
      [
        [999, 1000],
        [10_000, 10_000],
      ],
    ],
    ["a.7.exr", [[7, 7]]],
  ]);
});

test("numbers may be negative, and stand before a layer's or a camera's name", () => {
  expect(groups(["take.-0002.exr", "take.-0001.exr", "take.0000.exr", "take.0001.exr"])).toEqual([
    ["take.%04d.exr", [[-2, 1]]],
  ]);
  expect(groups(["F_0001.beauty.exr", "F_0002.beauty.exr"])).toEqual([["F_%04d.beauty.exr", [[1, 2]]]]);
  expect(groups(["0001_C.exr", "0002_C.exr"])).toEqual([["%04d_C.exr", [[1, 2]]]]);
  // A version's number is none of a frame's.
  expect(groups(["v2_beauty.exr", "v3_beauty.exr"])).toEqual([
    ["v2_beauty.exr", [[1, 1]]],
    ["v3_beauty.exr", [[1, 1]]],
  ]);
  const folder = mkdtempSync(join(tmpdir(), "halo-negative-"));
  for (const name of ["t.-0002.exr", "t.-0001.exr", "t.0000.exr"]) writeFileSync(join(folder, name), "");
  const pattern = parsePattern(join(folder, "t.%04d.exr"));
  expect(framesOf(pattern)).toEqual([[-2, 0]]);
  expect(fileOf(pattern, -2)).toBe(join(folder, "t.-0002.exr"));
});

test.each([
  "take#2.png",
  "100%done.png",
  "%04d.png",
  "a%%b.png",
  "####.png",
  "@1.png",
  "50%.png",
  "%d%04d.exr",
  "plain.png",
])("a kept name is that name and nothing else: %s", (name) => {
  const folder = mkdtempSync(join(tmpdir(), "halo-names-"));
  const path = join(folder, name);
  writeFileSync(path, "");
  const [group] = groupNames([name]);
  const kept = parseStored(join(folder, group!.pattern));
  expect(fileOf(kept, group!.frames[0]![0])).toBe(path);
  expect(shownName(group!.pattern)).toBe(name);
  expect(openSource(path).frames).toHaveLength(1);
  expect(fileOf(openSource(path).pattern, 1)).toBe(path);
});

test("a kept sequence whose name holds a percent is read back as it was", () => {
  const [group] = groupNames(["50%_0001.png", "50%_0002.png"]);
  expect(group!.pattern).toBe("50%%_%04d.png");
  expect(fileOf(parseStored(group!.pattern), 2)).toBe("50%_0002.png");
});
