import { pinePath } from "./pine-path";
import type { Shot } from "./shot";
import { upperStation } from "./upper-station";

export const SHOTS: Shot[] = [upperStation, pinePath];
