"use client";
import { useDrag } from "@use-gesture/react";
import type { RefObject } from "react";

/** A place on the screen, CSS px from the upper left corner of the area that is dragged over. */
export interface Place {
  x: number;
  y: number;
}

/** What a drag does, from the press of a button to its release. */
export interface DragSteps<Part, From> {
  /** Begins on a part; what it returns is handed to what follows. Null: the part is not dragged. */
  press(part: Part, at: Place, event: PressEvent): From | null;
  move(from: From, at: Place, event: PressEvent): void;
  end?(from: From): void;
}

/** What of a pointer's event the steps may ask for. */
export type PressEvent = Pick<PointerEvent, "button" | "shiftKey" | "clientX" | "clientY" | "preventDefault">;

/** Bits of a pointer's `buttons`. */
export const FIRST_BUTTON = 1;
export const MIDDLE_BUTTON = 4;

/**
 * Handlers for the parts of a drawing that are dragged over an area: `bind(part)`. The window hears the pointer until
 * the button is let go, so that a part may be drawn anew meanwhile. Arrow keys are the parts' own.
 */
export function useDragOver<Part, From>(
  area: RefObject<Element | null>,
  { press, move, end }: DragSteps<Part, From>,
  buttons: number | number[] = FIRST_BUTTON,
) {
  return useDrag(
    ({ args, xy, first, last, event, memo }) => {
      const box = area.current!.getBoundingClientRect();
      const at = { x: xy[0] - box.left, y: xy[1] - box.top };
      event.stopPropagation();
      if (first) return press(args[0] as Part, at, event as PressEvent);
      if (memo === null) return null;
      if (last) end?.(memo as From);
      else move(memo as From, at, event as PressEvent);
      return memo as From;
    },
    { pointer: { keys: false, capture: false, buttons } },
  );
}
