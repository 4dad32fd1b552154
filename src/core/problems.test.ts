import { expect, test } from "vitest";
import { z } from "zod";
import { problems } from "./problems";

const kinds = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("fog"), amount: z.number().min(0).max(1) }).strict(),
  z.object({ kind: z.literal("glow"), size: z.number() }).strict(),
]);
const schema = z
  .object({
    name: z.string().min(1, "is empty"),
    count: z.number().int().max(4),
    view: z.enum(["soft", "plain"]),
    places: z.array(z.number()).min(2),
    elements: z.array(kinds),
    strength: z.union([z.number(), z.object({ keys: z.array(z.object({ frame: z.number() }).strict()) }).strict()]),
  })
  .strict();
const right = { name: "n", count: 1, view: "soft", places: [1, 2], elements: [], strength: 1 };

test("what is right has no problems", () => expect(problems(schema, right)).toEqual([]));

test.each([
  ["a schema's own words stand", { name: "" }, ["name: is empty"]],
  ["what is missing says what it must be", { count: undefined }, ["count: is missing; it must be a number"]],
  ["another kind is told with what it is", { count: "2" }, ["count: must be a number; it is “2”"]],
  ["a bound is told with the value", { count: 9 }, ["count: must be at most 4; it is 9"]],
  ["a list that is too short", { places: [1] }, ["places: must have at least 2 entries; it has 1"]],
  [
    "a word that is near another",
    { view: "sofd" },
    ["view: must be one of “soft”, “plain”; it is “sofd”; did you mean “soft”?"],
  ],
  [
    "a kind there is not",
    { elements: [{ kind: "glo" }] },
    ["elements.0.kind: must be one of “fog”, “glow”; it is “glo”; did you mean “glow”?"],
  ],
  [
    "the alternative that was meant is the one whose problem lies deepest",
    { strength: { keys: [{ frame: "a" }] } },
    ["strength.keys.0.frame: must be a number; it is “a”"],
  ],
  ["a field that is not there", { extra: 1 }, ["has no “extra”"]],
])("%s", (_, change, told) => {
  expect(problems(schema, { ...right, ...change })).toEqual(told);
});
