import { expect, test } from "vitest";
import { lookOf } from "../../testing/laboratory";
import { shaking } from "../../testing/showing";
import { cabinetOf } from "../profile/profiles";
import { lookAt } from "./at-frame";
import { addArea, elementNamed, setAll, timedAt, whereOf } from "./edit";
import { lookSchema } from "./look";
import { problems } from "../problems";
import { freeTrackId, withFollowing, withoutTrack, withSteps, withTrack, withTrackOn } from "./tracks";
import { stepsOf } from "../track/follow";
import type { Area } from "../where/schema";

const SIZE = { width: 640, height: 360 };
const ASPECT = 640 / 360;
const base = withTrack(lookOf([{ kind: "trim" }, { kind: "shafts" }]), shaking);
const oval = addArea(base, "e0", { kind: "shape", x: 10, y: 5, width: 30, height: 20 });
const isValid = (look: unknown) => expect(problems(lookSchema, look)).toEqual([]);

/** An area as it is at a frame. */
const areaAt = (look: typeof base, frame: number) =>
  lookAt(look, cabinetOf([]), { ...SIZE, frame }).elements[0]!.where!.areas[0] as Extract<Area, { kind: "shape" }>;

test("an area follows a track: it goes along, turns and grows with it, and stays put where it began to", () => {
  for (const frame of [1, 5, 9]) {
    const following = withFollowing(oval, "e0", "area-1", "track-1", frame, ASPECT);
    isValid(following);
    const here = areaAt(following, frame);
    expect([here.x, here.y, here.width, here.rotation]).toEqual(
      [10, 5, 30, 0].map((value) => expect.closeTo(value, 6)),
    );
    const there = areaAt(following, 3);
    const turn = shaking.rotation[2]! - shaking.rotation[frame - 1]!;
    expect(there.rotation).toBeCloseTo(turn, 6);
    // The vector from what is followed to the area turns with it, in px.
    const from = (f: number, area: typeof here) => [(area.x - shaking.x[f - 1]!) * ASPECT, area.y - shaking.y[f - 1]!];
    const [a, b] = [from(frame, here), from(3, there)];
    expect(Math.hypot(a[0]!, a[1]!)).toBeCloseTo(Math.hypot(b[0]!, b[1]!), 6);
    const apart = Math.atan2(b[1]!, b[0]!) - Math.atan2(a[1]!, a[0]!);
    expect((apart * 180) / Math.PI).toBeCloseTo(turn, 6);
  }
});

test("an area that follows no more stays where it is seen", () => {
  const following = withFollowing(oval, "e0", "area-1", "track-1", 1, ASPECT);
  const seen = areaAt(following, 7);
  const free = withFollowing(following, "e0", "area-1", null, 7, ASPECT);
  expect(areaAt(free, 2)).toMatchObject({ x: expect.closeTo(seen.x, 6), y: expect.closeTo(seen.y, 6) });
});

test("a track that goes leaves nothing that names it", () => {
  const following = withTrackOn(
    setAll(withFollowing(oval, "e0", "area-1", "track-1", 1, ASPECT), [[["e1", "x"], 12]], 1),
    ["e1", "x"],
    "track-1",
  );
  isValid(following);
  expect(timedAt(following, ["e1", "y"])).toEqual({ track: { id: "track-1", what: "y" } });
  const state = (frame: number) => lookAt(following, cabinetOf([]), { ...SIZE, frame }).elements[1]!.state.values;
  expect(state(4).x).toBeCloseTo(12 + shaking.x[3]! - shaking.x[0]!, 6);
  const gone = withoutTrack(following, "track-1");
  isValid(gone);
  expect(JSON.stringify(gone)).not.toContain("track-1");
  expect(whereOf(gone, "e0")!.areas).toHaveLength(1);
  expect(elementNamed(gone, "e1").when).toBeUndefined();
});

test("a corrected stretch takes the place of what was there, and the rest stays", () => {
  const steps = stepsOf(shaking, SIZE).slice(4, 7);
  const moved = steps.map((step) => ({ ...step, pose: { ...step.pose, x: step.pose.x + 10 } }));
  const track = withSteps(shaking, moved, SIZE);
  expect(track.x).toHaveLength(12);
  expect(((track.x[5]! - shaking.x[5]!) / 100) * SIZE.width).toBeCloseTo(10, 2);
  expect(track.x[8]).toBeCloseTo(shaking.x[8]!, 3);
  expect(freeTrackId(withTrack(base, track))).toBe("track-2");
});
