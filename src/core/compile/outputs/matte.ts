import { keyRecord } from "../../elements/key";
import { definitionOf } from "../../elements/registry";
import { addProgram, quantiseOperation } from "../../engine/pointwise";
import { upTo, type OutputDefinition } from "./definition";
import { DISPLAY_BYTES } from "./display";

/** Which light the key of an element takes, as seen at its place on the path, 8-bit. */
export interface MatteOutput {
  kind: "matte";
  element: string;
}

export const matte: OutputDefinition<MatteOutput> = {
  reach: ({ element }, elements) => upTo(element, elements),
  append(builder, image, { element }, { at: { elements } }) {
    const { state } = elements[upTo(element, elements)]!;
    const { key, label } = definitionOf(state.kind);
    const taken = key?.(state);
    if (!taken) throw new RangeError(`“${label}” has no highlight key`);
    const out = builder.buffer(builder.width, builder.height, DISPLAY_BYTES);
    const program = [{ code: "matte" as const, floats: keyRecord(taken) }, quantiseOperation];
    builder.step(`matte ${JSON.stringify(taken)}`, addProgram(builder, image, out, program));
  },
};
