import { MID_GREY } from "../../colour/grey";
import { addProgram, differenceOperation, offsetMatrixOperation } from "../../engine/pointwise";
import { glassRecipe } from "../../look/glass";
import type { Look } from "../../look/look";
import { displayOperations } from "../../view/view";
import { viewRecipe } from "../recipe";
import { type OutputDefinition, wholePath } from "./definition";
import { DISPLAY_BYTES } from "./display";

/**
 * What differs in light from another look of the same frame, so many times, about mid-grey, through the view, 8-bit.
 */
export interface DifferenceOutput {
  kind: "difference";
  reference: Look;
  /** From 1 to 64. */
  times: number;
  /** A kept picture, by its number, that the reference acts on in the frame's place. */
  still?: number;
}

export const MAX_TIMES = 64;
const KEPT = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;

export const difference: OutputDefinition<DifferenceOutput> = {
  reach: wholePath,
  append(builder, image, { reference, times, still }, { at: { context }, view }) {
    const { cabinet } = context;
    const glass = glassRecipe(reference, cabinet);
    const other = builder.source({ kind: "look", look: reference, glass, still });
    const out = builder.buffer(builder.width, builder.height, DISPLAY_BYTES);
    const program = [
      differenceOperation(times, false),
      offsetMatrixOperation([...KEPT], [MID_GREY, MID_GREY, MID_GREY]),
      ...displayOperations(view, cabinet.tables),
    ];
    const recipe = `difference ${times} ${still ?? ""} ${JSON.stringify(reference)} ${glass} ${viewRecipe(view, cabinet)}`;
    builder.step(recipe, addProgram(builder, image, out, program, other));
  },
};
