import { addProgram, scrubOperation } from "../../engine/pointwise";
import { type OutputDefinition, wholePath } from "./definition";

/** Working light. */
export interface LightOutput {
  kind: "light";
}

export const light: OutputDefinition<LightOutput> = {
  reach: wholePath,
  append(builder, image, _, { isFootage }) {
    if (isFootage) builder.step("light", addProgram(builder, image, builder.buffer(), [scrubOperation]));
  },
};
