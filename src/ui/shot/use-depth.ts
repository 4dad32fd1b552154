import { useEffect, useRef } from "react";
import { cameraOf, lookDocument, useDocument } from "./document";
import { useShotChange } from "./use-shot-change";
import type { ShotDetail } from "../../contract/shots";

/** Keeps the depth that is set on the Bench, and undone there, and the one the shot has, the same. */
export function useDepth(shot: ShotDetail): void {
  const depth = useDocument((state) => state.depth);
  const change = useShotChange(shot);
  const common = useRef(JSON.stringify(shot.depth));
  useEffect(() => {
    const theirs = JSON.stringify(shot.depth);
    if (theirs === common.current) return;
    common.current = theirs;
    lookDocument.wear(cameraOf(shot), shot.depth);
  }, [shot]);
  useEffect(() => {
    const ours = JSON.stringify(depth);
    if (ours === common.current) return;
    common.current = ours;
    change({ depth });
  }, [depth, change]);
}
