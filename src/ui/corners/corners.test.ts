import { expect, test } from "vitest";
import { viewTransformOf, toFrame } from "../viewport/place";
import { CLOSED_CORNERS } from "../view/corners";
import { dragged, lookingOf, PANES } from "./corners";

const frame = { width: 1280, height: 720, stretch: 1, ratio: 1 };
const room = { width: 300, height: 280 };
const paneAt = (x: number, y: number) => PANES.find((pane) => pane.x === x && pane.y === y)!;
/** The place of the frame that stands in a corner of a pane, by the sides it lies on. */
const seenIn = (corners: typeof CLOSED_CORNERS, x: -1 | 1, y: -1 | 1) =>
  toFrame(viewTransformOf(lookingOf(paneAt(x, y), corners, room, frame), room, frame), {
    x: x < 0 ? 0 : room.width,
    y: y < 0 ? 0 : room.height,
  });

test("each corner of the frame stands in its pane's own corner, at every size", () => {
  for (const zoom of [1, 2, 4])
    for (const x of [-1, 1] as const)
      for (const y of [-1, 1] as const) {
        const { x: left, y: top } = seenIn({ ...CLOSED_CORNERS, zoom }, x, y);
        expect(left).toBeCloseTo(x < 0 ? 0 : 1280, 6);
        expect(top).toBeCloseTo(y < 0 ? 0 : 720, 6);
      }
});

test("dragging one moves all symmetrically about the centre", () => {
  const corners = { ...CLOSED_CORNERS, zoom: 2 };
  const moved = dragged(paneAt(-1, -1), corners, { x: -40, y: -20 }, room, frame);
  expect(seenIn(moved, -1, -1)).toEqual({ x: 20, y: 10 });
  expect(seenIn(moved, 1, 1)).toEqual({ x: 1260, y: 710 });
  expect(seenIn(moved, 1, -1)).toEqual({ x: 1260, y: 10 });
  expect(lookingOf(paneAt(0, 0), moved, room, frame).middle).toEqual({ x: 0.5, y: 0.5 });
  // The hand at the other corner takes it the other way.
  expect(dragged(paneAt(1, 1), moved, { x: -40, y: -20 }, room, frame).shift).toEqual({ x: 0, y: 0 });
});

test("they go no further than to the centre, and half a pane beyond the edges", () => {
  const far = dragged(paneAt(-1, -1), CLOSED_CORNERS, { x: -9000, y: 9000 }, room, frame);
  expect(lookingOf(paneAt(-1, -1), far, room, frame).middle.x).toBeCloseTo(0.5, 6);
  expect(seenIn(far, -1, -1).y).toBeCloseTo(-140, 6);
});
