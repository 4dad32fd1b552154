"use client";
import { ClipboardPaste, Copy, Eye, Plus, Trash2 } from "lucide-react";
import { copiedAreas, pastedAreas } from "@/core/look/areas";
import { addArea, inArea, removeArea, type Settable, setAt, whereOf } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { type LookAtFrame, valueAtFrame } from "@/core/look/at-frame";
import { setShown } from "@/core/look/timing";
import { withFollowing } from "@/core/look/tracks";
import { AREA_FIELDS, AREA_LABELS, type AreaField, KEY_COLOUR_FIELDS, WHERE_FIELDS } from "@/core/where/fields";
import type { Area, Where } from "@/core/where/schema";
import { type Light } from "../../engine/questions";
import { NumberField } from "../../shared/number-field";
import { Swatch } from "../../shared/colour-disc";
import { PickButton } from "../panel/pick-button";
import { useShownLook } from "../../shot/shown-look";
import { KeyMark } from "../time/key-mark";
import { isSame, PICTURE } from "../../view/inspect";
import { commit } from "../../shot/document";
import { setView, useView, viewNow } from "../../view/store";

type Kind = Area["kind"];
const KINDS = Object.keys(AREA_FIELDS) as Kind[];
const FRESH: Record<Kind, unknown> = {
  shape: { kind: "shape" },
  polygon: {
    kind: "polygon",
    points: [
      [-25, -25],
      [25, -25],
      [25, 25],
      [-25, 25],
    ],
  },
  key: { kind: "key", low: 1 },
  depth: { kind: "depth", near: 3, far: 20 },
};

const fieldsOf = (entry: Area): Record<string, AreaField> => ({
  ...AREA_FIELDS[entry.kind],
  ...(entry.kind === "key" && entry.colour ? KEY_COLOUR_FIELDS : {}),
});

/** An area's values at this frame, but for what it follows: those are the ones that are set. */
function timedWhere(look: Look, id: string | null, at: LookAtFrame): Where {
  const own = whereOf(look, id)!;
  const shown = id === null ? at.where : at.elements.find((element) => element.id === id)?.where;
  if (!shown) return own;
  const areas = own.areas.map((area) => (area.follow ? area : (shown.areas.find(({ id }) => id === area.id) ?? area)));
  return { ...shown, areas };
}

/** Limits that must not cross: the lower, the upper, and the least between them. */
const LIMITS = [
  ["low", "high", 0],
  ["black", "white", 0.01],
  ["near", "far", 0],
] as const;

/** The values that change with one of an area; a limit moved past its partner takes the partner along. */
function moved(area: Area, name: string, value: number): [string, number][] {
  const values = area as unknown as Record<string, number>;
  const along: [string, number][] = [[name, value]];
  for (const [low, high, apart] of LIMITS) {
    if (name === low && values[high]! < value + apart) along.push([high, value + apart]);
    if (name === high && values[low]! > value - apart) along.push([low, value - apart]);
  }
  return along;
}

/** The colour of light an area is keyed on: picked from the picture. */
function PickedColour({
  entry,
  before,
  onColour,
}: {
  entry: Extract<Area, { kind: "key" }>;
  /** The element whose area it is: light is picked as it comes to it. */
  before: string | null;
  onColour(colour: Light | undefined): void;
}) {
  return (
    <div className="flex items-center gap-1">
      <PickButton label="Pick a colour" id={entry.id} before={before} take={(light) => onColour(light)} />
      {entry.colour && (
        <>
          <Swatch colour={entry.colour} label="The picked colour" />
          <button type="button" className="btn btn-xs" onClick={() => onColour(undefined)}>
            Any colour
          </button>
        </>
      )}
    </div>
  );
}

