import type { Output } from "@/core/compile/outputs/outputs";
import { elementsOf, whereOf } from "@/core/look/edit";
import { contribution } from "@/core/look/excerpt";
import { isKeyed, type Look, type LookElement } from "@/core/look/look";

/** What the picture shows of the look. */
export type Inspect =
  | { kind: "picture" }
  /** Which light the selected element's key takes. */
  | { kind: "matte" }
  /**
   * The selected element's area, or the whole path's: as a matte, or over the picture; one of its parts alone by its
   * id.
   */
  | { kind: "area"; over: boolean; only: string | null }
  /** What the selected element added and took away, so many times, about mid-grey. */
  | { kind: "contribution"; times: number }
  /** Which pixels the path has newly brought to an end of the display's scale. */
  | { kind: "ends" };

export const PICTURE: Inspect = { kind: "picture" };
export const TIMES = [1, 4, 16, 64] as const;

export const isSame = (a: Inspect, b: Inspect): boolean => JSON.stringify(a) === JSON.stringify(b);

const selectedOf = (look: Look, selected: string | null): LookElement | undefined =>
  elementsOf(look).find(({ id }) => id === selected);

/** Whether there is something to see of it, as the look and the selection stand. */
export function isThere(inspect: Inspect, look: Look, selected: string | null): boolean {
  const element = selectedOf(look, selected);
  switch (inspect.kind) {
    case "picture":
    case "ends":
      return true;
    case "matte":
      return element !== undefined && isKeyed(element);
    case "area":
      return whereOf(look, element?.id ?? null) !== undefined;
    case "contribution":
      return element !== undefined;
  }
}

/** The look and the output that show it; the picture where there is nothing of it to see. */
export function showing(
  inspect: Inspect,
  look: Look,
  selected: string | null,
  marked: readonly string[] = [],
): { look: Look; output: Output; ends?: boolean } {
  const element = selectedOf(look, selected);
  if (!isThere(inspect, look, selected)) return { look, output: { kind: "display" } };
  switch (inspect.kind) {
    case "picture":
      return { look, output: { kind: "display" } };
    case "ends":
      return { look, output: { kind: "display" }, ends: true };
    case "matte":
      return { look, output: { kind: "matte", element: element!.id } };
    case "area": {
      const { over, only } = inspect;
      return { look, output: { kind: "area", element: element?.id ?? null, over, only } };
    }
    case "contribution": {
      const { look: with_, reference } = contribution(look, [element!.id, ...marked]);
      return { look: with_, output: { kind: "difference", reference, times: inspect.times } };
    }
  }
}

/** What stands over the picture, to say what is seen; null for the picture itself. */
export function captionOf(inspect: Inspect, together = 1): string | null {
  switch (inspect.kind) {
    case "picture":
      return null;
    case "matte":
      return "Matte of the highlight key: white is taken";
    case "area":
      return inspect.over ? "The area the element acts on, tinted" : "The area the element acts on: white is full";
    case "ends":
      return "Newly clipped in amber, newly crushed in blue, against the footage through the same view";
    case "contribution":
      return `What ${together > 1 ? `these ${together} elements` : "the element"} added and took away${inspect.times > 1 ? `, ${inspect.times} times` : ""}, on mid-grey`;
  }
}
