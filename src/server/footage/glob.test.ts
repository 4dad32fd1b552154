import { mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { patternOfGlob } from "./glob";
import { fileOf, framesOf } from "./sequence";

const root = mkdtempSync(join(tmpdir(), "halo-glob-"));
const put = (...names: string[]) => {
  for (const name of names) {
    mkdirSync(join(root, name, ".."), { recursive: true });
    writeFileSync(join(root, name), "");
  }
};
put("day 1/TL-010.0001.exr", "day 1/TL-010.0002.exr", "day 1/TL-010.0004.exr", "day 1/notes (old).txt");
put("day 2/TL-020.0001.exr", "day 2/TL-020.0002.exr", "day 2/TL-020.0001.png", "day 2/50% a+b.0007.exr");

test("a name with stars stands for the one sequence it fits, in folders too, gaps and all", () => {
  const pattern = patternOfGlob(join(root, "day ?/TL-010.*.exr"))!;
  expect(framesOf(pattern)).toEqual([
    [1, 2],
    [4, 4],
  ]);
  expect(fileOf(pattern, 4)).toBe(join(root, "day 1/TL-010.0004.exr"));
});

test("other signs of a name mean themselves", () => {
  const found = patternOfGlob(join(root, "day 2/50% a+b.*.exr"))!;
  expect(fileOf(found, 7)).toBe(join(root, "day 2/50% a+b.0007.exr"));
  expect(patternOfGlob(join(root, "day 2/TL-0(2)0.*.exr"))).toBeNull();
  expect(patternOfGlob(join(root, "day 1/notes (old).t?t"))!.before).toBe("notes (old).txt");
});

test("one that stands for several names them, and one for none is none", () => {
  expect(() => patternOfGlob(join(root, "*/*.exr"))).toThrow(/stands for 3 sequences; name one: .*TL-010\.%04d\.exr/);
  expect(() => patternOfGlob(join(root, "day 2/TL-020.0001.*"))).toThrow(/stands for 2 sequences/);
  expect(patternOfGlob(join(root, "day 3/*.exr"))).toBeNull();
});
