import { create } from "zustand";

/** What every view may know: the production one is in, the shot last worked on, and whether all is saved. */
interface Workspace {
  /** As it was chosen in this page; null where it is the one of the visit before. */
  productionId: string | null;
  shotId: string | null;
  /** Of the shot on the Bench. */
  title: string | null;
  saving: "saved" | "saving" | "failed" | "conflict";
  /** The same of a change of the shot itself, as the Bench makes one. */
  savingShot: "saved" | "saving" | "failed";
  /** What the server said when it did not save. */
  problem: string | null;
  set(change: Partial<Omit<Workspace, "set">>): void;
}

export const useWorkspace = create<Workspace>((set) => ({
  productionId: null,
  shotId: null,
  title: null,
  saving: "saved",
  savingShot: "saved",
  problem: null,
  set,
}));
