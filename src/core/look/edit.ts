import { type ParameterValue, STATIONS } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { TimedValue } from "../when/generator";
import { type LensRow, lensTables } from "../when/lens-data";
import { keyframes, withKeyframe } from "../when/keyframes";
import { valueOf, withValueOf } from "../when/address";
import { withPointsAlike } from "../when/closed-line";
import { type Area, type Where, whereSchema } from "../where/schema";
import type { Look, LookElement } from "./look";
import { namesInElement, type When, withoutArea } from "./timed";

/**
 * Where in a look a value stands: in an element, by its id, or (null) in the look itself; and its name, as `when` has
 * it (`strength`, a parameter, `where.areas.area-1.x`, `lens.stop`). Further parts of the look go by their names:
 * `view.kind`.
 */
export type Path = readonly [element: string | null, name: string];

/** What a value may be set to; a list is the points of a polygon. */
export type Settable = ParameterValue | null | readonly (readonly [number, number])[];

export const elementsOf = (look: Look) => look.elements as LookElement[];

/** An element of a look. Throws RangeError where there is none of that id. */
export function elementNamed(look: Look, id: string): LookElement {
  const found = elementsOf(look).find((element) => element.id === id);
  if (!found) throw new RangeError(`The look has no element “${id}”`);
  return found;
}

export const withElements = (look: Look, elements: LookElement[]): Look => ({
  ...look,
  elements: elements as Look["elements"],
});

const withElement = (look: Look, id: string, change: (element: LookElement) => LookElement): Look =>
  withElements(
    look,
    elementsOf(look).map((element) => (element.id === id ? change(element) : element)),
  );

/** Changes what a path's first part stands for: an element, or the look itself. */
function withOwner(look: Look, [id]: Path, change: <T extends { when?: When }>(owner: T) => T): Look {
  return id === null ? change(look) : withElement(look, id, change);
}

const namesOf = ([id, name]: Path) => (id === null ? name.split(".") : namesInElement(name));

/** What moves the value at a path, or undefined. */
export const timedAt = (look: Look, [id, name]: Path) => (id === null ? look : elementNamed(look, id)).when?.[name];

/** Whether anything of a look changes from frame to frame. */
export const isTimed = (look: Look): boolean =>
  look.when !== undefined || (look.tracks?.length ?? 0) > 0 || elementsOf(look).some(({ when }) => when !== undefined);

/** The value at a path as the look says it, whatever moves it; undefined where it is left out. */
export const valueAt = (look: Look, path: Path): unknown =>
  valueOf(path[0] === null ? look : elementNamed(look, path[0]), namesOf(path));

const isTimedValue = (value: unknown): value is TimedValue => typeof value === "number" || Array.isArray(value);

/**
 * The look with one value set. What goes by keyframes gets one at `frame`; everything else changes throughout (noise
 * then wavers about the new value). Undefined gives it back to the lens, or the definition: what is timed in it goes,
 * too.
 */
export function setAt(look: Look, path: Path, value: Settable | undefined, frame: number): Look {
  const timed = timedAt(look, path);
  if (value === undefined && timed) return setAt(withTimed(look, path, undefined), path, undefined, frame);
  if (timed && "keys" in timed && isTimedValue(value)) {
    const keys = isPolygon(look, path) ? withPointsAlike(timed.keys, frame, value as Point[]) : timed.keys;
    return withTimed(look, path, { ...timed, keys: withKeyframe(keys, frame, value) });
  }
  return withOwner(look, path, (owner) => withValueOf(owner, namesOf(path), () => value));
}

type Point = readonly [number, number];

/** Whether a path leads to the points of an area's closed line. */
function isPolygon(look: Look, [id, name]: Path): boolean {
  const [where, areas, area, value] = name.split(".");
  const found = where === "where" && areas === "areas" && whereOf(look, id)?.areas.find((entry) => entry.id === area);
  return found ? found.kind === "polygon" && value === "points" : false;
}

/** Several values set in one. */
export const setAll = (look: Look, values: readonly (readonly [Path, Settable])[], frame: number): Look =>
  values.reduce((before, [path, value]) => setAt(before, path, value, frame), look);

/** The look with what moves a value set, or (undefined) nothing moving it. */
export function withTimed(look: Look, path: Path, timed: When[string] | undefined): Look {
  return withOwner(look, path, (owner) => {
    const { [path[1]]: _, ...others } = owner.when ?? {};
    const when = timed ? { ...others, [path[1]]: timed } : others;
    return { ...owner, when: Object.keys(when).length ? when : undefined };
  });
}

/** The look with its lens set frame by frame, as it was recorded: what was not recorded stays as it is. */
export const withLensData = (look: Look, rows: readonly LensRow[]): Look =>
  Object.entries(lensTables(rows)).reduce((before, [name, timed]) => withTimed(before, [null, name], timed), look);

/** The look with a value that begins to go by keyframes, the first of them here. */
export const withFirstKeyframe = (look: Look, path: Path, value: TimedValue, frame: number): Look =>
  withTimed(look, path, { keys: keyframes.begin(value, frame) });

export const switchElement = (look: Look, id: string, on: boolean): Look =>
  withElement(look, id, (element) => ({ ...element, on }));

