import { addProgram } from "../../engine/pointwise";
import { displayOperations } from "../../view/view";
import { viewRecipe } from "../recipe";
import { type OutputDefinition, wholePath } from "./definition";

/** The look's view, RGBA 8-bit: the picture. */
export interface DisplayOutput {
  kind: "display";
}

/** Bytes of a pixel of RGBA 8-bit. */
export const DISPLAY_BYTES = 4;

export const display: OutputDefinition<DisplayOutput> = {
  reach: wholePath,
  isForScreen: true,
  joins: true,
  append(builder, image, _, { at: { context }, view, waiting }) {
    const { cabinet } = context;
    const program = [...waiting.program, ...displayOperations(view, cabinet.tables)];
    const recipe = `${waiting.recipe} display ${viewRecipe(view, cabinet)}`;
    const out = builder.buffer(builder.width, builder.height, DISPLAY_BYTES);
    builder.step(recipe, addProgram(builder, image, out, program));
  },
};
