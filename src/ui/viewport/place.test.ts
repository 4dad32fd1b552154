import { expect, test } from "vitest";
import { LARGEST_ZOOM, panned, viewTransformOf, type Shown, MIN_ZOOM, toFrame, toRoom, WHOLE, zoomedAt } from "./place";

const room = { width: 900, height: 500 };
const shown: Shown = { width: 1280, height: 720, stretch: 1, ratio: 1 };

test("fitted, the whole frame is in sight and in the middle, squeezed footage as wide as the scene was", () => {
  const placing = viewTransformOf(WHOLE, room, shown);
  expect(placing.scaleX).toBeCloseTo(500 / 720, 9);
  expect(placing.top).toBeCloseTo(0, 9);
  expect(placing.left).toBeCloseTo((900 - (1280 * 500) / 720) / 2, 9);
  const squeezed = viewTransformOf(WHOLE, room, { ...shown, stretch: 2 });
  expect(squeezed.scaleX).toBeCloseTo(900 / 1280, 9);
  expect(squeezed.scaleY).toBeCloseTo(450 / 1280, 9);
});

test("places lead to the screen and back", () => {
  const placing = viewTransformOf({ zoom: 3, middle: { x: 0.2, y: 0.9 } }, room, { ...shown, stretch: 1.5, ratio: 2 });
  const back = toFrame(placing, toRoom(placing, { x: 123.25, y: 456.5 }));
  expect(back.x).toBeCloseTo(123.25, 9);
  expect(back.y).toBeCloseTo(456.5, 9);
});

test("1:1 is one pixel of the frame to one of the screen", () => {
  expect(viewTransformOf({ ...WHOLE, zoom: 1 }, room, { ...shown, ratio: 2 }).scaleX).toBe(0.5);
});

test("zooming keeps the place under the cursor, within the limits", () => {
  const cursor = { x: 500, y: 220 };
  const before = toFrame(viewTransformOf(WHOLE, room, shown), cursor);
  const closer = zoomedAt(WHOLE, 4, cursor, room, shown);
  const after = toFrame(viewTransformOf(closer, room, shown), cursor);
  expect(after.x).toBeCloseTo(before.x, 6);
  expect(after.y).toBeCloseTo(before.y, 6);
  expect(zoomedAt(closer, 1e6, cursor, room, shown).zoom).toBe(LARGEST_ZOOM);
  expect(zoomedAt(closer, 1e-6, cursor, room, shown).zoom).toBe(MIN_ZOOM);
});

test("panning moves the frame with the hand, and never out of sight", () => {
  const near = { zoom: 2, middle: { x: 0.5, y: 0.5 } };
  const moved = viewTransformOf(panned(near, { x: -60, y: 25 }, room, shown), room, shown);
  const still = viewTransformOf(near, room, shown);
  expect(moved.left - still.left).toBeCloseTo(-60, 6);
  expect(moved.top - still.top).toBeCloseTo(25, 6);
  expect(panned(near, { x: 1e6, y: 0 }, room, shown).middle.x).toBe(0);
});
