import { type Inspect, isSame, PICTURE } from "../../view/inspect";
import { setView, viewNow } from "../../view/store";

/** Whether an area is what the picture shows: as a matte or over the picture, all of it or one of its parts. */
export const isAreaShown = (inspect: Inspect, over: boolean, only: string | null): boolean =>
  isSame(inspect, { kind: "area", over, only });

/** Shows an area, or the picture again where it is shown already. */
export const showArea = (over: boolean, only: string | null): void =>
  setView({ inspect: isAreaShown(viewNow().inspect, over, only) ? PICTURE : { kind: "area", over, only } });
