"use client";
import { type Station, STATION_LABELS } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import type { ElementAtFrame } from "@/core/look/at-frame";
import { BarrelDrawing } from "./glass";

/** What a lens profile brings, drawn as one lens; a press opens it into its pieces. */
export function Barrel({
  elements,
  station,
  onOpen,
}: {
  elements: ElementAtFrame[];
  station: Station | null;
  onOpen(): void;
}) {
  const on = elements.filter((element) => element.on);
  const names = elements.map(({ kind }) => definitionOf(kind).label).join(", ");
  return (
    <li className="flex max-w-[150px] min-w-[104px] flex-1 flex-col items-center">
      <span className="h-5 self-start leading-5 whitespace-nowrap text-quiet">
        {station ? STATION_LABELS[station] : ""}
      </span>
      <button
        type="button"
        aria-expanded={false}
        aria-label={`Barrel of the lens: ${elements.length} pieces, ${on.length} on. Open it`}
        title={names}
        className="rounded-md px-1"
        onClick={onOpen}
      >
        <BarrelDrawing count={elements.length} on={on.length > 0} />
      </button>
      <span className="mt-0.5 w-full truncate text-center text-[0.92rem] leading-tight tracking-tight">The lens</span>
      <span className="figures text-[0.85rem] leading-tight text-quiet">
        {on.length} of {elements.length} on
      </span>
    </li>
  );
}
