import { create } from "zustand";

/** What every view may know: the shot last worked on, and whether all is saved. */
interface Workspace {
  shotId: string | null;
  title: string | null;
  saving: "saved" | "saving" | "failed" | "conflict";
  /** The same of a change of the shot itself, as the Bench makes one. */
  savingShot: "saved" | "saving" | "failed";
  /** What the server said when it did not save. */
  problem: string | null;
  set(change: Partial<Omit<Workspace, "set">>): void;
}

export const useWorkspace = create<Workspace>((set) => ({
  shotId: null,
  title: null,
  saving: "saved",
  savingShot: "saved",
  problem: null,
  set,
}));
