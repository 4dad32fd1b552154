import { describe, expect, test } from "vitest";
import { flat, lookOf, numbers, painted, through } from "../../testing/laboratory";
import { demoProfiles } from "../../demo/glass/profiles";
import { encodingByName } from "../colour/encodings";
import { applier } from "../colour/transform/transform";
import { ELEMENTS } from "../elements/registry";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { cabinetOf } from "../profile/profiles";
import { tonalPart } from "./tonal-part";
import { errorOverFrame, errorOverLattice, type RunTonal, type TableRequest, tonalTable } from "./tonal-table";

const cabinet = cabinetOf(demoProfiles());
const partOf = (look: Look) => tonalPart(look, lookAt(look, cabinet, { width: 33, height: 33, frame: 1 }));
const runOf =
  (look: Look): RunTonal =>
  (light, view) =>
    through(look, light, { output: { kind: view ? "codes" : "light" } });
const request = (more: Partial<TableRequest> = {}): TableRequest => ({
  size: 17,
  input: encodingByName("acescct"),
  throughView: true,
  ...more,
});

describe("the tonal part", () => {
  test("is what an even field and a checkered one agree on: no neighbour and no place has a part in it", () => {
    const random = numbers(5);
    const noisy = painted(48, 32, () => [random(), random(), random()]);
    const pixel = [0.4, 0.2, 0.7] as [number, number, number];
    for (const { kind, isTonal } of ELEMENTS.filter((entry) => entry.isTonal)) {
      const look = lookOf([{ kind, strength: 1 }]);
      const among = painted(48, 32, (x, y) =>
        x === 30 && y === 9
          ? pixel
          : ([...noisy.data.slice((y * 48 + x) * 4, (y * 48 + x) * 4 + 3)] as [number, number, number]),
      );
      const [alone, inside] = [through(look, flat(48, 32, pixel)), through(look, among)];
      const at = (9 * 48 + 30) * 4;
      for (let c = 0; c < 3; c++) expect(inside.data[at + c], kind).toBe(alone.data[c]);
      expect(isTonal).toBe(true);
    }
  });
  test("keeps transmission, flicker, trim, curves, tone and monochrome, and no other element", () => {
    const tonal = ELEMENTS.filter(({ isTonal }) => isTonal).map(({ kind }) => kind);
    expect(tonal.sort()).toEqual(["curves", "flicker", "monochrome", "tone", "transmission", "trim"]);
  });
  test("says of everything that acts and is not in it why, and nothing of what does not act", () => {
    const area = { areas: [{ kind: "shape" }] };
    const look = lookOf([
      { kind: "glow" },
      { kind: "trim", params: { exposure: 1 } },
      { kind: "tone", where: area },
      { kind: "grain", on: false },
    ]);
    const { look: tonal, leftOut } = partOf(look);
    expect(tonal.elements.map(({ id }) => id)).toEqual(["e1"]);
    expect(leftOut.map(({ id, why }) => [id, why])).toEqual([
      ["e0", "it depends on a pixel’s neighbours or its place"],
      ["e2", "it acts within an area"],
    ]);
  });
  test("is empty where the whole path acts within an area", () => {
    const look = {
      ...lookOf([{ kind: "trim" }]),
      where: lookOf([{ kind: "trim", where: { areas: [{ kind: "shape" }] } }]).elements[0]!.where,
    };
    const { look: tonal, leftOut } = partOf(look as Look);
    expect([tonal.elements, tonal.where]).toEqual([[], undefined]);
    expect(leftOut).toHaveLength(1);
  });
});

describe("a table of it", () => {
  test("of a look that does nothing, without the view, gives back what goes in", () => {
    for (const input of ["acescct", "srgb", "log-film"] as const) {
      const asked = request({ throughView: false, input: encodingByName(input) });
      const transform = tonalTable("nothing", asked, runOf(lookOf([])));
      const apply = applier(transform);
      for (const code of [0.1, 0.37, 0.62, 0.9]) {
        const rgb = [code, code * 0.9, code * 0.8];
        const before = [...rgb];
        apply(rgb);
        rgb.forEach((value, c) => expect(Math.abs(value - before[c]!), input).toBeLessThan(2e-3));
      }
    }
  });
  test("is nearer the more entries it has, and nearer to common colours than to its own farthest corners", () => {
    const look = partOf(
      lookOf([{ kind: "trim", params: { exposure: 0.4, saturation: 1.1 } }, { kind: "tone" }], {}, undefined, "soft"),
    ).look;
    const errors = ([17, 33] as const).map((size) => {
      const asked = request({ size });
      return errorOverLattice(tonalTable("look", asked, runOf(look)), asked, runOf(look));
    });
    expect(errors[1]!.mean).toBeLessThan(0.6 * errors[0]!.mean);
    expect(errors[1]!.withinThree).toBeGreaterThan(errors[0]!.withinThree);
    const asked = request({ size: 33 });
    const scene = painted(96, 64, (x, y) => [0.02 + x / 96, 0.02 + x / 120 + y / 640, 0.02 + x / 160]);
    const overFrame = errorOverFrame(scene, tonalTable("look", asked, runOf(look)), asked, runOf(look));
    expect(overFrame.mean).toBeLessThan(0.8 * errors[1]!.mean);
    expect(overFrame.mean).toBeLessThan(2);
    expect(overFrame.withinThree).toBeGreaterThan(errors[1]!.withinThree);
  });
  test("takes in light by a shaper of its own: 16 stops of it come out as the engine has them", () => {
    const look = partOf(lookOf([{ kind: "trim", params: { exposure: -1 } }])).look;
    const asked = request({ size: 33, throughView: false, input: encodingByName("linear-ap1") });
    const transform = tonalTable("light", asked, runOf(look));
    expect(transform.steps.map(({ kind }) => kind)).toEqual(["lutHalf", "lut3d"]);
    const apply = applier(transform);
    for (const stops of [-4, -1, 0, 2, 5, 8]) {
      const light = 0.18 * 2 ** stops;
      const rgb = [light, light, light];
      apply(rgb);
      for (const value of rgb) expect(Math.abs(Math.log2(value / (light / 2))), `${stops} stops`).toBeLessThan(0.06);
    }
  });
});

test("of a taking lens the colour goes into the table, and the rest is told", () => {
  const plain = lookOf([{ kind: "trim", params: { exposure: 0.5 } }]);
  const taking = {
    ...{ profile: "orrin-vale-50", focalLength: 50, stop: 2, maxGain: 3 },
    ...{ transmission: 1, illumination: 1, distortion: 1, lateralColour: 1, contrast: 1 },
  };
  const look: Look = { ...plain, camera: { ...plain.camera, taking } };
  const part = partOf(look);
  expect(part.leftOut).toEqual([expect.objectContaining({ label: "Taking lens, all but its colour" })]);
  // What is left does the same to a colour wherever it stands in the frame.
  const even = flat(33, 33, [0.4, 0.2, 0.1]);
  const out = through(part.look, even).data;
  expect(out.every((value, i) => value === out[i % 4])).toBe(true);
  expect(out.slice(0, 3)).not.toEqual(through(plain, even).data.slice(0, 3));
});
