"use client";
import type { ScopeCounts } from "@/core/scopes/count";
import { SCOPES, type ScopeName } from "../view/scopes";
import { atEnds } from "./draw";

/** Which scopes are shown. */
export function ScopeToggles<Name extends ScopeName>({
  names,
  shown,
  onToggle,
}: {
  names: readonly Name[];
  shown: readonly ScopeName[];
  onToggle(name: Name): void;
}) {
  return (
    <div role="group" aria-label="Which scopes" className="join flex">
      {names.map((name) => (
        <button
          key={name}
          type="button"
          className={`btn btn-xs join-item flex-auto px-1 ${shown.includes(name) ? "btn-primary" : ""}`}
          aria-pressed={shown.includes(name)}
          onClick={() => onToggle(name)}
        >
          {SCOPES[name]}
        </button>
      ))}
    </div>
  );
}

const shareText = (share: number) => `${(100 * share).toFixed(share > 0 && share < 0.001 ? 2 : 1)} %`;

/** How much of the picture lies at the two ends of a scale. */
export function EndsOfScale({ counts }: { counts: ScopeCounts }) {
  const { low, high } = atEnds(counts);
  return (
    <p className="figures text-quiet" role="status" aria-label="At the ends of the scale">
      at the top {shareText(high)} at the bottom {shareText(low)}
    </p>
  );
}
