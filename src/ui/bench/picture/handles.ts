import type { Values } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import type { Moved } from "@/core/handles/handle";
import { carriedAt, type LookAtFrame } from "@/core/look/at-frame";
import { type Carried, followedBack } from "@/core/where/follow";
import { inArea, type Path, type Settable } from "@/core/look/edit";
import { setShown } from "@/core/look/timing";
import type { Look } from "@/core/look/look";
import { areaRange, type Range, rangeOf, within } from "@/core/look/ranges";
import type { Area, Where } from "@/core/where/schema";
import { areaDefinition } from "@/core/where/registry";
import type { ShownHandle } from "../../viewport/handles/handles";
import { commit } from "../../shot/document";
import { viewNow } from "../../view/store";

const ANY: Range = { min: -Infinity, max: Infinity };

/** Values as they may be set: within their ranges. */
const settable = (value: Moved[string], range: Range): Settable => {
  const hold = (number: number) => within(number, range.min, range.max);
  return typeof value === "number" ? hold(value) : value.map(([x, y]) => [hold(x), hold(y)] as const);
};

/** Sets what a handle moved, each value by its path and within its range. `shown`: what the values were seen as. */
function movesOf(
  shown: Readonly<Record<string, unknown>>,
  pathOf: (name: string) => Path,
  rangeOfName: (name: string) => Range,
) {
  return (moved: Moved) => {
    const { frame } = viewNow();
    const set = (before: Look, [name, value]: [string, Moved[string]]) =>
      setShown(before, pathOf(name), settable(value, rangeOfName(name)), shown[name], frame);
    commit((now) => Object.entries(moved).reduce(set, now));
  };
}

function ofElement(at: LookAtFrame, id: string): ShownHandle[] {
  const element = at.elements.find((entry) => entry.id === id);
  if (!element) return [];
  const { handles = [], parameters } = definitionOf(element.kind);
  const { values } = element.state;
  const limits = (name: string) => (parameters[name] && rangeOf(parameters[name])) || ANY;
  return handles
    .filter(({ unless = {} }) => !Object.entries(unless).some(([name, value]) => values[name] === value))
    .map((handle) => ({
      id: `${id} ${handle.label}`,
      handle,
      values: values as Values,
      limits,
      onMove: movesOf(values, (name) => [id, name], limits),
    }));
}

const FEATHER = "feather";
const MAX_FEATHER = 50;

/** Values that place an area, which what it follows takes along. */
const PLACES = ["x", "y", "width", "height", "rotation", "points"];

/** What of an area was moved, as it is set: as it was on the frame of the track it follows. */
function asSet(area: Area, moved: Moved, by: Carried | null): Moved {
  if (!by) return moved;
  const back = followedBack({ ...area, ...moved } as Area, by) as unknown as Moved;
  const coordinates = PLACES.filter((name) => name in back && name in area);
  return { ...moved, ...Object.fromEntries(coordinates.map((name) => [name, back[name]!])) };
}

function ofArea(at: LookAtFrame, owner: string | null, where: Where, area: Area, number: number | null): ShownHandle[] {
  const handle = areaDefinition(area).handle?.(area);
  if (!handle) return [];
  const limits = (name: string) =>
    name === FEATHER ? { min: 0, max: MAX_FEATHER } : (areaRange(area.kind, name) ?? ANY);
  const pathOf = (name: string): Path => (name === FEATHER ? [owner, "where.feather"] : inArea(owner, area, name));
  const { geometry, tracks, frame } = at.context;
  const by = carriedAt(area, tracks, frame, geometry.width / geometry.height);
  const set = movesOf(by ? {} : { ...area, [FEATHER]: where.feather }, pathOf, limits);
  return [
    {
      id: `${owner} ${area.id}`,
      handle: { ...handle, label: area.name ?? (number === null ? handle.label : `${handle.label} ${number}`) },
      values: { ...area, [FEATHER]: where.feather },
      limits,
      onMove: (moved) => set(asSet(area, moved, by)),
    },
  ];
}

/** What of the selected element, or of the whole path, is dragged on the picture, as it is at this frame. */
export function handlesOf(at: LookAtFrame, selected: string | null): ShownHandle[] {
  const element = at.elements.find(({ id }) => id === selected);
  const owner = element?.id ?? null;
  const where = element ? element.where : at.where;
  const areas = where?.areas ?? [];
  const numbered = areas.length > 1;
  return [
    ...areas.flatMap((area, i) => ofArea(at, owner, where!, area, numbered ? i + 1 : null)),
    ...(element ? ofElement(at, element.id) : []),
  ];
}
