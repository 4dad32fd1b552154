import fc from "fast-check";
import { afterAll, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { startEngine } from "../../server/engine/engine";
import { hashOf, lookOf, numbers, scene, type Setup } from "../../testing/laboratory";
import { ELEMENTS } from "../elements/registry";
import { PlanBuilder } from "../engine/plan";
import { floatsOf } from "../image/image";
import { lookAt } from "../look/at-frame";
import { cabinetOf } from "../profile/profiles";
import { fuse, type PathPart } from "./fuse";
import { addPart } from "./parts";

const [width, height] = [131, 67];
const frame = scene(width, height);
const cabinet = cabinetOf(demoProfiles());
const engines = [1, 2, 3].map((threads) => startEngine(threads));
afterAll(() => engines.forEach((engine) => engine.close()));

let serial = 0;

/** What parts make of the frame on an engine. */
function madeOf(parts: PathPart[], elements: Setup[], { engine }: (typeof engines)[number]): string {
  const { context } = lookAt(lookOf(elements), cabinet, { width, height, frame: 5 });
  const builder = new PlanBuilder(width, height, `fused ${serial++}`);
  let image = 0;
  for (const part of parts) image = addPart(builder, image, part, context);
  const bytes = engine.run(builder.finish(), () => frame.data);
  return hashOf({ data: floatsOf(bytes) });
}

/** Kinds whose work is pixel-local as they stand by default. */
const POINT_KINDS = ELEMENTS.map(({ kind }) => kind).filter((kind) => {
  const { elements, context } = lookAt(lookOf([{ kind }]), cabinet, { width, height, frame: 5 });
  const [part] = elements[0]!.isActive ? fuse(elements, context) : [];
  return part?.kind === "point";
});

const setups = fc.array(
  fc.record({
    kind: fc.oneof(
      { weight: 2, arbitrary: fc.constant("grain") },
      { weight: 5, arbitrary: fc.constantFrom(...POINT_KINDS) },
    ),
    strength: fc.constantFrom(0.5, 1, 1.7),
    mix: fc.constantFrom(1, 1, 0.4),
    seed: fc.integer({ min: 0, max: 99 }),
  }),
  { minLength: 2, maxLength: 6 },
);

test("pixel-local elements in one program give the bytes they give one after the other, on any number of threads", () => {
  expect(POINT_KINDS).toContain("grain");
  fc.assert(
    fc.property(setups, (drawn) => {
      const elements = drawn.map(({ kind, strength, mix, seed }) => ({
        kind,
        strength,
        mix,
        params: kind === "grain" ? { seed, size: 6 + 30 * numbers(seed)() } : {},
      }));
      const { elements: at, context } = lookAt(lookOf(elements), cabinet, { width, height, frame: 5 });
      const acting = at.filter(({ isActive }) => isActive);
      const apart = madeOf(
        acting.flatMap((element) => fuse([element], context)),
        elements,
        engines[0]!,
      );
      for (const engine of engines) expect(madeOf(fuse(acting, context), elements, engine)).toBe(apart);
    }),
    { numRuns: 40 },
  );
});
