import { expect, test } from "vitest";
import { scene, through, total } from "../testing/laboratory";
import { readyMadeLooks } from "./ready-made";

test("at least fourteen looks, each with a name and a purpose of its own", () => {
  const looks = readyMadeLooks();
  expect(looks.length).toBeGreaterThanOrEqual(14);
  expect(new Set(looks.map(({ look }) => look.name)).size).toBe(looks.length);
  expect(new Set(looks.map(({ look }) => look.purpose)).size).toBe(looks.length);
});

test.each(readyMadeLooks().map(({ id, look }) => [id, look] as const))(
  "%s is not overdone: the frame keeps most of its light, and gains little",
  (_, look) => {
    const frame = scene(256, 144);
    const out = through(look, frame);
    const ratio = total(out) / total(frame);
    expect(ratio).toBeGreaterThan(0.7);
    expect(ratio).toBeLessThan(1.25);
  },
);
