import type { Where } from "@/core/where/schema";
import { create } from "zustand";
import type { ParameterValue, Values } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { STATIONS } from "@/core/elements/definition";
import type { Look, LookElement } from "@/core/look/look";
import type { Standing } from "./unsaved";
import { withoutArea, withoutWhere } from "@/core/when/when";

/** How the picture is compared: what the other picture leaves out, and whether it is held or behind a wipe. */
export type Scope = "element" | "path";
export type Zoom = "fit" | 1 | 2 | 4;

interface Bench {
  look: Look | null;
  past: Look[];
  future: Look[];
  /** What the last change was to, so that one movement of a control is one step to undo. */
  lastChange: { what: string; at: number } | null;
  selected: string | null;
  frame: number;
  zoom: Zoom;
  held: Scope | null;
  wipe: Scope | null;
  matte: boolean;
  /** The selected element's area is shown: as a matte, or over the picture. */
  area: "matte" | "over" | null;
  playing: boolean;
  /** What another window made of the look meanwhile: nothing is saved until the user has said which is to stand. */
  conflict: Standing | null;
  /** What the server holds now that this was said. */
  resolved: Standing | null;
  open(look: Look, frame: number, selected: string | null, conflict?: Standing | null): void;
  /** Goes on with `look` above what another window saved. */
  resolve(theirs: Standing, look: Look): void;
  /** Takes the look of another window; undo leads back. */
  takeOver(look: Look): void;
  /** What the next click in the picture gives to an area of the selected element, or of the whole path. */
  picking: { area: number; what: "colour" | "points" } | null;
  set(
    change: Partial<
      Pick<
        Bench,
        "picking" | "selected" | "frame" | "zoom" | "held" | "wipe" | "matte" | "area" | "playing" | "conflict"
      >
    >,
  ): void;
  change(what: string, look: Look): void;
  undo(): void;
  redo(): void;
}

const STEPS_KEPT = 200;
/** Changes to the same thing within this time are one step, ms. */
const ONE_STEP = 900;

export const useBench = create<Bench>((set) => ({
  look: null,
  past: [],
  future: [],
  lastChange: null,
  selected: null,
  frame: 1,
  zoom: "fit",
  held: null,
  wipe: null,
  matte: false,
  area: null,
  picking: null,
  playing: false,
  conflict: null,
  resolved: null,
  open: (look, frame, selected, conflict = null) =>
    set({
      conflict,
      resolved: null,
      look,
      frame,
      selected,
      past: [],
      future: [],
      lastChange: null,
      held: null,
      wipe: null,
      matte: false,
      area: null,
      picking: null,
      playing: false,
    }),
  resolve: (theirs, look) =>
    set(({ look: before, past }) => ({
      look,
      past: before && before !== look ? [...past, before].slice(-STEPS_KEPT) : past,
      conflict: null,
      resolved: theirs,
      lastChange: null,
    })),
  takeOver: (look) =>
    set(({ look: before, past }) => ({
      look,
      past: before ? [...past, before].slice(-STEPS_KEPT) : past,
      future: [],
      lastChange: null,
    })),
  // Another element has areas of its own.
  set: (change) => set("selected" in change ? { picking: null, ...change } : change),
  change: (what, look) =>
    set(({ look: before, past, lastChange }) => {
      const now = Date.now();
      const same = lastChange?.what === what && now - lastChange.at < ONE_STEP;
      return {
        look,
        past: same || !before ? past : [...past, before].slice(-STEPS_KEPT),
        future: [],
        lastChange: { what, at: now },
      };
    }),
  undo: () =>
    set(({ look, past, future }) =>
      past.length && look
        ? { look: past.at(-1)!, past: past.slice(0, -1), future: [look, ...future], lastChange: null }
        : {},
    ),
  redo: () =>
    set(({ look, past, future }) =>
      future.length && look
        ? { look: future[0]!, future: future.slice(1), past: [...past, look], lastChange: null }
        : {},
    ),
}));

export const elementsOf = (look: Look) => look.elements as LookElement[];
const timedOf = (look: Look, id: string | null) =>
  id === null ? look.when : elementsOf(look).find((element) => element.id === id)?.when;
const withElements = (look: Look, elements: LookElement[]): Look => ({
  ...look,
  elements: elements as Look["elements"],
});

/** Changes of a look as plain functions of it; the store keeps the steps. */
export const edit = {
  element: (look: Look, id: string, change: Partial<Omit<LookElement, "id" | "kind">>) =>
    withElements(
      look,
      elementsOf(look).map((element) => (element.id === id ? { ...element, ...change } : element)),
    ),
  parameter: (look: Look, id: string, name: string, value: ParameterValue | undefined) => {
    const element = elementsOf(look).find((entry) => entry.id === id);
    if (!element) return look;
    const params = { ...element.params, [name]: value } as Values;
    if (value === undefined) delete params[name];
    return edit.element(look, id, { params });
  },
  remove: (look: Look, id: string) =>
    withElements(
      look,
      elementsOf(look).filter((element) => element.id !== id),
    ),
  move: (look: Look, id: string, to: number) => {
    const elements = elementsOf(look);
    const moving = elements.find((element) => element.id === id);
    if (!moving) return look;
    const rest = elements.filter((element) => element.id !== id);
    const place = Math.max(0, Math.min(rest.length, to));
    return withElements(look, [...rest.slice(0, place), moving, ...rest.slice(place)]);
  },
  /** Adds an element where light meets its station. */
  add: (look: Look, kind: string): { look: Look; id: string } => {
    const elements = elementsOf(look);
    const rank = (entry: string) => STATIONS.indexOf(definitionOf(entry).station);
    const after = elements.findLastIndex((element) => rank(element.kind) <= rank(kind));
    let number = 1;
    while (elements.some(({ id }) => id === `${kind}-${number}`)) number++;
    const element: LookElement = { id: `${kind}-${number}`, kind, on: true, strength: 1, mix: 1, params: {} };
    return {
      look: withElements(look, [...elements.slice(0, after + 1), element, ...elements.slice(after + 1)]),
      id: element.id,
    };
  },
  /** Where an element acts, or (no id) the whole path; everywhere when undefined. */
  where: (look: Look, id: string | null, where: Where | undefined): Look =>
    edit.area(look, id, where, where ? timedOf(look, id) : withoutWhere(timedOf(look, id))),
  /** Takes one area away, and what is keyframed in it. */
  withoutArea: (look: Look, id: string | null, where: Where, area: number): Look =>
    where.areas.length > 1
      ? edit.area(
          look,
          id,
          { ...where, areas: where.areas.filter((_, i) => i !== area) },
          withoutArea(timedOf(look, id), area),
        )
      : edit.where(look, id, undefined),
  area: (look: Look, id: string | null, where: Where | undefined, when: LookElement["when"]): Look => {
    const timed = when && Object.keys(when).length ? when : undefined;
    return id === null ? { ...look, where, when: timed } : edit.element(look, id, { where, when: timed });
  },
  /** The light path up to an element; the footage itself for the whole path. */
  upTo: (look: Look, id: string | null) =>
    withElements(
      { ...look, where: undefined, when: undefined },
      id === null
        ? []
        : elementsOf(look).slice(
            0,
            elementsOf(look).findIndex((element) => element.id === id),
          ),
    ),
  /** The look without one element, or without all. */
  without: (look: Look, scope: Scope, id: string | null) =>
    scope === "path" ? withElements(look, []) : id ? edit.element(look, id, { on: false }) : look,
};
