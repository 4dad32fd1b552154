"use client";
import { SquareDashed, X } from "lucide-react";
import type { Look } from "@/core/look/look";
import { setView, useView } from "../view/store";
import type { Against } from "../compare/compare";
import { type FrameOrder, type Picture } from "../engine/questions";
import { marksOf } from "./marks";
import { RampView } from "./ramp-view";
import { EndsOfScale, ScopeToggles } from "./scope-parts";
import { Histogram, Parade, Vectorscope, Waveform } from "./scope-view";
import { SCALE_NAMES, SCOPES, type ScopeName, type ShownScale, toggledScope } from "../view/scopes";
import { useCounts } from "./use-counts";

/** What a scope is measured in, beside its name. */
function unitOf(name: ScopeName, scale: ShownScale): string {
  if (name === "vectors") return "(blue and red differences)";
  return name === "ramp" ? "(% of signal, by stops of light)" : `(${SCALE_NAMES[scale].toLowerCase()})`;
}

/** The scopes beside the picture: of what is shown, and faintly of what it is compared with. */
export function ScopesColumn({
  order,
  look,
  against,
  picture,
}: {
  order: Omit<FrameOrder, "look" | "divide">;
  look: Look;
  against: Against | null;
  picture: Picture | null;
}) {
  const { scopes, corners } = useView("scopes", "corners");
  const { shown, scale, luma, part, withReference } = scopes;
  // Corners show panes of their own, and no picture of the whole frame comes.
  const counts = useCounts(order, look, picture, scopes, corners.open ? JSON.stringify([look, order.frame]) : "");
  const other = withReference ? against : null;
  const otherOrder = { ...order, still: other?.still };
  const reference = useCounts(otherOrder, other?.look ?? null, picture, scopes, JSON.stringify(other));
  const marks = marksOf(scale, look.view.display);
  const put = (change: Partial<typeof scopes>) => setView({ scopes: { ...scopes, ...change } });
  const scope: Record<ScopeName, () => React.ReactNode> = {
    waveform: () => <Waveform counts={counts} reference={reference} marks={marks} luma={luma} />,
    parade: () => <Parade counts={counts} reference={reference} marks={marks} />,
    vectors: () =>
      scale === "stops" ? (
        <p className="text-quiet">Light has no colour differences: choose % of signal.</p>
      ) : (
        <Vectorscope counts={counts} reference={reference} />
      ),
    histogram: () => <Histogram counts={counts} reference={reference} marks={marks} />,
    ramp: () => <RampView order={order} look={look} against={other?.look ?? null} />,
  };
  return (
    <aside aria-label="Scopes" className="flex h-full flex-col gap-2 overflow-y-auto bg-base-200 p-2">
      <div className="flex items-center gap-1">
        <select
          className="select select-xs w-28"
          aria-label="Scale of the scopes"
          value={scale}
          onChange={(event) => put({ scale: event.target.value as ShownScale })}
        >
          {Object.entries(SCALE_NAMES).map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
        <button
          type="button"
          className={`btn btn-xs btn-square ${part ? "halo" : ""}`}
          aria-label={part ? "Count the whole frame" : "Count a part that is drawn on the picture"}
          title={part ? "Count the whole frame" : "Count a part that is drawn on the picture"}
          aria-pressed={part !== null}
          onClick={() => put({ part: part ? null : "draw" })}
        >
          <SquareDashed size={13} />
        </button>
        <label className="ml-auto flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={withReference}
            onChange={(event) => put({ withReference: event.target.checked })}
          />
          with the compared
        </label>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="Close the scopes"
          onClick={() => put({ open: false })}
        >
          <X size={13} />
        </button>
      </div>
      <ScopeToggles
        names={Object.keys(SCOPES) as ScopeName[]}
        shown={shown}
        onToggle={(name) => setView({ scopes: toggledScope(scopes, name) })}
      />
      {part === "draw" && <p className="text-quiet">Drag over the part of the picture that is to be counted.</p>}
      {shown.map((name) => (
        <section key={name} aria-label={SCOPES[name]} className="flex flex-col gap-1">
          <h3 className="flex items-center text-quiet">
            {SCOPES[name]}
            <span className="ml-1">{unitOf(name, scale)}</span>
            {name === "waveform" && (
              <label className="ml-auto flex items-center gap-1">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={luma}
                  onChange={(event) => put({ luma: event.target.checked })}
                />
                luma
              </label>
            )}
          </h3>
          {scope[name]()}
        </section>
      ))}
      {counts && <EndsOfScale counts={counts} />}
    </aside>
  );
}
