import { expect, test } from "vitest";
import { summaryOf } from "./summary";
import { lookSchema } from "./look";
import { renamed } from "./renamed";

const look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "All of it",
  camera: { sensor: { width: 24.9, height: 14 }, taking: { profile: "clean", focalLength: 50, stop: 2 } },
  lens: { profile: "old", focalLength: 50, stop: 2 },
  depth: { footage: "A", far: 40 },
  elements: [
    { id: "d", kind: "diffusion", params: { profile: "milk", grade: "1/4" } },
    { id: "p", kind: "plate", params: { footage: "B" } },
    { id: "g", kind: "grain" },
  ],
  view: { kind: "lut", lut: "print" },
});

test("everything a look takes by name is named anew, and nothing else is touched", () => {
  const both = (name: string) => `${name}-2`;
  const made = renamed(look, { glass: both, shot: both, table: both });
  const { glass, shots, table } = summaryOf(made);
  expect(glass.sort()).toEqual(["clean-2", "milk-2", "old-2"]);
  expect(shots.sort()).toEqual(["A-2", "B-2"]);
  expect(table).toBe("print-2");
  const back = (name: string) => name.replace(/-2$/, "");
  expect(renamed(made, { glass: back, shot: back, table: back })).toEqual(look);
});

test("what has no other name keeps its own", () => {
  const none = () => undefined;
  expect(renamed(look, { glass: none, shot: none, table: none })).toEqual(look);
});
