import type { PlanBuilder } from "../../engine/plan";
import { addProgram, type PointOperation } from "../../engine/pointwise";
import { viewRecipe } from "../recipe";
import type { Finish } from "./definition";

/** Appends the view, as `operations`, to what still waits to be run, into pixels of `pixelBytes` each. */
export function appendView(
  builder: PlanBuilder,
  image: number,
  { at: { context }, view, waiting }: Finish,
  name: string,
  operations: PointOperation[],
  pixelBytes?: number,
): void {
  const out = builder.buffer(builder.width, builder.height, pixelBytes);
  const recipe = `${waiting.recipe} ${name} ${viewRecipe(view, context.cabinet)}`;
  builder.step(recipe, addProgram(builder, image, out, [...waiting.program, ...operations]));
}
