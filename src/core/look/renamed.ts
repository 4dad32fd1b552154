import { definitionOf } from "../elements/registry";
import { withGlassNamed } from "./glass";
import type { Look, LookElement } from "./look";

/** Other names for what a look takes by name; what one gives nothing for keeps its own. */
export interface NewNames {
  /** Of a lens or filter profile, by its id or name. */
  glass(name: string): string | undefined;
  /** Of a shot that is laid over the look's, or says how far things are. */
  shot(id: string): string | undefined;
  /** Of the table the look is seen through. */
  table(id: string): string | undefined;
}

/** The look with everything it takes by name named anew. */
export function renamed(look: Look, { glass, shot, table }: NewNames): Look {
  const elements = (look.elements as LookElement[]).map((element) => {
    const plates = Object.entries(definitionOf(element.kind).parameters).flatMap(([parameter, { type }]) => {
      const other = type === "footage" ? shot(String(element.params[parameter] ?? "")) : undefined;
      return other === undefined ? [] : [[parameter, other]];
    });
    return plates.length ? { ...element, params: { ...element.params, ...Object.fromEntries(plates) } } : element;
  });
  const { depth, view } = look;
  return withGlassNamed(
    {
      ...look,
      elements: elements as Look["elements"],
      ...(depth ? { depth: { ...depth, footage: shot(depth.footage) ?? depth.footage } } : {}),
      view: view.lut ? { ...view, lut: table(view.lut) ?? view.lut } : view,
    },
    glass,
  );
}
