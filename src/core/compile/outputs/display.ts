import { displayOperations } from "../../view/view";
import { type OutputDefinition, wholePath } from "./definition";
import { appendView } from "./view";

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
  append(builder, image, _, finish) {
    const operations = displayOperations(finish.view, finish.at.context.cabinet.tables);
    appendView(builder, image, finish, "display", operations, DISPLAY_BYTES);
  },
};
