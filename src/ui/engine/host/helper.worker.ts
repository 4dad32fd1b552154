import "../../shared/no-eval";
import { helperLoop, type HelperStart } from "../../../core/engine/team";

addEventListener("message", (event: MessageEvent<HelperStart>) => {
  postMessage("ready");
  helperLoop(event.data);
});
