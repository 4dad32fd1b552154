/** What stands in for a frame that is missing: the one before it, black, or nothing. */
export const GAPS = ["hold", "black", "refuse"] as const;
export type Gaps = (typeof GAPS)[number];
