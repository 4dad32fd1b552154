import type { Corners } from "../view/corners";
import type { Extent, Looking, Shown, Spot } from "../viewport/place";
import { scaleOf } from "../viewport/place";

export const CORNER_ZOOMS = [1, 2, 4] as const;

/** A pane, by where it stands: -1 is left, or top; 0 the centre. */
export interface Pane {
  name: string;
  x: -1 | 0 | 1;
  y: -1 | 0 | 1;
}
export const PANES: readonly Pane[] = [
  { name: "Upper left", x: -1, y: -1 },
  { name: "Centre", x: 0, y: 0 },
  { name: "Upper right", x: 1, y: -1 },
  { name: "Lower left", x: -1, y: 1 },
  { name: "Lower right", x: 1, y: 1 },
];

/** Along one direction: the share of the frame that stands in the middle of a pane which spans so many px of it. */
function middleAlong(side: -1 | 0 | 1, size: number, span: number, shift: number): number {
  if (side === 0) return 0.5;
  const fromEdge = Math.min(size / 2, span / 2 + shift);
  return (side < 0 ? fromEdge : size - fromEdge) / size;
}

/** What a pane looks at: its corner stands in the frame's corner, or as far in as all are moved. */
export function lookingOf({ x, y }: Pane, { zoom, shift }: Corners, room: Extent, frame: Shown): Looking {
  const scale = scaleOf(zoom, room, frame);
  return {
    zoom,
    middle: {
      x: middleAlong(x, frame.width, room.width / (scale * frame.stretch), shift.x),
      y: middleAlong(y, frame.height, room.height / scale, shift.y),
    },
  };
}

/** All corners moved by a hand that drags one of them, CSS px: what it holds goes along, and the others mirror it. */
export function dragged({ x, y }: Pane, corners: Corners, by: Spot, room: Extent, frame: Shown): Corners {
  const scale = scaleOf(corners.zoom, room, frame);
  const along = (side: number, now: number, moved: number, size: number, span: number) =>
    side === 0 ? now : Math.min(Math.max(0, (size - span) / 2), Math.max(-span / 2, now + side * moved));
  const { width, height, stretch } = frame;
  const shift = {
    x: along(x, corners.shift.x, by.x / (scale * stretch), width, room.width / (scale * stretch)),
    y: along(y, corners.shift.y, by.y / scale, height, room.height / scale),
  };
  return { ...corners, shift };
}
