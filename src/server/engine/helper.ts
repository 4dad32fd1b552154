import { workerData } from "node:worker_threads";
import { helperLoop, type HelperStart } from "../../core/engine/team";

helperLoop(workerData as HelperStart);
