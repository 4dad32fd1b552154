import { expect, test } from "vitest";
import { lookAt } from "@/core/look/at-frame";
import type { Look } from "@/core/look/look";
import { cabinetOf } from "@/core/profile/profiles";
import { demoProfiles } from "@/demo/glass/profiles";
import { lookOf, type Setup } from "@/testing/laboratory";
import { cautionsOf } from "./cautions";

const cabinet = cabinetOf(demoProfiles());
const said = (setup: Setup, lens: Partial<Look["lens"]> = {}, sensor?: { width: number; height: number }) => {
  const look = lookOf([setup], lens, sensor);
  const { context, elements } = lookAt(look, cabinet, { width: 1920, height: 1080, frame: 1 });
  return cautionsOf(elements[0]!, context);
};

test("an element as it was measured has nothing said of it", () => {
  expect(said({ kind: "illumination" })).toEqual([]);
  expect(said({ kind: "trim" })).toEqual([]);
});

test("one that lacks its table says so, and nothing else", () => {
  const [only, ...more] = said({ kind: "sharpness", strength: 9 }, { profile: null });
  expect(only).toMatch(/The element does nothing\.$/);
  expect(more).toEqual([]);
});

test("one that is off, or at 0, is not spoken of", () => {
  expect(said({ kind: "glow", strength: 9, on: false })).toEqual([]);
  expect(said({ kind: "distortion", strength: 0 })).toEqual([]);
});

test("what is beyond twice measured is said, from there on", () => {
  expect(said({ kind: "glow", strength: 2 })).toEqual([]);
  expect(said({ kind: "glow", strength: 2.01 })).toEqual(["Strength is above twice the measured amount."]);
});

test("overall strength counts, unless the element is kept out of it", () => {
  const look = { ...lookOf([{ kind: "glow", strength: 1.5 }]), strength: 2 };
  const at = (of: Look) => {
    const { context, elements } = lookAt(of, cabinet, { width: 64, height: 36, frame: 1 });
    return cautionsOf(elements[0]!, context);
  };
  expect(at(look)).toHaveLength(1);
  const keptOut = { ...look, elements: look.elements.map((element) => ({ ...element, keptOut: true })) } as Look;
  expect(at(keptOut)).toHaveLength(0);
});

test("a lens outside what was measured of it is said by those that read that axis, in its unit", () => {
  const long = { profile: "orrin-vale-50", focalLength: 80 };
  for (const kind of ["sharpness", "illumination", "lateralColour"])
    expect(said({ kind }, long).join(), kind).toMatch(/80 mm is outside what was measured/);
  expect(said({ kind: "glow" }, long)).toEqual([]);
  expect(said({ kind: "illumination" }, { profile: "orrin-vale-50", stop: 32 }).join()).toMatch(/T32 is outside/);
  expect(said({ kind: "distortion" }, { profile: "orrin-vale-50", stop: 32 }).join()).not.toMatch(/T32/);
  expect(said({ kind: "sharpness" }, {}, { width: 60, height: 40 }).join()).toMatch(/corner is 36\.1 mm/);
});

test("a change of framing is told in percent", () => {
  const filled = said(
    { kind: "distortion", strength: 3, params: { fit: "fill" } },
    { profile: "orrin-vale-25", focalLength: 25 },
  );
  expect(filled.join()).toMatch(/Framing changed by \d+\.\d %\./);
  expect(said({ kind: "distortion", strength: 0.01 }, { profile: "orrin-vale-25", focalLength: 25 })).toEqual([]);
});
