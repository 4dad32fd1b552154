import type { Spot } from "../viewport/place";

/** The centre and the four corners, looked at together. */
export interface Corners {
  open: boolean;
  /** Screen pixels to a pixel of the frame. */
  zoom: number;
  /** How far all corners have been moved towards the centre, px of the frame; below 0 beyond the edges. */
  shift: Spot;
}

export const CLOSED_CORNERS: Corners = { open: false, zoom: 1, shift: { x: 0, y: 0 } };
