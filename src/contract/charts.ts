/** GET /api/bench-day: frames of charts that the application computes when they are asked for. */
export interface BenchDayOffer {
  /** Of the lens or filter they are shot through. */
  id: string;
  name: string;
  kind: "lens" | "filter";
  /** Where the frames wait, as files that were sent do. */
  batch: string;
  state: "offered" | "making" | "ready" | "failed";
  /** Frames that are there, of how many; 0 of 0 before the first. */
  done: number;
  of: number;
  /** Why it failed. */
  problem: string | null;
}
