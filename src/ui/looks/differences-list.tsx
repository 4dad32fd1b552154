"use client";
import type { Difference } from "@/core/look/differences";

/** What differs, element by element, with values before and after; `onTake`: takes one element over. */
export function DifferencesList({
  differences,
  onTake,
}: {
  differences: readonly Difference[];
  onTake?(element: string): void;
}) {
  if (!differences.length) return <p className="text-quiet">Nothing differs.</p>;
  const groups = [...new Map(differences.map((entry) => [`${entry.element} ${entry.of}`, entry])).values()];
  return (
    <dl className="flex flex-col gap-1" aria-label="What differs">
      {groups.map(({ element, of }) => (
        <div key={`${element} ${of}`}>
          <dt className="flex items-center gap-2">
            <span className="min-w-0 truncate font-medium">{of}</span>
            {onTake && element !== null && (
              <button
                type="button"
                className="btn btn-xs ml-auto"
                aria-label={`Take ${of} over`}
                onClick={() => onTake(element)}
              >
                Take over
              </button>
            )}
          </dt>
          {differences
            .filter((entry) => entry.element === element && entry.of === of)
            .map(({ what, before, after }) => (
              <dd key={what} className="figures pl-2 break-words text-quiet">
                <span className="font-sans text-[1.08em]">{what}</span> {before} → {after}
              </dd>
            ))}
        </div>
      ))}
    </dl>
  );
}
