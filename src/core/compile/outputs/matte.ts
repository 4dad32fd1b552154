import { keyFields } from "../../elements/key";
import { definitionOf } from "../../elements/registry";
import { addProgram, type PointOperation, quantiseOperation, productOperation } from "../../engine/pointwise";
import { upTo, type OutputDefinition } from "./definition";
import { DISPLAY_BYTES } from "./display";

/** Which light the key of an element takes, as seen at its place on the path, 8-bit. */
export interface MatteOutput {
  kind: "matte";
  element: string;
}

export const matte: OutputDefinition<MatteOutput> = {
  reach: ({ element }, elements) => upTo(element, elements),
  append(builder, image, { element }, { at: { elements, context } }) {
    const { state } = elements[upTo(element, elements)]!;
    const { key, keyMatte, label } = definitionOf(state.kind);
    const taken = key?.(state);
    if (!taken) throw new RangeError(`“${label}” has no highlight key`);
    const area = keyMatte?.(state, context) ?? null;
    const within = area && addProgram(builder, image, builder.buffer(), area);
    const out = builder.buffer(builder.width, builder.height, DISPLAY_BYTES);
    const program: PointOperation[] = [
      { code: "matte", fields: keyFields(taken) },
      ...(area ? [productOperation] : []),
      quantiseOperation,
    ];
    const recipe = `matte ${JSON.stringify(taken)} ${JSON.stringify(area)}`;
    builder.step(recipe, addProgram(builder, image, out, program, within ?? undefined));
  },
};
