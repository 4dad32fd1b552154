"use client";
import { ClipboardPaste, Copy } from "lucide-react";
import { copiedAreas, pastedAreas } from "@/core/look/areas";
import { type LookAtFrame, valueAtFrame } from "@/core/look/at-frame";
import { addArea, type Settable, whereOf } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { setShown } from "@/core/look/timing";
import { WHERE_NUMBERS } from "@/core/where/numbers";
import { AREA_KINDS, AREAS } from "@/core/where/registry";
import type { AreaKind, Where } from "@/core/where/schema";
import { NumberField } from "../../shared/number-field";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { setView, useView, viewNow } from "../../view/store";
import { KeyMark } from "../time/key-mark";
import { AreaFields } from "./area-fields";
import { fieldOf } from "./field";
import { isAreaShown, showArea } from "./shown-area";

/** An area's values at this frame, but for what it follows: those are the ones that are set. */
function timedWhere(look: Look, id: string | null, at: LookAtFrame): Where {
  const own = whereOf(look, id)!;
  const shown = id === null ? at.where : at.elements.find((element) => element.id === id)?.where;
  if (!shown) return own;
  const areas = own.areas.map((area) => (area.follow ? area : (shown.areas.find(({ id }) => id === area.id) ?? area)));
  return { ...shown, areas };
}

/**
 * Where an element, or (no id) the whole path, acts: areas joined one after another, shown as a matte or over the
 * picture.
 */
export function WhereFields({ look, id, movesLight }: { look: Look; id: string | null; movesLight: boolean }) {
  const { inspect, areaClip } = useView("inspect", "areaClip");
  const where = whereOf(look, id);
  const { at } = useShownLook();
  // Numbers as they are at this frame; what an area follows is not in them.
  const now = where && timedWhere(look, id, at);
  const put = (name: string, value: Settable) =>
    commit((look) =>
      setShown(look, [id, `where.${name}`], value, valueAtFrame(at, [id, `where.${name}`]), viewNow().frame),
    );
  return (
    <section aria-label="Where" className="flex flex-col gap-2">
      <h3 className="flex items-center gap-2 border-b border-line pt-1 font-semibold">
        Where
        <button
          type="button"
          className="btn btn-xs btn-square ml-auto"
          aria-label="Copy the areas"
          title="Copy the areas, for another element or shot"
          disabled={!where}
          onClick={() => setView({ areaClip: copiedAreas(look, id) })}
        >
          <Copy size={11} />
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="Paste the copied areas"
          title="Paste the copied areas"
          disabled={!areaClip}
          onClick={() => areaClip && commit((now) => pastedAreas(now, id, areaClip))}
        >
          <ClipboardPaste size={11} />
        </button>
        <select
          className="select select-xs w-32 font-normal"
          aria-label="Add an area"
          value=""
          onChange={(event) =>
            event.target.value && commit((now) => addArea(now, id, AREAS[event.target.value as AreaKind].fresh))
          }
        >
          <option value="">Add an area …</option>
          {AREA_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {AREAS[kind].label}
            </option>
          ))}
        </select>
      </h3>
      {!where && (
        <p className="text-quiet">
          {id === null ? "The whole path acts everywhere in the frame." : "Everywhere in the frame."}
        </p>
      )}
      {where?.areas.map((entry, i) => (
        <AreaFields
          key={entry.id}
          id={id}
          entry={entry}
          shown={now?.areas.find((found) => found.id === entry.id) ?? entry}
          index={i}
          count={where.areas.length}
        />
      ))}
      {where && (
        <>
          <NumberField
            {...fieldOf(WHERE_NUMBERS.feather)}
            value={now!.feather}
            beside={<KeyMark path={[id, "where.feather"]} />}
            onChange={(feather) => put("feather", feather)}
          />
          <NumberField
            {...fieldOf(WHERE_NUMBERS.strength)}
            value={now!.strength}
            beside={<KeyMark path={[id, "where.strength"]} />}
            onChange={(strength) => put("strength", strength)}
          />
          {movesLight && (
            <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2">
              <span>Applies to</span>
              <select
                className="select select-xs w-full"
                value={where.limits}
                onChange={(event) => put("limits", event.target.value)}
              >
                <option value="result">where light falls</option>
                <option value="source">where light is taken from</option>
                <option value="both">both</option>
              </select>
            </label>
          )}
          <div role="group" aria-label="Show the area" className="flex gap-1">
            {[false, true].map((over) => (
              <button
                key={String(over)}
                type="button"
                className={`btn btn-xs ${isAreaShown(inspect, over, null) ? "halo" : ""}`}
                aria-pressed={isAreaShown(inspect, over, null)}
                onClick={() => showArea(over, null)}
              >
                {over ? "Area as a tint" : "Area as a matte"}
              </button>
            ))}
          </div>
        </>
      )}
    </section>
  );
}
