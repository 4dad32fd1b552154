import type { DemoProgress } from "../server/demo/demo";

/** No demo footage is being computed. */
export const DEMO_STATE: DemoProgress = { shots: {} };
