import { addProgram } from "../../engine/pointwise";
import { viewOperations } from "../../view/view";
import { viewRecipe } from "../recipe";
import { type OutputDefinition, wholePath } from "./definition";

/** The look's view, RGBA float code values. */
export interface CodesOutput {
  kind: "codes";
}

export const codes: OutputDefinition<CodesOutput> = {
  reach: wholePath,
  joins: true,
  append(builder, image, _, { at: { context }, view, waiting }) {
    const { cabinet } = context;
    const program = [...waiting.program, ...viewOperations(view, cabinet.tables)];
    const recipe = `${waiting.recipe} codes ${viewRecipe(view, cabinet)}`;
    builder.step(recipe, addProgram(builder, image, builder.buffer(), program));
  },
};
