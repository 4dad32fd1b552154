import { describe, expect, test } from "vitest";
import { trackAcross } from "../../testing/track";
import { lookOf } from "../../testing/laboratory";
import { carried, CARRIED_PARTS, CARRY_WAYS, takenOver } from "./carry";
import { addElement, elementsOf, setAt, withTimed } from "./edit";
import { type Look, lookSchema } from "./look";
import { problems } from "../problems";

const kindsOf = (look: Look) => elementsOf(look).map(({ kind }) => kind);
const from = lookOf(
  [{ kind: "diffusion", strength: 0.5 }, { kind: "sharpness" }, { kind: "grain", strength: 2 }, { kind: "trim" }],
  { profile: "hask-scope-40", focalLength: 40 },
);
const onto: Look = {
  ...lookOf(
    [{ kind: "glow" }, { kind: "halation" }, { kind: "grain" }, { kind: "tone" }],
    { stop: 4 },
    undefined,
    "soft",
  ),
  name: "Own",
};

describe("a look carried to another shot", () => {
  test("all of it in place leaves the shot its camera, its view, its tracks and its lens data", () => {
    const recorded = withTimed(onto, [null, "lens.stop"], { keys: [{ frame: 1, value: 4, ease: "linear" }] });
    const timed = withTimed(from, [null, "lens.focalLength"], { keys: [{ frame: 1, value: 40, ease: "linear" }] });
    const made = carried(
      timed,
      { ...recorded, camera: { sensor: { width: 36, height: 24 }, squeeze: 2 } },
      "all",
      "instead",
    );
    expect(kindsOf(made)).toEqual(kindsOf(from));
    expect(made.lens.profile).toBe("hask-scope-40");
    expect(made.camera).toEqual({ sensor: { width: 36, height: 24 }, squeeze: 2 });
    expect(made.view).toEqual(onto.view);
    expect(Object.keys(made.when!)).toEqual(["lens.stop"]);
  });

  test("glass, film or print replace what stands at their stations, in its place, and nothing else", () => {
    expect(kindsOf(carried(from, onto, "glass", "instead"))).toEqual([
      "diffusion",
      "sharpness",
      "halation",
      "grain",
      "tone",
    ]);
    expect(kindsOf(carried(from, onto, "film", "instead"))).toEqual(["glow", "grain", "tone"]);
    expect(kindsOf(carried(from, onto, "print", "instead"))).toEqual(["glow", "halation", "grain", "trim"]);
    expect(carried(from, onto, "glass", "instead").lens.profile).toBe("hask-scope-40");
    expect(carried(from, onto, "film", "instead").lens).toEqual(onto.lens);
  });

  test("chosen elements stand in for those of their kind; beside, each is one more at its station", () => {
    const instead = carried(from, onto, ["e0", "e2"], "instead");
    expect(kindsOf(instead)).toEqual(["glow", "diffusion", "halation", "grain", "tone"]);
    expect(elementsOf(instead).find(({ kind }) => kind === "grain")!.strength).toBe(2);
    const beside = carried(from, onto, ["e2"], "beside");
    expect(kindsOf(beside)).toEqual(["glow", "halation", "grain", "grain", "tone"]);
  });

  test("two chosen of one kind become two, whatever the shot had", () => {
    const twice = lookOf([
      { kind: "glow", strength: 0.2 },
      { kind: "glow", strength: 0.4 },
    ]);
    const made = carried(twice, onto, ["e0", "e1"], "instead");
    expect(
      elementsOf(made)
        .filter(({ kind }) => kind === "glow")
        .map(({ strength }) => strength),
    ).toEqual([0.2, 0.4]);
  });

  test("what it makes is a look, whatever is carried in whatever way", () => {
    for (const part of [...CARRIED_PARTS, ["e0", "e1", "e2", "e3"]])
      for (const way of CARRY_WAYS) {
        const made = carried(from, onto, part, way);
        expect(problems(lookSchema, JSON.parse(JSON.stringify(made))), `${String(part)} ${way}`).toEqual([]);
      }
  });

  test("what followed a track that the shot does not have stands still there", () => {
    const track = trackAcross("track-1", [0, 1]);
    const added = addElement(from, "steady");
    const steady: Look = { ...setAt(added.look, [added.id, "track"], "track-1", 1), tracks: [track] };
    const made = carried(steady, onto, [added.id], "instead");
    expect(elementsOf(made).find(({ kind }) => kind === "steady")!.params).toMatchObject({ track: "" });
    const known = carried(steady, { ...onto, tracks: steady.tracks }, [added.id], "instead");
    expect(elementsOf(known).find(({ kind }) => kind === "steady")!.params).toMatchObject({ track: "track-1" });
  });
});

test("one element is taken over from another look: changed, put in, or taken out", () => {
  const then = setAt(onto, ["e0", "threshold"], 5, 1);
  expect(takenOver(onto, then, "e0")).toEqual(then);
  const added = addElement(onto, "vignette");
  expect(kindsOf(takenOver(onto, added.look, added.id))).toContain("vignette");
  expect(kindsOf(takenOver(added.look, onto, added.id))).toEqual(kindsOf(onto));
});