/** Where an element, or (no id) the whole path, acts: areas joined one after another, shown as a matte or over the picture. */
export function WhereFields({ look, id, movesLight }: { look: Look; id: string | null; movesLight: boolean }) {
  const { inspect, areaClip } = useView("inspect", "areaClip");
  const isShown = (over: boolean, only: string | null) => isSame(inspect, { kind: "area", over, only });
  const show = (over: boolean, only: string | null) =>
    setView({ inspect: isShown(over, only) ? PICTURE : { kind: "area", over, only } });
  const where = whereOf(look, id);
  const { at, shot } = useShownLook();
  const aspect = shot.footage.width / shot.footage.height;
  // Numbers as they are at this frame; what an area follows is not in them.
  const now = where && timedWhere(look, id, at);
  const valueNow = (entry: Area, name: string): number => {
    const area = now?.areas.find((found) => found.id === entry.id) ?? entry;
    return (area as unknown as Record<string, number>)[name]!;
  };
  const put = (name: string, value: Settable) =>
    commit((look) =>
      setShown(look, [id, `where.${name}`], value, valueAtFrame(at, [id, `where.${name}`]), viewNow().frame),
    );
  const setArea = (entry: Area, name: string, value: Settable | undefined) =>
    commit((now) => {
      const path = inArea(id, entry, name);
      return value === undefined
        ? setAt(now, path, value, viewNow().frame)
        : setShown(now, path, value, valueNow(entry, name), viewNow().frame);
    });
  // A pick is answered later: it changes the look as it is then.
  const setNow = (entry: Area, name: string, value: Settable | undefined) => {
    commit((look) => setAt(look, inArea(id, entry, name), value, viewNow().frame));
  };
  const move = (entry: Area, name: string, value: number) => {
    const values = moved(entry, name, value);
    commit((look) =>
      values.reduce(
        (before, [along, to]) =>
          setShown(before, inArea(id, entry, along), to, valueNow(entry, along), viewNow().frame),
        look,
      ),
    );
  };
  const follow = (entry: Area, track: string | null) =>
    commit((now) => withFollowing(now, id, entry.id, track, viewNow().frame, aspect));
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
            event.target.value && commit((now) => addArea(now, id, FRESH[event.target.value as Kind]))
          }
        >
          <option value="">Add an area …</option>
          {KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {AREA_LABELS[kind]}
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
        <div
          key={entry.id}
          role="group"
          aria-label={`Area ${i + 1}`}
          className="flex flex-col gap-1.5 border-l-2 border-line pl-2"
        >
          <div className="flex items-center gap-2">
            <Plus size={11} aria-hidden className="text-quiet" />
            <input
              className="w-28 rounded bg-transparent px-1 focus:bg-base-300"
              aria-label={`Name of area ${i + 1}`}
              placeholder={AREA_LABELS[entry.kind]}
              value={entry.name ?? ""}
              onChange={(event) => setArea(entry, "name", event.target.value || undefined)}
            />
            {i > 0 && (
              <select
                className="select select-xs w-28"
                aria-label={`How area ${i + 1} joins`}
                value={entry.combine}
                onChange={(event) => setArea(entry, "combine", event.target.value)}
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
                onChange={(event) => setArea(entry, "inverted", event.target.checked)}
              />
              Inverted
            </label>
            {where.areas.length > 1 && (
              <button
                type="button"
                className={`btn btn-xs btn-square ${isShown(false, entry.id) ? "halo" : ""}`}
                aria-label={`Area ${i + 1} alone, as a matte`}
                aria-pressed={isShown(false, entry.id)}
                onClick={() => show(false, entry.id)}
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
            <PickedColour entry={entry} before={id} onColour={(colour) => setNow(entry, "colour", colour)} />
          )}
          {(entry.kind === "shape" || entry.kind === "polygon") && (look.tracks?.length ?? 0) > 0 && (
            <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2">
              <span>Track</span>
              <select
                className="select select-xs w-full"
                aria-label={`Track of area ${i + 1}`}
                value={entry.follow ?? ""}
                onChange={(event) => follow(entry, event.target.value || null)}
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
          {Object.entries(fieldsOf(entry)).map(([name, field]) => (
            <NumberField
              key={name}
              {...field}
              value={valueNow(entry, name)}
              beside={<KeyMark path={inArea(id, entry, name)} />}
              onChange={(value) => move(entry, name, value)}
            />
          ))}
        </div>
      ))}
      {where && (
        <>
          <NumberField
            {...WHERE_FIELDS.feather}
            value={now!.feather}
            beside={<KeyMark path={[id, "where.feather"]} />}
            onChange={(feather) => put("feather", feather)}
          />
          <NumberField
            {...WHERE_FIELDS.strength}
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
                className={`btn btn-xs ${isShown(over, null) ? "halo" : ""}`}
                aria-pressed={isShown(over, null)}
                onClick={() => show(over, null)}
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
