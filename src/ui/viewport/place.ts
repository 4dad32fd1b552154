/**
 * Where a frame lies in the room it is shown in, and how a place on the screen and a place in the frame lead to one
 * another.
 */

export interface Extent {
  width: number;
  height: number;
}
/** A place in the frame, px of its full size from its upper left corner; or in the room, CSS px. */
export interface Spot {
  x: number;
  y: number;
}

/** Screen pixels to a pixel of the frame, or as large as the room allows. */
export type Zoom = "fit" | number;
/** From where lines beyond the frame are seen, to where single pixels are. */
export const MIN_ZOOM = 0.1;
export const LARGEST_ZOOM = 16;

/** What is looked at: how large, and which place of the frame (shares of its size) stands in the middle of the room. */
export interface Looking {
  zoom: Zoom;
  middle: Spot;
}
export const WHOLE: Looking = { zoom: "fit", middle: { x: 0.5, y: 0.5 } };

/** A frame as it is shown: its size, px, and more. */
export interface Shown extends Extent {
  /** Widening of squeezed frames: they are shown as the scene was. */
  stretch: number;
  /** Screen pixels a CSS pixel. */
  ratio: number;
}

/** The frame's upper left corner in the room, and CSS px a pixel of the frame. */
export interface ViewTransform {
  left: number;
  top: number;
  scaleX: number;
  scaleY: number;
}

/** CSS px a pixel of the frame, downwards. */
export function scaleOf(zoom: Zoom, room: Extent, { width, height, stretch, ratio }: Shown): number {
  if (zoom !== "fit") return zoom / ratio;
  return Math.min(room.width / (width * stretch), room.height / height) || 1;
}

export function viewTransformOf({ zoom, middle }: Looking, room: Extent, shown: Shown): ViewTransform {
  const scaleY = scaleOf(zoom, room, shown);
  const scaleX = scaleY * shown.stretch;
  const at = zoom === "fit" ? WHOLE.middle : middle;
  return {
    left: room.width / 2 - at.x * shown.width * scaleX,
    top: room.height / 2 - at.y * shown.height * scaleY,
    scaleX,
    scaleY,
  };
}

export const toRoom = ({ left, top, scaleX, scaleY }: ViewTransform, { x, y }: Spot): Spot => ({
  x: left + x * scaleX,
  y: top + y * scaleY,
});

export const toFrame = ({ left, top, scaleX, scaleY }: ViewTransform, { x, y }: Spot): Spot => ({
  x: (x - left) / scaleX,
  y: (y - top) / scaleY,
});

/** Rows are wanted in so many together, px: a hand that pans a little wants no others. */
const ROWS_TOGETHER = 64;
/** A view that shows so much of the frame's height wants all of it. */
const MAX_OF_IT = 0.8;

/** The rows of a frame that are in sight, the first and the one after the last; null where they are about all. */
export function rowsInSight(
  { top, scaleY }: ViewTransform,
  room: Extent,
  { height }: Extent,
): readonly [number, number] | null {
  const down = (value: number) => Math.floor(value / ROWS_TOGETHER) * ROWS_TOGETHER;
  const first = Math.max(0, down(-top / scaleY - 1));
  const end = Math.min(height, down((room.height - top) / scaleY + 1) + ROWS_TOGETHER);
  return end - first >= MAX_OF_IT * height || end <= first ? null : [first, end];
}

const share = (value: number) => Math.min(1, Math.max(0, value));
/** What stands in the middle of the room by a placing, as shares of the frame; some of the frame is always in sight. */
const middleOf = (placing: ViewTransform, room: Extent, { width, height }: Extent): Spot => {
  const { x, y } = toFrame(placing, { x: room.width / 2, y: room.height / 2 });
  return { x: share(x / width), y: share(y / height) };
};

/** Larger or smaller by a factor, with the place under the cursor where it is. */
export function zoomedAt(looking: Looking, factor: number, cursor: Spot, room: Extent, shown: Shown): Looking {
  const before = viewTransformOf(looking, room, shown);
  const zoom = Math.min(LARGEST_ZOOM, Math.max(MIN_ZOOM, before.scaleY * shown.ratio * factor));
  const under = toFrame(before, cursor);
  const scaleY = zoom / shown.ratio;
  const scaleX = scaleY * shown.stretch;
  const placing = { left: cursor.x - under.x * scaleX, top: cursor.y - under.y * scaleY, scaleX, scaleY };
  return { zoom, middle: middleOf(placing, room, shown) };
}

/** Moved along with the hand, CSS px. */
export function panned(looking: Looking, by: Spot, room: Extent, shown: Shown): Looking {
  const placing = viewTransformOf(looking, room, shown);
  const moved = { ...placing, left: placing.left + by.x, top: placing.top + by.y };
  return { ...looking, middle: middleOf(moved, room, shown) };
}
