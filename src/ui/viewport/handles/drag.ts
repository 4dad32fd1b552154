import { useRef } from "react";
import { useDragOver } from "../../shared/drag";
import { type ViewTransform, type Spot, toFrame, toRoom } from "../place";

/**
 * Handlers of a part that is dragged over the picture: told where in the frame (px) it is dragged to. `from`: where it
 * lies, so that it does not jump to the middle of the hand; without it the place under the hand is told. `onPress`:
 * told where in the frame the hand was put.
 */
export function useDragOnPicture(
  placing: ViewTransform,
  onDrag: (at: Spot) => void,
  from?: Spot,
  onPress?: (at: Spot) => void,
) {
  const part = useRef<SVGElement>(null);
  const drawing = {
    get current() {
      return part.current && (part.current.ownerSVGElement ?? part.current);
    },
  };
  const bind = useDragOver(drawing, {
    press: (_: void, hand) => {
      const lies = from ? toRoom(placing, from) : hand;
      onPress?.(toFrame(placing, hand));
      return { x: lies.x - hand.x, y: lies.y - hand.y };
    },
    move: (apart, hand) => onDrag(toFrame(placing, { x: hand.x + apart.x, y: hand.y + apart.y })),
  });
  return {
    ref: part as never,
    ...bind(),
    onDoubleClick: (event: { stopPropagation(): void }) => event.stopPropagation(),
  };
}
