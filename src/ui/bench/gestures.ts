import { useEffect } from "react";

/**
 * What a hand does in one go: from pressing to letting go, or a run of keys in one field. Changes within it are one step to
 * undo; a change outside any is a step by itself.
 */
export type Gesture = { readonly of: EventTarget | null };

let open: Gesture | null = null;

/** The gesture under way; null between gestures. */
export const currentGesture = (): Gesture | null => open;

/** Keys that end what is being typed, or that lead out of a field. */
const ENDING = ["Enter", "Escape", "Tab"];
const isField = (target: EventTarget | null) => target instanceof Element && target.matches("input, textarea, select");
const isNudge = (key: string) => key.startsWith("Arrow");

/** Hears where gestures begin and end, as long as the Bench is open. */
export function useGestures(): void {
  useEffect(() => {
    const press = ({ target }: Event) => {
      open = { of: target };
    };
    // What a control says as it is let go of still belongs to it.
    const release = () => {
      const ending = open;
      setTimeout(() => {
        if (open === ending) open = null;
      });
    };
    const key = ({ key, target }: KeyboardEvent) => {
      if (ENDING.includes(key) || !(isField(target) || isNudge(key))) open = null;
      else if (open?.of !== target) open = { of: target };
    };
    const leave = ({ target }: Event) => {
      if (open?.of === target) open = null;
    };
    const capture = { capture: true };
    window.addEventListener("pointerdown", press, capture);
    window.addEventListener("pointerup", release, capture);
    window.addEventListener("pointercancel", release, capture);
    window.addEventListener("keydown", key, capture);
    window.addEventListener("focusout", leave, capture);
    return () => {
      window.removeEventListener("pointerdown", press, capture);
      window.removeEventListener("pointerup", release, capture);
      window.removeEventListener("pointercancel", release, capture);
      window.removeEventListener("keydown", key, capture);
      window.removeEventListener("focusout", leave, capture);
    };
  }, []);
}
