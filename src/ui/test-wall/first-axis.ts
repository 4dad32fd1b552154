import { definitionOf } from "@/core/elements/registry";
import { elementsOf } from "@/core/look/edit";
import { filterOf } from "@/core/look/glass";
import { offered } from "@/core/profile/profiles";
import type { Axis, AxisKind } from "@/core/wall/axis";
import type { Choices } from "./choices";

/** Tiles along a side at first. */
const FIRST_STEPS = 5;
const STOPS = [1.4, 2, 2.8, 4, 5.6];
const FOCAL_LENGTHS = [25, 35, 50, 85];
const STRENGTHS = [0, 0.25, 0.5, 0.75, 1];

/** Values of a number to begin with: from its least to its most, or, of a strength, from nothing to twice. */
function numbersOf(min: number, max: number): number[] {
  return Array.from({ length: FIRST_STEPS }, (_, i) =>
    Number((min + ((max - min) * i) / (FIRST_STEPS - 1)).toPrecision(3)),
  );
}

/** The values of an element's parameter that a side begins with; null where it has none that are listed. */
function valuesOf(kind: string, parameter: string): (number | string | boolean)[] | null {
  if (parameter === "strength") return [0, 0.5, 1, 1.5, 2];
  if (parameter === "mix") return STRENGTHS;
  const own = definitionOf(kind).parameters[parameter];
  switch (own?.type) {
    case "number":
      return numbersOf(own.min, own.max);
    case "choice":
      return Object.keys(own.options).slice(0, FIRST_STEPS);
    case "toggle":
      return [false, true];
    default:
      return null;
  }
}

/** A side of a kind as it begins; null where there is nothing to put along it. */
export function firstAxis(
  kind: AxisKind,
  { look, cabinet, looks, versions }: Choices,
  of?: { element: string; parameter: string },
): Axis | null {
  const some = <T>(values: T[]): T[] | null => (values.length ? values.slice(0, FIRST_STEPS) : null);
  const lens = look.lens.profile === null ? undefined : cabinet.lenses.get(look.lens.profile);
  switch (kind) {
    case "lens": {
      const values = some(offered(cabinet.lenses.values()).map(({ id }) => id));
      return values && { kind, values };
    }
    case "filter": {
      // The filter that is worn, or else the first: all its grades.
      const worn = elementsOf(look).map(filterOf).find(Boolean);
      const filter = (worn && cabinet.filters.get(worn)) || offered(cabinet.filters.values())[0];
      const values = filter && some(filter.grades.map(({ grade }) => ({ profile: filter.id, grade })));
      return values ? { kind, values } : null;
    }
    case "stop":
      return { kind, values: lens?.stops?.slice(0, FIRST_STEPS) ?? STOPS };
    case "focalLength":
      return { kind, values: FOCAL_LENGTHS };
    case "strength":
      return { kind, values: STRENGTHS };
    case "look": {
      const values = some(looks.map(({ id }) => id));
      return values && { kind, values };
    }
    case "version": {
      const values = some(versions.map(({ id }) => String(id)));
      return values && { kind, values };
    }
    case "parameter": {
      const elements = elementsOf(look);
      const element = elements.find(({ id }) => id === of?.element) ?? elements[0];
      const parameter = of?.parameter ?? "strength";
      const values = element && valuesOf(element.kind, parameter);
      return values ? { kind, element: element.id, parameter, values } : null;
    }
  }
}
