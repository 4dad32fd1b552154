import { expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { lookSchema } from "./look";
import { problems } from "../problems";

const look = lookOf([{ kind: "trim" }]);
const timedBy = (when: unknown) => ({ ...look, elements: [{ ...look.elements[0], when }] });
const noise = { noise: { amplitude: 1, rate: 1 } };

test.each([
  ["timed names without end", timedBy(Object.fromEntries(Array.from({ length: 90_000 }, (_, i) => [`n${i}`, noise])))],
  ["keyframes without end", timedBy({ exposure: { keys: Array.from({ length: 200_000 }, () => ({ frame: "no" })) } })],
  ["elements without end", { ...look, elements: Array.from({ length: 100_000 }, () => ({})) }],
  ["tracks without end", { ...look, tracks: Array.from({ length: 100_000 }, () => ({})) }],
  ["numbers without end", timedBy({ exposure: { table: { first: 1, values: new Array(3_000_000).fill(0) } } })],
  ["nesting without end", { ...look, purpose: JSON.parse(`${"[".repeat(5000)}${"]".repeat(5000)}`) as unknown }],
])("%s: one line says what is too much, at once", (_, value) => {
  const found = problems(lookSchema, value);
  expect(found).toHaveLength(1);
  expect(found[0]).toMatch(/up to|more than|deeper/);
});

test.each(["constructor", "__defineGetter__", "toString", "where.constructor", "hasOwnProperty"])(
  "“%s” names nothing that can be timed",
  (name) => {
    expect(problems(lookSchema, timedBy({ [name]: noise }))[0]).toContain(name);
    expect(problems(lookSchema, { ...look, when: { [name]: noise } })[0]).toContain(name);
  },
);

test("a look of many tracks and keyframes is none too large", () => {
  const numbers = new Array<number>(1000).fill(0);
  const track = (id: string) => ({
    id,
    name: id,
    model: "position",
    reference: 1,
    region: { x: 0, y: 0, width: 10, height: 10 },
    first: 1,
    x: numbers,
    y: numbers,
    scale: numbers.map(() => 1),
    rotation: numbers,
    confidence: numbers,
  });
  const keys = Array.from({ length: 1000 }, (_, frame) => ({ frame, value: 1 }));
  const tracks = Array.from({ length: 20 }, (_, i) => track(`t${i}`));
  expect(problems(lookSchema, { ...timedBy({ exposure: { keys } }), tracks })).toEqual([]);
});
