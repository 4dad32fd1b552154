import type { Station } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import { elementsOf, insertElements, indexFor, removeElement, withElements } from "./edit";
import type { Look, LookElement } from "./look";
import { withoutTrack } from "./tracks";

/** What of a look is carried to another shot: all of it, what stands at some stations, or elements by their ids. */
export const CARRIED_PARTS = ["all", "glass", "film", "print"] as const;
export type CarriedPart = (typeof CARRIED_PARTS)[number] | readonly string[];

/** In place of what the shot has of it, or beside it. */
export const CARRY_WAYS = ["instead", "beside"] as const;
export type CarryWay = (typeof CARRY_WAYS)[number];

const STATIONS_OF: Record<"glass" | "film" | "print", readonly Station[]> = {
  glass: ["front", "lens"],
  film: ["film"],
  print: ["print"],
};

const isAt =
  (stations: readonly Station[]) =>
  ({ kind }: LookElement) =>
    stations.includes(definitionOf(kind).station);

/** Parameters that name a track which is not there name none. */
function withoutTrackNamed(element: LookElement, id: string): LookElement {
  const named = Object.entries(definitionOf(element.kind).parameters).filter(
    ([name, { type }]) => type === "track" && element.params[name] === id,
  );
  return named.length
    ? { ...element, params: { ...element.params, ...Object.fromEntries(named.map(([name]) => [name, ""])) } }
    : element;
}

/** A look without the tracks that another one does not have: they follow what is in its own shot. */
function withTracksOf(from: Look, { tracks: known = [] }: Look): Look {
  const strange = (from.tracks ?? []).filter(({ id }) => !known.some((track) => track.id === id));
  return strange.reduce((before, { id }) => {
    const free = withoutTrack(before, id);
    return withElements(
      free,
      elementsOf(free).map((element) => withoutTrackNamed(element, id)),
    );
  }, from);
}

const isOfLens = (name: string) => name.startsWith("lens.");

/**
 * What of the look itself is timed, once another look is put in its place: how the lens was set on the shot stays the
 * shot's.
 */
function timedInPlace(from: Look, onto: Look): Look["when"] {
  const brought = Object.entries(from.when ?? {}).filter(([name]) => !isOfLens(name));
  const stays = Object.entries(onto.when ?? {}).filter(([name]) => isOfLens(name));
  const when = Object.fromEntries([...brought, ...stays]);
  return Object.keys(when).length ? when : undefined;
}

/**
 * Elements put in place of those of the same kind, in turn; what has no counterpart stands where light meets its
 * station.
 */
function instead(chosen: readonly LookElement[], onto: Look): Look {
  const taken = new Set<string>();
  return chosen.reduce((before, element) => {
    const counterpart = elementsOf(before).find(({ id, kind }) => kind === element.kind && !taken.has(id));
    if (!counterpart) {
      const added = insertElements(before, [element], indexFor(before, element.kind));
      for (const { id } of elementsOf(added)) if (!elementsOf(before).some((entry) => entry.id === id)) taken.add(id);
      return added;
    }
    taken.add(counterpart.id);
    return withElements(
      before,
      elementsOf(before).map((entry) => (entry === counterpart ? { ...element, id: counterpart.id } : entry)),
    );
  }, onto);
}

const beside = (elements: readonly LookElement[], onto: Look): Look =>
  elements.reduce((before, element) => insertElements(before, [element], indexFor(before, element.kind)), onto);

/** What stands at some stations in place of what stood there, as one piece of the path. */
function atStations(stations: readonly Station[], from: Look, onto: Look): Look {
  const isOfThem = isAt(stations);
  const brought = elementsOf(from).filter(isOfThem);
  const first = elementsOf(onto).findIndex(isOfThem);
  const cleared = elementsOf(onto)
    .filter(isOfThem)
    .reduce((before, { id }) => removeElement(before, id), onto);
  const index = first >= 0 ? first : brought[0] ? indexFor(cleared, brought[0].kind) : 0;
  return insertElements(cleared, brought, index);
}

/**
 * A look carried over to a shot that wears another. What belongs to the shot stays: its camera, its depth, its view,
 * its tracks, and how its lens was set frame by frame. With all, and with the glass, comes the lens; with all come the
 * overall strength and where the whole path acts. Beside what is there, nothing but elements is added (and a lens where
 * there is none).
 */
export function carried(whole: Look, onto: Look, part: CarriedPart, way: CarryWay): Look {
  const from = withTracksOf(whole, onto);
  if (typeof part !== "string") {
    const chosen = elementsOf(from).filter(({ id }) => part.includes(id));
    return way === "instead" ? instead(chosen, onto) : beside(chosen, onto);
  }
  if (way === "beside") {
    const elements = part === "all" ? elementsOf(from) : elementsOf(from).filter(isAt(STATIONS_OF[part]));
    const lens = part !== "film" && part !== "print" && !onto.lens.profile ? from.lens : onto.lens;
    return beside(elements, { ...onto, lens });
  }
  if (part === "all") {
    const { camera, depth, view, tracks } = onto;
    const { purpose: _, tags: __, ...recipe } = from;
    return { ...recipe, camera, depth, view, tracks, when: timedInPlace(from, onto) };
  }
  const lens = part === "glass" ? from.lens : onto.lens;
  return atStations(STATIONS_OF[part], from, { ...onto, lens });
}

/**
 * The element of another look that answers to one of this: of its id and kind, or else the only one of its kind in
 * both.
 */
export function counterpartOf(element: LookElement, own: Look, other: Look): LookElement | undefined {
  const same = elementsOf(other).find(({ id, kind }) => id === element.id && kind === element.kind);
  if (same) return same;
  const ofKind = (look: Look) => elementsOf(look).filter(({ kind }) => kind === element.kind);
  return ofKind(own).length === 1 && ofKind(other).length === 1 ? ofKind(other)[0] : undefined;
}

/**
 * A look with one element as another look has it: changed, put in, or (where only this look has it) taken out.
 * `id`: of the element in this look, or in the other one where this has none.
 */
export function takenOver(now: Look, then: Look, id: string): Look {
  const own = elementsOf(now).find((element) => element.id === id);
  const theirs = own ? counterpartOf(own, now, then) : elementsOf(then).find((element) => element.id === id);
  if (!theirs) return removeElement(now, id);
  const free = elementsOf(withTracksOf(withElements(then, [theirs]), now))[0]!;
  if (!own) return insertElements(now, [free], indexFor(now, theirs.kind));
  return withElements(
    now,
    elementsOf(now).map((element) => (element === own ? { ...free, id: own.id } : element)),
  );
}
