import type { ShotDetail } from "@/contract/shots";

/** What is open beside the picture is opened by its own button, which a command presses. */
export type Opens = "drawer" | `to-section=${"what" | "where" | "when"}`;

/** What a command works on. */
export interface Place {
  shot: ShotDetail;
  open(what: Opens): void;
}
