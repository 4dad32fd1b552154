import type { ScopeArea } from "@/core/compile/outputs/scopes";
import type { Extent, ViewTransform } from "../viewport/place";
import { toRoom } from "../viewport/place";
import type { Tool } from "../viewport/viewport";

/** A part smaller than this share of the frame is a slip of the hand. */
const SMALLEST = 0.005;
const share = (value: number) => Math.min(1, Math.max(0, value));

/** Draws the part of the frame that scopes count, from one corner to the other. */
export const partTool = ({ width, height }: Extent, onPart: (part: ScopeArea) => void): Tool => ({
  press: (from) => ({
    move: (to) => {
      const [x0, x1] = [share(from.x / width), share(to.x / width)].sort((a, b) => a - b) as [number, number];
      const [y0, y1] = [share(from.y / height), share(to.y / height)].sort((a, b) => a - b) as [number, number];
      if (x1 - x0 > SMALLEST && y1 - y0 > SMALLEST) onPart({ x: x0, y: y0, width: x1 - x0, height: y1 - y0 });
    },
  }),
});

/** The part that is counted, on the picture. */
export function PartFrame({ part, frame, placing }: { part: ScopeArea; frame: Extent; placing: ViewTransform }) {
  const from = toRoom(placing, { x: part.x * frame.width, y: part.y * frame.height });
  const to = toRoom(placing, { x: (part.x + part.width) * frame.width, y: (part.y + part.height) * frame.height });
  return (
    <div
      aria-hidden
      className="pointer-events-none absolute border border-dashed border-halo"
      style={{ left: from.x, top: from.y, width: to.x - from.x, height: to.y - from.y }}
    />
  );
}
