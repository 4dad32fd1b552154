import type { ElementState, Values } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { FrameContext, ShotFrame } from "../frame/context";
import { DEFAULT_RATE } from "../frame/context";
import { frameGeometry } from "../frame/geometry";
import type { Cabinet } from "../profile/profiles";
import { valueOf, withValueOf } from "../when/address";
import { timedValue } from "../when/when";
import { type Carried, followed } from "../where/follow";
import type { Area, Where } from "../where/schema";
import { motionAt, type Track } from "../track/track";
import type { Moment } from "../when/generator";
import type { Path } from "./edit";
import { pathBefore } from "./glass";
import { type Look, type LookElement, resolveElement } from "./look";
import { takenLens, takingContext } from "./taking";
import { elementRanges, clampedParameters, clampedWhere, LOOK_RANGES, type Range, within } from "./ranges";
import { namesInElement, type When } from "./timed";

/** An element as it is at a frame: every value there, within its range. */
export interface ElementAtFrame {
  id: string;
  kind: string;
  on: boolean;
  /** Its own strength, before the look's overall strength. */
  strength: number;
  /** Its values, and its strength with the look's overall strength in it. */
  state: ElementState;
  where: Where | undefined;
  /** Why it can do nothing here (a missing table), or null. */
  missing: string | null;
  /** Whether it changes anything: it is on, neither strength nor mix is 0, and it lacks nothing. */
  isActive: boolean;
}

/** A value that lay outside its range, by its element (null: the look's own) and name, and what it is held to. */
export interface Clamped {
  element: string | null;
  name: string;
  value: unknown;
  to: unknown;
}

/** A look at a frame: what acts, how strongly, with which glass. */
export interface LookAtFrame {
  context: FrameContext;
  /** Overall strength. */
  strength: number;
  elements: ElementAtFrame[];
  /** The area of the whole path. */
  where: Where | undefined;
  clamped: Clamped[];
}

/** What resolving a look goes by, and what it notes. */
interface Resolving {
  moment: Moment;
  tracks: ReadonlyMap<string, Track>;
  /** Width over height of the frame, px. */
  aspect: number;
  clamped: Clamped[];
}

/** Sets everything that is timed to its value at a frame. */
function timedAt<T>(
  target: T,
  when: When | undefined,
  names: (name: string) => string[],
  { moment }: Resolving,
  from: Values,
): T {
  let out = target;
  for (const [name, timed] of Object.entries(when ?? {}))
    out = withValueOf(out, names(name), (base) => timedValue(timed, base ?? from[name], moment));
  return out;
}

/** Where an area goes that follows a track; null where it follows none. */
export function carriedAt(
  area: Area,
  tracks: ReadonlyMap<string, Track>,
  frame: number,
  aspect: number,
): Carried | null {
  const track = area.follow === undefined ? undefined : tracks.get(area.follow);
  if (!track) return null;
  const { x, y } = track.region;
  return { motion: motionAt(track, frame), anchor: [x, y], aspect };
}

/** Areas where what they follow has gone, and all of them within their bounds. */
function whereAt(where: Where, element: string | null, isTimed: boolean, to: Resolving): Where {
  const { tracks, moment, aspect, clamped } = to;
  const follows = where.areas.some(({ follow }) => follow !== undefined && tracks.has(follow));
  if (!isTimed && !follows) return where;
  const areas = where.areas.map((area) => {
    const by = carriedAt(area, tracks, moment.frame, aspect);
    return by ? followed(area, by) : area;
  });
  return clamping(clamped, element, "where", { ...where, areas }, clampedWhere);
}

/** What the look says of the lens, its strength and its area, at a frame. */
function ownAt(look: Look, to: Resolving): Pick<Look, "lens" | "strength" | "where"> {
  const { lens, strength, where, when } = look;
  let own = timedAt({ lens, strength, where }, when, (name) => name.split("."), to, {});
  for (const [name, range] of Object.entries(LOOK_RANGES))
    own = withValueOf(own, name.split("."), (value) => clamping(to.clamped, null, name, value, clampedNumber(range)));
  return own.where ? { ...own, where: whereAt(own.where, null, when !== undefined, to) } : own;
}

const clampedNumber =
  ({ min, max }: Range) =>
  (value: number) =>
    within(value, min, max);

