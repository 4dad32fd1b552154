import { describe, expect, test } from "vitest";
import { startEngine } from "../../server/engine/engine";
import { flat, hashOf, lookOf, scene, through, total, type Setup } from "../../testing/laboratory";
import { looking } from "../../testing/showing";
import { demoProfiles } from "../../demo/glass/profiles";
import { lensSchema, filterSchema } from "../profile/profiles";
import { lookAt } from "../look/at-frame";
import type { Frame } from "../image/image";
import { cabinetOf } from "../profile/profiles";
import { ELEMENTS } from "./registry";

/** What every element must hold to, whatever it does. */
const shown = scene(192, 108);
const frameAfter = (kind: string, more: Partial<Setup> = {}, on?: ReturnType<typeof startEngine>) =>
  through(looking(kind, more), shown, { frame: 7, on });

/** How much of the frame's light an element moved, added or took: the sum of absolute differences. */
const changeOf = ({ data }: Frame) =>
  data.reduce((sum, value, i) => sum + ((i & 3) === 3 ? 0 : Math.abs(value - shown.data[i]!)), 0);

/** Takes all there is at a strength of 1; above it, it takes it otherwise. */
const WHOLE_AT_ONE = ["monochrome"];

/** Looks at other frames of the shot, which a still has not. */
const NEEDS_A_SHOT = ["channelLag"];

describe.each(ELEMENTS.map(({ kind }) => kind))("%s", (kind) => {
  test("strength 0, mix 0 and off are no change, bit for bit", () => {
    for (const more of [{ strength: 0 }, { mix: 0 }, { on: false }])
      expect(hashOf(frameAfter(kind, more))).toBe(hashOf(shown));
  });
  test.skipIf(NEEDS_A_SHOT.includes(kind))(
    "does more the stronger it is, half, once and twice, stays finite and keeps alpha",
    () => {
      const [half, once, twice] = [0.5, 1, 2].map((strength) => frameAfter(kind, { strength })) as [
        Frame,
        Frame,
        Frame,
      ];
      const stronger = WHOLE_AT_ONE.includes(kind) ? [half, once] : [half, once, twice];
      const changes = [shown, ...stronger].map(changeOf);
      expect(changes).toEqual([...changes].sort((a, b) => a - b));
      expect(new Set(changes).size).toBe(changes.length);
      expect(once.data.every((value, i) => Number.isFinite(value) && ((i & 3) < 3 || value === 1))).toBe(true);
    },
  );
  test("gives the same bytes on one thread and on three, and again", () => {
    const [one, three] = [startEngine(1), startEngine(3)];
    const hashes = [frameAfter(kind, {}, one), frameAfter(kind, {}, three), frameAfter(kind, {}, one)].map(hashOf);
    one.close();
    three.close();
    expect(new Set(hashes).size).toBe(1);
  });
  test("draws a response of numbers, with units, measured and applied", () => {
    const look = looking(kind);
    const size = { width: 1920, height: 1080, frame: 1 };
    const { context, elements } = lookAt(look, cabinetOf(demoProfiles()), size);
    const response = ELEMENTS.find((entry) => entry.kind === kind)!.response(elements[0]!.state, context);
    expect(
      response.traces.some((trace) => trace.kind === "measured") &&
        response.traces.some((trace) => trace.kind === "applied"),
    ).toBe(true);
    for (const { x, y } of response.traces) {
      expect(x.length).toBe(y.length);
      expect([...x, ...y].every(Number.isFinite)).toBe(true);
    }
  });
});

/** Elements that only move light: on an even field they change nothing. */
test.each(["sharpness", "edgeSoftness", "swirl", "sharpen", "distortion", "lateralColour"])(
  "%s leaves an even field even",
  (kind) => {
    const even = flat(640, 360, [0.3, 0.2, 0.1]);
    const out = through(looking(kind), even);
    expect(out.data.reduce((most, value, i) => Math.max(most, Math.abs(value - even.data[i]!)), 0)).toBeLessThan(2e-5);
  },
);

test("veil adds its share of the frame's mean, evenly", () => {
  const out = through(lookOf([{ kind: "veil", params: { fraction: 10, follows: 0 } }]), shown);
  for (const channel of [0, 1, 2]) {
    const mean = total(shown, channel) / (192 * 108);
    expect(total(out, channel) / (192 * 108) / mean).toBeCloseTo(1.1, 2);
  }
});

test("every profile of the cabinet is valid, and says where it comes from", () => {
  for (const profile of demoProfiles()) {
    const schema = profile.format === "pale-halo-lens" ? lensSchema : filterSchema;
    expect(schema.safeParse(profile).error?.issues ?? []).toEqual([]);
    expect(JSON.stringify(profile.origin)).toContain("computed");
  }
  expect(demoProfiles().map(({ name }) => name)).toEqual([
    "Orrin Vale 25",
    "Orrin Vale 35",
    "Orrin Vale 50",
    "Orrin Vale 85",
    "Hask Scope 40",
    "Hask Scope 60",
    "Hask Scope 90",
    "Merrow 85",
    "Plainglass 50",
    "Milkglass",
    "Sootglass",
    "Hearth",
    "Lowfog",
    "Silkmesh",
    "Cross",
    "Blueline",
  ]);
});
