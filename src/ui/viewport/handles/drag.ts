import { type PointerEvent, useRef } from "react";
import { type ViewTransform, type Spot, toFrame, toRoom } from "../place";

/** Where the pointer is in the drawing over the picture, CSS px. */
function inDrawing(event: PointerEvent<SVGElement>): Spot {
  const box = (event.currentTarget.ownerSVGElement ?? event.currentTarget).getBoundingClientRect();
  return { x: event.clientX - box.left, y: event.clientY - box.top };
}

/**
 * Pointer handlers of a part that is dragged over the picture: told where in the frame (px) it is dragged to. `from`:
 * where it lies, so that it does not jump to the middle of the hand; without it the place under the hand is told.
 */
export function useDrag(placing: ViewTransform, onDrag: (at: Spot) => void, from?: Spot, onPress?: () => void) {
  const apart = useRef<Spot | null>(null);
  return {
    onPointerDown: (event: PointerEvent<SVGElement>) => {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      const hand = inDrawing(event);
      const lies = from ? toRoom(placing, from) : hand;
      apart.current = { x: lies.x - hand.x, y: lies.y - hand.y };
      onPress?.();
    },
    onPointerMove: (event: PointerEvent<SVGElement>) => {
      if (!apart.current) return;
      event.stopPropagation();
      const hand = inDrawing(event);
      onDrag(toFrame(placing, { x: hand.x + apart.current.x, y: hand.y + apart.current.y }));
    },
    onPointerUp: () => {
      apart.current = null;
    },
    onDoubleClick: (event: { stopPropagation(): void }) => event.stopPropagation(),
  };
}
