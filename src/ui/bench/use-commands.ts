import { useMemo } from "react";
import { useOffered } from "../shell/use-keys";
import { benchCommands, type Opens } from "./commands";
import type { ShotDetail } from "../../contract/shots";

/** Opens what stands beside the picture by pressing its own button. */
const open = (what: Opens) => document.querySelector<HTMLButtonElement>(`[data-${what}]`)?.click();

/** Offers the Bench's commands while it is open. */
export function useBenchCommands(shot: ShotDetail): void {
  useOffered(
    "bench",
    useMemo(() => benchCommands({ shot, open }), [shot]),
  );
}
