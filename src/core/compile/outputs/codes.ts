import { viewOperations } from "../../view/view";
import { type OutputDefinition, wholePath } from "./definition";
import { appendView } from "./view";

/** The look's view, RGBA float code values. */
export interface CodesOutput {
  kind: "codes";
}

export const codes: OutputDefinition<CodesOutput> = {
  reach: wholePath,
  joins: true,
  append(builder, image, _, finish) {
    const operations = viewOperations(finish.view, finish.at.context.cabinet.tables);
    appendView(builder, image, finish, "codes", operations);
  },
};
