import { describe, expect, test } from "vitest";
import { trackAcross } from "../../testing/track";
import { lookOf, type Setup } from "../../testing/laboratory";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookAt } from "../look/at-frame";
import { cabinetOf } from "../profile/profiles";
import type { Track } from "../track/track";
import { compile } from "./compile";
import { fuse } from "./fuse";

const cabinet = cabinetOf(demoProfiles());
const size = { width: 320, height: 180, frame: 1 };
const track = trackAcross("t", [1]);
const parts = (elements: Setup[], tracks: Track[] = []) => {
  const at = lookAt({ ...lookOf(elements), tracks }, cabinet, size);
  return fuse(
    at.elements.filter(({ isActive }) => isActive),
    at.context,
  );
};
const kinds = (elements: Setup[], tracks?: Track[]) => parts(elements, tracks).map(({ kind }) => kind);
const trim = { kind: "trim", params: { exposure: 1 } };
const area = { areas: [{ kind: "shape" }] };

describe("what is done in one", () => {
  test("pixel-local neighbours are one program, however many", () => {
    expect(kinds([trim, { kind: "tone" }, { kind: "curves" }, { kind: "transmission" }])).toEqual(["point"]);
  });
  test("distortion and lateral colour are one resampling, in either order", () => {
    const [bend, fringe] = [{ kind: "distortion" }, { kind: "lateralColour" }];
    expect(kinds([bend, fringe])).toEqual(["geometry"]);
    expect(kinds([fringe, bend])).toEqual(["geometry"]);
  });
  test("a picture that is held still goes with all of the lens behind it, or before it; not with what is on both sides", () => {
    const [hold, bend, fringe] = [
      { kind: "steady", params: { track: "t" } },
      { kind: "distortion" },
      { kind: "lateralColour" },
    ];
    expect(kinds([hold, bend, fringe], [track])).toEqual(["geometry"]);
    expect(kinds([bend, fringe, hold], [track])).toEqual(["geometry"]);
    expect(kinds([bend, hold, fringe], [track])).toEqual(["geometry", "geometry"]);
  });
  test("two of a kind ask for the same, and are two resamplings; one that is mixed in part is by itself", () => {
    const bend = { kind: "distortion" };
    expect(kinds([bend, bend])).toEqual(["geometry", "geometry"]);
    expect(kinds([bend, { kind: "lateralColour", mix: 0.5 }])).toEqual(["geometry", "geometry"]);
  });
  test("what stands between keeps them apart: order is never changed for speed", () => {
    expect(kinds([trim, { kind: "diffusion" }, { kind: "tone" }])).toEqual(["point", "buffers", "point"]);
    expect(kinds([{ kind: "distortion" }, trim, { kind: "lateralColour" }])).toEqual(["geometry", "point", "geometry"]);
  });
  test("an element within an area is by itself, and what does nothing is not there", () => {
    expect(kinds([trim, { ...trim, where: area }, trim])).toEqual(["point", "within", "point"]);
    expect(kinds([trim, { kind: "glow", strength: 0 }, { kind: "tone", on: false }, trim])).toEqual(["point"]);
  });
});

describe("a plan", () => {
  const planned = (elements: Setup[], isKept?: (key: string) => boolean) =>
    compile(lookOf(elements), cabinet, { ...size, sourceKey: "frame" }, { kind: "light" }, isKept);
  const keysOf = (elements: Setup[]) => planned(elements).steps.map(({ cacheKey }) => cacheKey);
  test("names each result by all that it follows from: what comes after has no part in it", () => {
    const [one, other] = [
      keysOf([{ kind: "diffusion" }, { kind: "veil" }]),
      keysOf([{ kind: "diffusion" }, { kind: "glow" }]),
    ];
    expect(one[0]).toBe(other[0]);
    expect(one.at(-1)).not.toBe(other.at(-1));
    expect(keysOf([{ kind: "diffusion", strength: 0.5 }, { kind: "veil" }])[0]).not.toBe(one[0]);
  });
  test("begins where what is kept ends", () => {
    const elements = [{ kind: "diffusion" }, { kind: "veil" }, { kind: "grain" }];
    const [first] = keysOf(elements);
    const short = planned(elements, (key) => key === first);
    expect(short.steps.length).toBe(keysOf(elements).length - 1);
    expect(short.steps.map(({ cacheKey }) => cacheKey)).not.toContain(first);
  });
  test("of the same look, glass and frame is the same, to the byte", () => {
    const elements = [{ kind: "glow" }, { kind: "distortion" }, { kind: "grain" }];
    expect(JSON.stringify(planned(elements))).toBe(JSON.stringify(planned(elements)));
  });
});
