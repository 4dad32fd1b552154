import type { Alpha } from "../../image/image";
import { unassociateOperation } from "../../engine/pointwise";
import { viewOperations } from "../../view/view";
import { type OutputDefinition, wholePath } from "./definition";
import { appendView } from "./view";

/** The look's view, RGBA float code values; of light that is associated with alpha unless said otherwise. */
export interface CodesOutput {
  kind: "codes";
  alpha?: Alpha;
}

export const codes: OutputDefinition<CodesOutput> = {
  reach: wholePath,
  joins: true,
  append(builder, image, { alpha }, finish) {
    const { view, at } = finish;
    const shown = viewOperations(view, at.context.cabinet.tables);
    const isApart = alpha === "unassociated";
    const name = isApart ? "codes, unassociated" : "codes";
    appendView(builder, image, finish, name, isApart ? [unassociateOperation, ...shown] : shown);
  },
};