export const removeElement = (look: Look, id: string): Look =>
  withElements(
    look,
    elementsOf(look).filter((element) => element.id !== id),
  );

/** Moves an element to a place along the path, counted without it. */
export function moveElement(look: Look, id: string, to: number): Look {
  const moving = elementNamed(look, id);
  const rest = elementsOf(look).filter((element) => element !== moving);
  const index = Math.max(0, Math.min(rest.length, to));
  return withElements(look, [...rest.slice(0, index), moving, ...rest.slice(index)]);
}

/** Adds an element at a place along the path, or else where light meets its station; `id` is the new one's. */
export function addElement(look: Look, kind: string, at?: number): { look: Look; id: string } {
  const elements = elementsOf(look);
  const element: LookElement = { id: freeId(look, kind), kind, on: true, strength: 1, mix: 1, params: {} };
  return {
    look: withElements(look, elements.toSpliced(at ?? indexFor(look, kind), 0, element)),
    id: element.id,
  };
}

/** Whether an element is one that a lens profile brings: part of the barrel. */
const isOfBarrel = ({ kind }: LookElement): boolean => {
  const { station, fromLens, check } = definitionOf(kind);
  return station === "lens" && (fromLens !== undefined || check !== undefined);
};

/** Fewest pieces that are drawn as one barrel. */
const MIN_BARREL = 3;

/**
 * The path in runs: what a lens profile brings as one barrel, where it stands together; everything else piece by piece.
 */
export function runsOf(look: Look): { barrel: boolean; elements: LookElement[] }[] {
  const runs: { barrel: boolean; elements: LookElement[] }[] = [];
  for (const element of elementsOf(look)) {
    const last = runs.at(-1);
    const barrel = look.lens.profile !== null && isOfBarrel(element);
    if (barrel && last?.barrel) last.elements.push(element);
    else runs.push({ barrel, elements: [element] });
  }
  return runs.flatMap((run) =>
    run.barrel && run.elements.length < MIN_BARREL
      ? run.elements.map((element) => ({ barrel: false, elements: [element] }))
      : [run],
  );
}

/** An id that is free in a look: its own, or the kind's with the first number that is. */
function freeId(look: Look, kind: string): string {
  const taken = new Set(elementsOf(look).map(({ id }) => id));
  let number = 1;
  while (taken.has(`${kind}-${number}`)) number++;
  return `${kind}-${number}`;
}

/**
 * Puts elements (of another look) at a place along the path, one after another; an id that is taken becomes another.
 */
export const insertElements = (look: Look, elements: readonly LookElement[], at: number): Look =>
  elements.reduce((before, element, i) => {
    const taken = elementsOf(before).some(({ id }) => id === element.id);
    const own = taken ? { ...element, id: freeId(before, element.kind) } : element;
    return withElements(before, elementsOf(before).toSpliced(at + i, 0, own));
  }, look);

/** Where along a path an element meets its station: behind the last one that light meets no later. */
export function indexFor(look: Look, kind: string): number {
  const rank = (entry: string) => STATIONS.indexOf(definitionOf(entry).station);
  return elementsOf(look).findLastIndex((element) => rank(element.kind) <= rank(kind)) + 1;
}

/**
 * Puts a copy of an element (of this look or of another) behind another one, or (null) at the end; `id` is the copy's.
 */
export function putElement(look: Look, element: LookElement, behind: string | null): { look: Look; id: string } {
  const elements = elementsOf(look);
  const id = freeId(look, element.kind);
  const index = behind === null ? elements.length : elements.findIndex((entry) => entry.id === behind) + 1;
  return {
    look: withElements(look, [...elements.slice(0, index), { ...element, id }, ...elements.slice(index)]),
    id,
  };
}

/** Where an element, or (null) the whole path, acts. */
export const whereOf = (look: Look, id: string | null): Where | undefined =>
  (id === null ? look : elementNamed(look, id)).where;

/** The look with where an element or the whole path acts set, and all that is timed in its owner. */
export const withWhere = (look: Look, id: string | null, where: Where | undefined, when: When | undefined): Look =>
  withOwner(look, [id, "where"], (owner) => ({ ...owner, where, when }));

/** Adds an area, as it is at first, to where an element or the whole path acts. Throws ZodError for what is no area. */
export function addArea(look: Look, id: string | null, area: unknown): Look {
  const before = whereOf(look, id);
  const where = whereSchema.parse({ ...before, areas: [...(before?.areas ?? []), area] });
  return withWhere(look, id, where, (id === null ? look : elementNamed(look, id)).when);
}

/** Takes one area away, and what is timed in it; without the last one it acts everywhere. */
export function removeArea(look: Look, id: string | null, area: string): Look {
  const { where, when } = id === null ? look : elementNamed(look, id);
  const areas = (where?.areas ?? []).filter((entry) => entry.id !== area);
  return areas.length
    ? withWhere(look, id, { ...where!, areas }, withoutArea(when, area))
    : withWhere(look, id, undefined, withoutArea(when));
}

/** Path of a value of an area. */
export const inArea = (id: string | null, area: Area, name: string): Path => [id, `where.areas.${area.id}.${name}`];
