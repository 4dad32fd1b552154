import { useEffect } from "react";

/**
 * What a hand does in one go: from pressing to letting go, or a run of keys in one field. Changes within it are one
 * step to undo; a change outside any is a step by itself.
 */
export type Gesture = { readonly of: EventTarget | null };

let open: Gesture | null = null;

/** The gesture under way; null between gestures. */
export const currentGesture = (): Gesture | null => open;

/** Keys that end what is being typed, or that lead out of a field. */
const ENDING = ["Enter", "Escape", "Tab"];
const FIELDS = ["INPUT", "TEXTAREA", "SELECT"];
const isField = (target: EventTarget | null) => FIELDS.includes((target as Partial<Element> | null)?.tagName ?? "");
const isNudge = (key: string) => key.startsWith("Arrow");

/** Hears where gestures begin and end, until what it gives back is called. */
export function hearGestures(page: Pick<Window, "addEventListener" | "removeEventListener">): () => void {
  /** What is dragged may leave the page under the hand, as it is drawn anew: only letting go ends a drag. */
  let isPressed = false;
  const press = ({ target }: Event) => {
    isPressed = true;
    open = { of: target };
  };
  // What a control says as it is let go of still belongs to it.
  const release = () => {
    isPressed = false;
    const ending = open;
    setTimeout(() => {
      if (open === ending) open = null;
    });
  };
  const key = (event: Event) => {
    const { key, target } = event as KeyboardEvent;
    if (ENDING.includes(key) || !(isField(target) || isNudge(key))) open = null;
    else if (open?.of !== target) open = { of: target };
  };
  const leave = ({ target }: Event) => {
    if (!isPressed && open?.of === target) open = null;
  };
  const heard = { pointerdown: press, pointerup: release, pointercancel: release, keydown: key, focusout: leave };
  for (const [name, hear] of Object.entries(heard)) page.addEventListener(name, hear, { capture: true });
  return () => {
    open = null;
    for (const [name, hear] of Object.entries(heard)) page.removeEventListener(name, hear, { capture: true });
  };
}

/** Hears gestures as long as the Bench is open. */
export function useGestures(): void {
  useEffect(() => hearGestures(window), []);
}
