import type { Extent, Spot } from "../viewport/place";
import type { WipeLine } from "../view/compare";

/** A wipe's line as it lies on a picture that is shown at some size: all in CSS px from the picture's corner. */

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** The direction across the line, from the side that shows the reference to the other. */
export const acrossLine = ({ angle }: WipeLine): Spot => ({ x: Math.cos(radians(angle)), y: Math.sin(radians(angle)) });

/** How far a place lies on the far side of the line; below 0 on the reference's side. */
export function beyondLine(line: WipeLine, { width, height }: Extent, { x, y }: Spot): number {
  const across = acrossLine(line);
  return (x - line.x * width) * across.x + (y - line.y * height) * across.y;
}

/**
 * The part of the picture that shows the reference, as corners in shares of its size; none where it shows none of it.
 */
export function referencePart(line: WipeLine, size: Extent): Spot[] {
  const { width, height } = size;
  const corners: Spot[] = [
    { x: 0, y: 0 },
    { x: width, y: 0 },
    { x: width, y: height },
    { x: 0, y: height },
  ];
  const found: Spot[] = [];
  corners.forEach((corner, i) => {
    const next = corners[(i + 1) % corners.length]!;
    const [here, there] = [beyondLine(line, size, corner), beyondLine(line, size, next)];
    if (here <= 0) found.push(corner);
    // The side is cut where it passes from one side of the line to the other.
    if (here * there < 0) {
      const share = here / (here - there);
      found.push({ x: corner.x + share * (next.x - corner.x), y: corner.y + share * (next.y - corner.y) });
    }
  });
  return found.map(({ x, y }) => ({ x: x / width, y: y / height }));
}

const share = (value: number) => Math.min(1, Math.max(0, value));

/** The line moved to go through a place of the picture; it stays within the frame. */
export const movedTo = (line: WipeLine, { width, height }: Extent, { x, y }: Spot): WipeLine => ({
  ...line,
  x: share(x / width),
  y: share(y / height),
});

/** The line moved across itself, by a share of the picture's width. */
export function shifted(line: WipeLine, size: Extent, by: number): WipeLine {
  const across = acrossLine(line);
  const length = by * size.width;
  return movedTo(line, size, {
    x: line.x * size.width + across.x * length,
    y: line.y * size.height + across.y * length,
  });
}

/** The line turned so that the hand, at a place of the picture, holds its upper end. */
export function turnedTo(line: WipeLine, { width, height }: Extent, { x, y }: Spot): WipeLine {
  const angle = (Math.atan2(x - line.x * width, line.y * height - y) * 180) / Math.PI;
  return { ...line, angle };
}
