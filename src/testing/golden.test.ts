import { readFileSync, writeFileSync } from "node:fs";
import { expect, test } from "vitest";
import { ELEMENTS } from "../core/elements/registry";
import { ENGINE_VERSION } from "../core/engine/version";
import { lookSchema } from "../core/look/look";
import { demoLooks } from "../demo/looks";
import { painted, hashOf, lookOf, scene, through } from "./laboratory";
import { looking, setupOf } from "./showing";

/**
 * The pixels of every element, and of the demo production's looks, as hashes. Who changes pixels on purpose raises
 * ENGINE_VERSION and writes them anew with `npm run golden`: renders of before are then made again instead of gone on
 * with.
 */
const FILE = "src/testing/golden.json";
interface Golden {
  engineVersion: number;
  pixels: Record<string, string>;
}

const SIZE = { width: 240, height: 135 };
const shown = scene(SIZE.width, SIZE.height);
/** Other frames of the shot: the scene, moved on. */
const others = (number: number) =>
  painted(SIZE.width, SIZE.height, (x, y) => {
    const at = (y * SIZE.width + ((x + number * 5) % SIZE.width)) * 4;
    return [shown.data[at]!, shown.data[at + 1]!, shown.data[at + 2]!];
  });
/** m, nearer towards the bottom. */
const depth = painted(SIZE.width, SIZE.height, (_, y) => Array(3).fill(2 + 20 * (1 - y / SIZE.height)) as never);
const OPTIONS = { frame: 7, shot: { first: 1, last: 12 }, others, depth, plate: others };

/** A shape and a key, as an element within an area meets them. */
const WHERE = {
  areas: [
    { kind: "shape", x: 4, y: -3, width: 70, height: 50, rotation: 20, roundness: 0.6, outer: 1.8 },
    { kind: "key", combine: "intersection", low: -3, high: 2, soft: 1 },
  ],
};

function pixels(): Record<string, string> {
  const made: Record<string, string> = {};
  const note = (name: string, ...run: Parameters<typeof through>) => (made[name] = hashOf(through(...run)));
  for (const { kind } of ELEMENTS) note(kind, looking(kind), shown, OPTIONS);
  const each = ELEMENTS.map(({ kind }) => setupOf(kind, { strength: 0.5, mix: 0.9 }));
  note("every element after another", lookOf(each), shown, OPTIONS);
  note("within an area", lookOf([setupOf("fog", { where: WHERE })]), shown, OPTIONS);
  note(
    "timed",
    lookOf([setupOf("glow", { when: { strength: { ramp: { from: 0, to: 2, first: 1, last: 9 } } } })]),
    shown,
    {
      ...OPTIONS,
    },
  );
  note("a matte", looking("glow"), shown, { ...OPTIONS, output: { kind: "matte", element: "e0" } });
  note("an area", lookOf([setupOf("fog", { where: WHERE })]), shown, {
    ...OPTIONS,
    output: { kind: "area", element: "e0", over: true },
  });
  for (const [id, look] of Object.entries(demoLooks())) {
    note(`${id} as codes`, lookSchema.parse(look), shown, { ...OPTIONS, output: { kind: "codes" } });
    note(`${id} on a display`, lookSchema.parse(look), shown, { ...OPTIONS, output: { kind: "display" } });
  }
  return made;
}

test("pixels are those of this version of the engine", () => {
  const made: Golden = { engineVersion: ENGINE_VERSION, pixels: pixels() };
  if (process.env.HALO_WRITE_GOLDEN) writeFileSync(FILE, `${JSON.stringify(made, null, 2)}\n`);
  expect(made).toEqual(JSON.parse(readFileSync(FILE, "utf8")));
});
