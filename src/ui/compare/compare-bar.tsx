"use client";
import { Eye } from "lucide-react";
import { setView, useView } from "../view/store";
import { type Reference, toggled } from "../view/compare";
import { type Others, referenceName } from "./compare";
import { WayButtons } from "./way-buttons";

/** A reference as the value of a list's entry, and back. */
const written = (reference: Reference): string => JSON.stringify(reference);

/** The lists that references by their ids are of. */
const LISTS = { version: "versions", look: "looks", shot: "shots", still: "stills" } as const;
const isGone = (reference: Reference, others: Others): boolean =>
  "id" in reference &&
  !(others[LISTS[reference.kind]] as readonly { id: unknown }[]).some(({ id }) => id === reference.id);

/** What the picture is held against, and how the two are seen. */
export function CompareBar({ others }: { others: Others }) {
  const { compare, selected } = useView("compare", "selected");
  const { reference, way, times } = compare;
  const hold = {
    onPointerDown: () => setView({ held: reference }),
    onPointerUp: () => setView({ held: null }),
    onPointerLeave: () => setView({ held: null }),
    onKeyDown: (event: React.KeyboardEvent) =>
      event.key === " " && (event.preventDefault(), setView({ held: reference })),
    onKeyUp: () => setView({ held: null }),
  };
  const option = (entry: Reference, label: string, disabled = false) => (
    <option key={written(entry)} value={written(entry)} disabled={disabled}>
      {label}
    </option>
  );
  return (
    <div role="group" aria-label="Compare" className="flex min-w-0 items-center gap-1">
      <select
        className="select select-xs w-36 min-w-24 shrink text-ellipsis"
        title="Compare with"
        aria-label="Compare with"
        value={written(reference)}
        onChange={(event) =>
          setView({ compare: { ...compare, reference: JSON.parse(event.target.value) as Reference } })
        }
      >
        {isGone(reference, others) && option(reference, referenceName(reference, selected, others))}
        {option({ kind: "element" }, "Without this element", selected === null)}
        {option({ kind: "path" }, "Without the path")}
        {option({ kind: "footage" }, "The footage")}
        {others.versions.length > 0 && (
          <optgroup label="Versions">
            {others.versions.map(({ id, number, name }) => option({ kind: "version", id }, `${number}. ${name}`))}
          </optgroup>
        )}
        {others.looks.length > 0 && (
          <optgroup label="Looks">{others.looks.map(({ id, name }) => option({ kind: "look", id }, name))}</optgroup>
        )}
        {others.shots.length > 0 && (
          <optgroup label="Looks of other shots">
            {others.shots.map(({ id, name }) => option({ kind: "shot", id }, name))}
          </optgroup>
        )}
        {others.stills.length > 0 && (
          <optgroup label="Stills">
            {others.stills.map(({ id, shotId, frame }) => option({ kind: "still", id }, `${shotId}, frame ${frame}`))}
          </optgroup>
        )}
      </select>
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label="Hold to see it"
        title="Hold to see it"
        {...hold}
      >
        <Eye size={13} />
      </button>
      <WayButtons
        way={way}
        times={times}
        onWay={(entry) => setView({ compare: toggled(compare, entry) })}
        onTimes={(value) => setView({ compare: { ...compare, times: value } })}
      />
    </div>
  );
}
