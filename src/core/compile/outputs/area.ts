import { addProgram, type PointOperation, quantiseOperation } from "../../engine/pointwise";
import { viewOperations } from "../../view/view";
import { planMatte } from "../../where/plan";
import { areaRecipe } from "../recipe";
import type { Where } from "../../where/schema";
import { upTo, type OutputDefinition } from "./definition";
import { DISPLAY_BYTES } from "./display";

/** The area an element, or (null) the whole path, acts on, as a matte or laid over the picture, 8-bit. */
export interface AreaOutput {
  kind: "area";
  element: string | null;
  over: boolean;
  /** One of its parts alone, by its id, as it is by itself. */
  only?: string | null;
}

/** How strongly an area is tinted over the picture. */
const OVERLAY = 0.55;

/** A part of an area by itself, whatever it is joined to; all of it where there is none of that id. */
function alone(where: Where, id: string): Where {
  const found = where.areas.filter((area) => area.id === id);
  return found.length ? { ...where, areas: found.map((area) => ({ ...area, combine: "union" as const })) } : where;
}

export const area: OutputDefinition<AreaOutput> = {
  reach: ({ element }, elements) => (element === null ? 0 : upTo(element, elements)),
  append(builder, image, { element, over, only }, { at, view }) {
    const whole = element === null ? at.where : at.elements[upTo(element, at.elements)]!.where;
    const where = whole && only ? alone(whole, only) : whole;
    if (!where) throw new RangeError(`The ${element === null ? "path" : "element"} acts everywhere; it has no area`);
    const matte = planMatte(builder, image, where, at.context);
    const shown = addProgram(builder, image, builder.buffer(), viewOperations(view, at.context.cabinet.tables));
    const tint: PointOperation[] = over ? [{ code: "overlay", fields: { amount: OVERLAY } }] : [];
    const out = builder.buffer(builder.width, builder.height, DISPLAY_BYTES);
    const program = [...tint, quantiseOperation];
    builder.step(`area ${over} ${areaRecipe(where, at.context)}`, addProgram(builder, matte, out, program, shown));
  },
};
