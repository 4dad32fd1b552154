import { matrixOperation } from "../../engine/pointwise";
import { displayOperations } from "../../view/view";
import { type OutputDefinition, wholePath } from "./definition";
import { appendView } from "./view";

/** The look's view, RGBA 8-bit: the picture. */
export interface DisplayOutput {
  kind: "display";
  /** Stops by which it is shown lighter or darker, to look into it. Default: 0. */
  exposure?: number;
}

/** Bytes of a pixel of RGBA 8-bit. */
export const DISPLAY_BYTES = 4;

export const display: OutputDefinition<DisplayOutput> = {
  reach: wholePath,
  isForScreen: true,
  joins: true,
  append(builder, image, { exposure = 0 }, finish) {
    const operations = displayOperations(finish.view, finish.at.context.cabinet.tables);
    const gain = 2 ** exposure;
    const seen = exposure === 0 ? operations : [matrixOperation([gain, 0, 0, 0, gain, 0, 0, 0, gain]), ...operations];
    const name = exposure === 0 ? "display" : `display ${exposure} stops`;
    appendView(builder, image, finish, name, seen, DISPLAY_BYTES);
  },
};
