import { createHash } from "node:crypto";
import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { looking, shaking } from "../../testing/showing";
import { trackAcross } from "../../testing/track";
import { ELEMENTS } from "../elements/registry";
import { PlanBuilder } from "../engine/plan";
import type { FrameContext } from "../frame/context";
import type { TakenLens } from "../frame/taken";
import { lookAt } from "../look/at-frame";
import { UNDISTORTED } from "../profile/distortion";
import { cabinetOf } from "../profile/profiles";
import { fuse } from "./fuse";
import { addOutside, addPart } from "./parts";

const cabinet = cabinetOf(demoProfiles());
const size = { width: 96, height: 54, frame: 5, hasDepth: true, frameRate: 24, shot: { first: 2, last: 30 } };
const otherLens = demoProfiles().find(({ id }) => id === "merrow-85");

const OTHER_TAKEN: TakenLens = {
  focalLength: 40,
  distortion: { ...UNDISTORTED, x20: -0.3, y02: -0.3 },
  red: (height) => height * 1e-4,
  blue: (height) => height * -1e-4,
};

/** Each field of a frame's context, changed. */
const CHANGES: Record<string, (context: FrameContext) => Partial<FrameContext>> = {
  geometry: ({ geometry }) => ({ geometry: { ...geometry, pitchX: geometry.pitchX * 1.1, axisX: geometry.axisX + 3 } }),
  frame: ({ frame }) => ({ frame: frame + 3 }),
  lens: () => ({ lens: otherLens as FrameContext["lens"] }),
  focalLength: ({ focalLength }) => ({ focalLength: focalLength * 1.3 }),
  stop: ({ stop }) => ({ stop: stop * 2 }),
  focusDistance: ({ focusDistance }) => ({ focusDistance: focusDistance + 2 }),
  taken: () => ({ taken: OTHER_TAKEN }),
  hasDepth: () => ({ hasDepth: false }),
  depthPlate: () => ({ depthPlate: { footage: "distances", reads: "distance", near: 0, far: 10 } }),
  frameRate: () => ({ frameRate: 30 }),
  shot: () => ({ shot: { first: 4, last: 6 } }),
  tracks: () => ({ tracks: new Map([[shaking.id, { ...trackAcross("other", [1, 2, 3]), id: shaking.id }]]) }),
  pathBefore: () => ({ pathBefore: () => ({ look: { name: "before" }, glass: "other" }) }),
};

/** A plan and its key, of one element or of what lies outside an area. */
type Planned = (context: FrameContext) => { plan: string; key: string };

const digest = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");
const written = (builder: PlanBuilder) => {
  const { steps, buffers, tables, constants, extras } = builder.finish();
  const bare = steps.map(({ operations, output }) => ({ operations, output }));
  const made = constants.map(({ operation }) => operation);
  const plan = JSON.stringify([bare, buffers, tables.map(digest), made, extras.map(({ request }) => request)]);
  return { plan, key: steps.at(-1)?.cacheKey ?? "" };
};

const ofElement =
  (kind: string, more = {}): Planned =>
  (context) => {
    const { elements } = lookAt(looking(kind, more), cabinet, size);
    const builder = new PlanBuilder(size.width, size.height, "source");
    const state = elements.filter(({ isActive }) => isActive);
    fuse(state, context).reduce((image, part) => addPart(builder, image, part, context), 0);
    return written(builder);
  };

const DEPTH_AREA = { areas: [{ kind: "depth" as const, near: 5, far: 10, soft: 0.05 }] };
const outside: Planned = (context) => {
  const { elements } = lookAt(looking("trim", { where: DEPTH_AREA }), cabinet, size);
  const builder = new PlanBuilder(size.width, size.height, "source");
  addOutside(builder, 0, elements[0]!.where!, context);
  return written(builder);
};

const CASES: [string, Planned, string][] = [
  ...ELEMENTS.map(({ kind }): [string, Planned, string] => [kind, ofElement(kind), kind]),
  ["defocus by depth", ofElement("defocus", { params: { by: "depth" } }), "defocus"],
  ["trim within a depth", ofElement("trim", { where: DEPTH_AREA }), "trim"],
  ["what lies outside an area", outside, "trim"],
];

test.each(CASES)("%s: whatever of the frame makes another plan makes another key", (_, planned, kind) => {
  const { context: plain } = lookAt(looking(kind), cabinet, size);
  const depthPlate = { footage: "metres", reads: "distance", near: 0, far: 20 } as const;
  for (const context of [plain, { ...plain, depthPlate }]) {
    const before = planned(context);
    for (const [field, change] of Object.entries(CHANGES)) {
      const after = planned({ ...context, ...change(context) });
      if (after.plan !== before.plan) expect(after.key, field).not.toBe(before.key);
    }
    expect(planned(context)).toEqual(before);
  }
});

test("every field of a frame's context is changed above", () => {
  const { context } = lookAt(looking("trim"), cabinet, size);
  expect([...Object.keys(CHANGES), "cabinet"].sort()).toEqual(Object.keys(context).sort());
});
