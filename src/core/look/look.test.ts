import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { demoLooks } from "../../demo/looks";
import { demoProfiles } from "../../demo/glass/profiles";
import { ELEMENTS } from "../elements/registry";
import { filterSchema, lensSchema, type LensProfile } from "../profile/profiles";
import { lookSchema, resolveElement } from "./look";
import { problems } from "../problems";

const example = JSON.parse(readFileSync("examples/first-light.json", "utf8")) as Record<string, unknown>;

test("the example and the demo's looks and profiles are valid", () => {
  expect(problems(lookSchema, example)).toEqual([]);
  for (const look of Object.values(demoLooks())) expect(problems(lookSchema, look)).toEqual([]);
  for (const profile of demoProfiles())
    expect(problems(profile.format === "pale-halo-lens" ? lensSchema : filterSchema, profile)).toEqual([]);
});

test("a look may leave out its camera, lens and view, or parts of them: they have defaults", () => {
  const bare = { format: "pale-halo-look", version: 1, name: "Bare", elements: [] };
  const { camera, lens, view } = lookSchema.parse(bare);
  expect(camera).toEqual({ sensor: { width: 24.9, height: 14 }, squeeze: 1 });
  expect(lens).toEqual({ profile: null, focalLength: 50, stop: 2.8, focusDistance: 3 });
  expect(view).toEqual({ kind: "soft", display: "srgb", lutInput: "acescct" });
  const part = lookSchema.parse({ ...bare, camera: { squeeze: 2 }, lens: { stop: 4 }, view: { display: "bt1886" } });
  expect([part.camera.sensor.width, part.camera.squeeze, part.lens.focalLength, part.lens.stop]).toEqual([
    24.9, 2, 50, 4,
  ]);
  expect(part.view).toMatchObject({ kind: "soft", display: "bt1886" });
});

test("problems are named by their path", () => {
  const bad = structuredClone(example) as { elements: Record<string, unknown>[]; lens: Record<string, unknown> };
  bad.elements[0]!.strength = -1;
  bad.elements[1]!.params = { gian: 3 };
  bad.lens.stop = 0;
  const found = problems(lookSchema, bad);
  expect(found.some((line) => line.startsWith("elements.0.strength"))).toBe(true);
  expect(found.some((line) => line.startsWith("elements.1.params") && line.includes("gian"))).toBe(true);
  expect(found.some((line) => line.startsWith("lens.stop"))).toBe(true);
});

test("two elements of one id, an unknown kind and an unknown key are refused", () => {
  const one = { id: "a", kind: "trim" };
  const look = (elements: unknown[], more = {}) => problems(lookSchema, { ...example, elements, ...more });
  expect(look([one, one])[0]).toMatch(/same id/);
  expect(look([{ id: "a", kind: "wishful" }])).not.toEqual([]);
  expect(look([one], { colour: 1 })).not.toEqual([]);
});

test("parameters left out come from the lens where it measured them, else from the definition", () => {
  const hask = demoProfiles().find(({ id }) => id === "hask-scope-40") as LensProfile;
  const element = { id: "s", kind: "streak", on: true, strength: 1, mix: 1, params: { gain: 50 } };
  expect(resolveElement(element, hask).values).toMatchObject({ gain: 50, length: hask.streak!.length, threshold: 4 });
  expect(resolveElement(element, null).values).toMatchObject({ gain: 50, length: [6, 8, 12] });
});

test("every element's parameters have a help, a label, and a default inside their range", () => {
  for (const { parameters } of ELEMENTS) {
    for (const parameter of Object.values(parameters)) {
      expect(parameter.label && parameter.help).toBeTruthy();
      if (parameter.type === "number")
        expect(parameter.default >= parameter.min && parameter.default <= parameter.max).toBe(true);
    }
  }
});

test("a table of the wrong length is refused with its path", () => {
  const orrin = structuredClone(demoProfiles().find(({ id }) => id === "orrin-vale-50")) as LensProfile;
  orrin.illumination![0]!.relative.pop();
  expect(problems(lensSchema, orrin)[0]).toMatch(/^illumination\.0\.relative: needs 10 values/);
});
