import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";

let collector: (() => void) | null = null;

/**
 * Gives back what large frames held. Their pixels lie outside the collector's own heap, which stays so small that it
 * sees no reason to run: without this a render of large frames holds three or four of each.
 */
export function collect(): void {
  if (!collector) {
    setFlagsFromString("--expose-gc");
    collector = runInNewContext("gc") as () => void;
  }
  collector();
}
