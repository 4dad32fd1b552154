import { elementsOf } from "@/core/look/edit";
import { lookNow } from "../../shot/document";
import { viewNow } from "../../view/store";

/** The element that is selected, as it stands now. */
export const selectedElement = () => {
  const { selected } = viewNow();
  const look = lookNow();
  return look ? elementsOf(look).find(({ id }) => id === selected) : undefined;
};
