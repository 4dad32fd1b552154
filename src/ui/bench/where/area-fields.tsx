"use client";
import { Eye, Plus, Trash2 } from "lucide-react";
import { inArea, removeArea, type Settable, setAt } from "@/core/look/edit";
import { setShown } from "@/core/look/timing";
import { withFollowing } from "@/core/look/tracks";
import { areaDefinition } from "@/core/where/registry";
import type { Area } from "@/core/where/schema";
import { NumberField } from "../../shared/number-field";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { setView, useView, viewNow } from "../../view/store";
import { KeyMark } from "../time/key-mark";
import { fieldOf } from "./field";
import { PickedColour } from "./picked-colour";
import { isAreaShown, showArea } from "./shown-area";

/** The values that change with one of an area; a limit moved past its partner takes the partner along. */
function moved(area: Area, name: string, value: number): [string, number][] {
  const values = area as unknown as Record<string, number>;
  const along: [string, number][] = [[name, value]];
  for (const [low, high, apart] of areaDefinition(area).limits ?? []) {
    if (name === low && values[high]! < value + apart) along.push([high, value + apart]);
    if (name === high && values[low]! > value - apart) along.push([low, value - apart]);
  }
  return along;
}

/** One area of an element, or (no id) of the whole path. */
export function AreaFields({
  id,
  entry,
  shown,
  index,
  count,
}: {
  id: string | null;
  entry: Area;
  /** As it is at this frame, but for what it follows. */
  shown: Area;
  /** Which of how many. */
  index: number;
  count: number;
}) {
  const { look, shot } = useShownLook();
  const { inspect } = useView("inspect");
  const definition = areaDefinition(entry);
  const i = index;
  const isShownAlone = isAreaShown(inspect, false, entry.id);
  const valueNow = (name: string): number => (shown as unknown as Record<string, number>)[name]!;
  const set = (name: string, value: Settable | undefined) =>
    commit((now) => {
      const path = inArea(id, entry, name);
      const { frame } = viewNow();
      return value === undefined ? setAt(now, path, value, frame) : setShown(now, path, value, valueNow(name), frame);
    });
  const move = (name: string, value: number) => {
    const values = moved(entry, name, value);
    const { frame } = viewNow();
    commit((now) =>
      values.reduce(
        (before, [along, to]) => setShown(before, inArea(id, entry, along), to, valueNow(along), frame),
        now,
      ),
    );
  };
  const aspect = shot.footage.width / shot.footage.height;
  const follow = (track: string | null) =>
    commit((now) => withFollowing(now, id, entry.id, track, viewNow().frame, aspect));
  return (
    <div role="group" aria-label={`Area ${i + 1}`} className="flex flex-col gap-1.5 border-l-2 border-line pl-2">
      <div className="flex items-center gap-2">
        <Plus size={11} aria-hidden className="text-quiet" />
        <input
          className="w-28 rounded bg-transparent px-1 focus:bg-base-300"
          aria-label={`Name of area ${i + 1}`}
          placeholder={definition.label}
          value={entry.name ?? ""}
          onChange={(event) => set("name", event.target.value || undefined)}
        />
        {i > 0 && (
          <select
            className="select select-xs w-28"
            aria-label={`How area ${i + 1} joins`}
            value={entry.combine}
            onChange={(event) => set("combine", event.target.value)}
          >
            <option value="union">and also</option>
            <option value="intersection">only within</option>
            <option value="difference">but not</option>
          </select>
        )}
        <label className="ml-auto flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={entry.inverted}
            onChange={(event) => set("inverted", event.target.checked)}
          />
          Inverted
        </label>
        {count > 1 && (
          <button
            type="button"
            className={`btn btn-xs btn-square ${isShownAlone ? "halo" : ""}`}
            aria-label={`Area ${i + 1} alone, as a matte`}
            aria-pressed={isShownAlone}
            onClick={() => showArea(false, entry.id)}
          >
            <Eye size={11} />
          </button>
        )}
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label={`Remove area ${i + 1}`}
          onClick={() => {
            setView({ picking: null });
            commit((now) => removeArea(now, id, entry.id));
          }}
        >
          <Trash2 size={11} />
        </button>
      </div>
      {entry.kind === "key" && (
        <PickedColour
          entry={entry}
          before={id}
          onColour={(colour) => commit((now) => setAt(now, inArea(id, entry, "colour"), colour, viewNow().frame))}
        />
      )}
      {definition.moved && (look.tracks?.length ?? 0) > 0 && (
        <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2">
          <span>Track</span>
          <select
            className="select select-xs w-full"
            aria-label={`Track of area ${i + 1}`}
            value={entry.follow ?? ""}
            onChange={(event) => follow(event.target.value || null)}
          >
            <option value="">None</option>
            {look.tracks!.map((track) => (
              <option key={track.id} value={track.id}>
                {track.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {entry.kind === "polygon" && (
        <div className="flex items-center gap-1">
          <p className="min-w-0 flex-1 text-quiet">
            Drag its points on the picture; press a side to add one, Delete removes it.
          </p>
          <KeyMark path={inArea(id, entry, "points")} />
        </div>
      )}
      {Object.entries(definition.numbers)
        .filter(([name]) => definition.shows?.(entry, name) ?? true)
        .map(([name, number]) => (
          <NumberField
            key={name}
            {...fieldOf(number)}
            value={valueNow(name)}
            beside={<KeyMark path={inArea(id, entry, name)} />}
            onChange={(value) => move(name, value)}
          />
        ))}
    </div>
  );
}
