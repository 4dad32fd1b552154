import { expect, test } from "vitest";
import { isRelevant, type Values } from "./definition";
import { definitionOf, ELEMENTS } from "./registry";
import { isKeyed, type LookElement } from "../look/look";

test("what a parameter depends on is a choice or footage of the same element, with values it can have", () => {
  const dependent = ELEMENTS.flatMap(({ kind, parameters }) =>
    Object.entries(parameters).flatMap(([name, { relevantWith = {} }]) =>
      Object.entries(relevantWith).map(([other, values]) => ({ kind, name, other, values })),
    ),
  );
  expect(dependent.length).toBeGreaterThan(10);
  for (const { kind, name, other, values } of dependent) {
    const found = definitionOf(kind).parameters[other]!;
    if (found.type === "choice")
      for (const value of values) expect(Object.keys(found.options), `${kind}.${name}`).toContain(value);
    else expect(found.type, `${kind}.${name}`).toBe("footage");
  }
});

test("the highlight key of defocus has a say by highlights alone", () => {
  const element = (by: string): LookElement => ({
    id: "d",
    kind: "defocus",
    on: true,
    strength: 1,
    mix: 1,
    params: { by },
  });
  expect([isKeyed(element("depth")), isKeyed(element("highlights"))]).toEqual([false, true]);
  const { threshold, focus, blades } = definitionOf("defocus").parameters;
  const say = (by: string) => [threshold!, focus!, blades!].map((parameter) => isRelevant(parameter, { by } as Values));
  expect(say("depth")).toEqual([false, true, true]);
  expect(say("highlights")).toEqual([true, false, true]);
});
