import { expect, test } from "vitest";
import { lookOf } from "../testing/laboratory";
import { timeRender } from "./bench-render";

test("every part of a render is told, with its wall and its CPU time", async () => {
  const look = lookOf([{ kind: "distortion", strength: 2 }, { kind: "trim" }], { profile: "orrin-vale-50" });
  const parts = await timeRender(look, { width: 320, height: 180 }, 1, 2);
  expect(Object.keys(parts)).toEqual(["read_and_inflate", "decode", "depth_moved", "look", "pack_and_deflate", "hash"]);
  expect(Object.values(parts).every(({ wall, cpu }) => wall >= 0 && cpu >= 0)).toBe(true);
  expect(parts.pack_and_deflate!.wall).toBeGreaterThan(0);
});
