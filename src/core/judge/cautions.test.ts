import { NOTHING_CLEANED } from "../image/clean";
import { expect, test } from "vitest";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { cabinetOf } from "../profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf, type Setup } from "../../testing/laboratory";
import { allCautions, cautionsOf } from "./cautions";

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

const judgedOf = (more: object) => ({
  clipping: { clipped: 0, crushed: 0 },
  cleaned: NOTHING_CLEANED,
  banded: [0, 0],
  overscan: null,
  edges: [],
  ...more,
});
const all = (
  setups: Setup[],
  judged: object = {},
  camera: Partial<Look["camera"]> = {},
  lens: Partial<Look["lens"]> = {},
) => {
  const plain = lookOf(setups, lens);
  const look = { ...plain, camera: { ...plain.camera, ...camera } };
  return allCautions(look, lookAt(look, cabinet, { width: 1920, height: 1080, frame: 1 }), judgedOf(judged));
};

test("a vignette's edge is spoken of while it is seen: not when it is drawn out, taken back, or lies beyond the frame", () => {
  const edge = (params: Record<string, unknown>, strength = 1) => said({ kind: "vignette", strength, params }).join();
  expect(edge({ inner: 60, outer: 80, exposure: -1.5 })).toMatch(/edge is visible/);
  expect(edge({ inner: 60, outer: 300, exposure: -1.5 })).toBe("");
  expect(edge({ inner: 60, outer: 80, exposure: -1.5 }, 0.02)).toBe("");
  expect(edge({ inner: 260, outer: 270, exposure: -1.5, aspect: 2 })).toBe("");
  expect(edge({})).toBe("");
});

test("contrast that is set beyond what the frame holds is said to do nothing in it", () => {
  const of = (params: Record<string, unknown>) => said({ kind: "sharpness", params }).join();
  // 24.9 mm across 1920 px: up to 38.6 lp/mm.
  expect(of({ contrast90: 60, contrast60: 80 })).toMatch(/up to 39 lp\/mm: what is set at 60 and 90 does nothing/);
  expect(of({ contrast30: 60 })).toBe("");
});

test("what the picture shows is said with its figures, and leads to the pixels or to the control", () => {
  const found = all([{ kind: "grain" }], { clipping: { clipped: 0.006, crushed: 0.02 }, banded: [0.04, 0] });
  expect(found.slice(0, 2)).toMatchObject([
    { text: "0.60 % of the picture is newly clipped.", ends: true },
    { text: "2.0 % of the picture is newly crushed.", ends: true },
  ]);
  expect(found[2]).toMatchObject({ element: "e0" });
  expect(found[2]!.text).toMatch(/at 8 bits in 4.0 % of the picture; not at 10/);
  expect(all([{ kind: "grain" }], { clipping: { clipped: 0.0001, crushed: 0 } })).toEqual([]);
  const [beyond] = all([{ kind: "grain" }], { overscan: { needed: 38, share: 38 / 1920, isMore: false, held: 16 } });
  expect(beyond!.text).toBe(
    "Up to 38 px beyond the frame (2.0 % of its width) come into the picture; its file holds 16 px: what is missing is made up.",
  );
  const [holes] = all([{ kind: "grain" }], { cleaned: { notNumbers: 1, infinite: 2 } });
  expect(holes!.text).toBe(
    "In this frame’s file 2 infinite samples are taken as 65504, 1 sample that is no number is taken as 0.",
  );
});

test("an order light could not take, an area's edge and a lens of another squeeze are said, each of its own", () => {
  const late = all([{ kind: "grain" }, { kind: "glow" }]);
  expect(late).toEqual([{ element: "e1", text: "Glow: light meets it after a later station; real light cannot." }]);
  const edged = all([{ kind: "trim" }], { edges: [{ element: "e0", visibility: 2.34 }] });
  expect(edged).toMatchObject([
    { element: "e0", text: "Trim: the edge of its area is visible, 2.3 times the threshold." },
  ]);
  const lens = { profile: "hask-scope-40", focalLength: 40, stop: 2.8 };
  expect(
    all([], {}, { squeeze: 1 }, lens)
      .map(({ text }) => text)
      .join(),
  ).toMatch(/The lens squeezes 2 ×, the shot not at all/);
  expect(all([], {}, { squeeze: 2 }, lens)).toEqual([]);
});

const toldOf = (look: Look, glass = cabinet) => {
  const at = lookAt(look, glass, { width: 1920, height: 1080, frame: 1 });
  return allCautions(look, at, null).map(({ text }) => text);
};

test("glass that is worn at an earlier revision says that there is a newer one", () => {
  const own = { ...demoProfiles().find(({ id }) => id === "plainglass-50")!, id: "own-50", name: "Own 50" };
  const earlier = { ...own, id: "own-50@1", name: "Own 50, revision 1" };
  const here = cabinetOf([...demoProfiles(), own, earlier]);
  expect(toldOf(lookOf([], { profile: "own-50" }), here)).toEqual([]);
  expect(toldOf(lookOf([], { profile: "own-50@1" }), here)).toContain(
    "Own 50, revision 1 is worn as it was kept; Own 50 has a newer one: choose it to wear that.",
  );
});

test("a taking lens says what cannot come back, and that it is gone", () => {
  const off = (change: object): Look => {
    const look = lookOf([]);
    const taking = {
      ...{ profile: "orrin-vale-25", focalLength: 25, stop: 1.4, maxGain: 3 },
      ...{ transmission: 1, illumination: 1, distortion: 1, lateralColour: 1, contrast: 1 },
      ...change,
    };
    return { ...look, camera: { ...look.camera, taking } };
  };
  const taken = (change: object) => toldOf(off(change)).filter((text) => text.startsWith("Taking lens:"));
  expect(taken({ maxGain: 1.2 })).toEqual([
    expect.stringMatching(/corners are raised by 1\.\d stops/),
    expect.stringMatching(/raised 1\.2 × at most/),
  ]);
  expect(taken({ illumination: 0, contrast: 0 })).toEqual([]);
  expect(taken({ profile: "gone" })).toEqual([expect.stringContaining("There is no lens “gone” any more")]);
});