/** A value held to its range, which is noted where that changes it. */
function clamping<T>(
  clamped: Clamped[],
  element: string | null,
  name: string,
  value: unknown,
  hold: (value: T) => T,
): T {
  const to = hold(value as T);
  if (JSON.stringify(to) !== JSON.stringify(value)) clamped.push({ element, name, value, to });
  return to;
}

/** What a look leaves out, and noise is added to, is what the lens measured, or the definition's default. */
function elementAt(element: LookElement, overall: number, context: FrameContext, to: Resolving): ElementAtFrame {
  const { clamped } = to;
  const { id, kind, on, keptOut, when } = element;
  const definition = definitionOf(kind);
  const { values } = resolveElement(element, context.lens);
  const { strength, mix, params, where } = timedAt(element, when, namesInElement, to, values);
  const ranges = elementRanges(definition.negative);
  const hold = (name: string, value: number) => clamping(clamped, id, name, value, clampedNumber(ranges[name]!));
  const own = { ...element, params: when ? clampedParameters(params, definition.parameters) : params };
  for (const name of Object.keys(when ?? {}))
    if (name in params && JSON.stringify(own.params[name]) !== JSON.stringify(params[name]))
      clamped.push({ element: id, name, value: params[name], to: own.params[name] });
  const ownStrength = hold("strength", strength);
  const state: ElementState = {
    ...resolveElement(own, context.lens),
    strength: ownStrength * (keptOut ? 1 : overall),
    mix: hold("mix", mix),
  };
  const missing = definition.missing?.(state, context) ?? null;
  return {
    id,
    kind,
    on,
    strength: ownStrength,
    state,
    where: where && whereAt(where, id, when !== undefined, to),
    missing,
    isActive: on && state.strength !== 0 && state.mix !== 0 && !missing,
  };
}

/** A look's tracks, by id. */
export const tracksOf = ({ tracks = [] }: Pick<Look, "tracks">): ReadonlyMap<string, Track> =>
  new Map(tracks.map((track) => [track.id, track]));

/**
 * Resolves a look for one frame of a shot: keyframes and generators, what the lens measured, overall strength, ranges.
 * Everyone who wants to know what a look is at a frame asks this. An element with nothing to do is left out of the
 * path, which makes strength 0, mix 0 and off exactly no change.
 */
export function lookAt(look: Look, cabinet: Cabinet, at: ShotFrame): LookAtFrame {
  const clamped: Clamped[] = [];
  const { width, height, overscan, frame, hasDepth = false, frameRate = DEFAULT_RATE, shot } = at;
  const tracks = tracksOf(look);
  const to: Resolving = { moment: { frame, frameRate, tracks }, tracks, aspect: width / height, clamped };
  const { lens, strength, where } = ownAt(look, to);
  const { sensor, squeeze } = look.camera;
  const context: FrameContext = {
    geometry: frameGeometry(width, height, sensor, squeeze, overscan),
    frame,
    cabinet,
    lens: (lens.profile && cabinet.lenses.get(lens.profile)) || null,
    taken: null,
    focalLength: lens.focalLength,
    stop: lens.stop,
    focusDistance: lens.focusDistance,
    hasDepth: hasDepth || look.depth !== undefined,
    depthPlate: look.depth ?? null,
    frameRate,
    shot: shot ?? { first: frame, last: frame },
    tracks,
    pathBefore: (element) => pathBefore(look, cabinet, element),
  };
  const { taking } = look.camera;
  const shotWith = taking && takingContext(taking, context);
  if (taking && shotWith) context.taken = takenLens(taking, strength, shotWith);
  const elements = (look.elements as LookElement[]).map((element) => elementAt(element, strength, context, to));
  return { context, strength, elements, where, clamped };
}

/** A value of a look as it is at the frame; undefined where there is none of that name. */
export function valueAtFrame({ context, strength, elements, where }: LookAtFrame, [id, name]: Path): unknown {
  if (id === null) {
    const { focalLength, stop, focusDistance } = context;
    return valueOf({ strength, lens: { focalLength, stop, focusDistance }, where }, name.split("."));
  }
  const element = elements.find((entry) => entry.id === id);
  if (!element) return undefined;
  const { state } = element;
  return valueOf(
    { strength: element.strength, mix: state.mix, params: state.values, where: element.where },
    namesInElement(name),
  );
}
