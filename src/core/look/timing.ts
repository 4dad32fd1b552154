import { extremesOf } from "../maths/extremes";
import { definitionOf } from "../elements/registry";
import type { Kind, TimedValue } from "../when/generator";
import type { Ease, Keyframe, Keyframes } from "../when/keyframes";
import { keyframes, withKeyframe } from "../when/keyframes";
import { kindAt, type Timed } from "../when/when";
import { DEFAULT_RATE } from "../frame/context";
import { describe } from "./describe";
import { elementsOf, type Path, type Settable, setAt, timedAt, valueAt, withFirstKeyframe, withTimed } from "./edit";
import type { Look } from "./look";
import { kindInWhere } from "./timed";
import { LOOK_RANGES, within } from "./ranges";

/** One keyframe of a look: whose, and at which frame. */
export interface KeyframeRef {
  path: Path;
  frame: number;
}

export const samePath = (a: Path, b: Path): boolean => a[0] === b[0] && a[1] === b[1];
const isPlace = (a: KeyframeRef, b: KeyframeRef) => samePath(a.path, b.path) && a.frame === b.frame;

/** What moves a value by keyframes; undefined where it is not moved so. */
export function keysAt(look: Look, path: Path): Keyframes | undefined {
  const timed = timedAt(look, path);
  return timed && "keys" in timed ? timed.keys : undefined;
}

/** Keyframes put in place of those that are there; without any the value stands still, as it was at the last one. */
function withKeys(look: Look, path: Path, keys: Keyframes): Look {
  const timed = timedAt(look, path);
  if (keys.length) return withTimed(look, path, { ...timed, keys } as Timed);
  const { noise } = (timed ?? {}) as { noise?: Extract<Timed, { noise: unknown }>["noise"] };
  const last = keysAt(look, path)?.[0]?.value;
  const still = withTimed(look, path, noise ? ({ noise } as Timed) : undefined);
  return last === undefined ? still : setAt(still, path, last as TimedValue, 0);
}

/** Sets a keyframe at a frame; what was not timed begins to go by keyframes. */
export function withKeyframeAt(look: Look, path: Path, value: TimedValue, frame: number): Look {
  const keys = keysAt(look, path);
  if (keys) return withKeys(look, path, withKeyframe(keys, frame, value));
  const timed = timedAt(look, path);
  if (!timed || "noise" in timed) {
    const begun = withFirstKeyframe(look, path, value, frame);
    return timed ? withTimed(begun, path, { ...timedAt(begun, path)!, ...timed } as Timed) : begun;
  }
  return look;
}

const byPath = (keyframes: readonly KeyframeRef[]): { path: Path; frames: Set<number> }[] => {
  const rows: { path: Path; frames: Set<number> }[] = [];
  for (const { path, frame } of keyframes) {
    const row = rows.find((entry) => samePath(entry.path, path));
    if (row) row.frames.add(frame);
    else rows.push({ path, frames: new Set([frame]) });
  }
  return rows;
};

export function withoutKeyframes(look: Look, keyframes: readonly KeyframeRef[]): Look {
  return byPath(keyframes).reduce((before, { path, frames }) => {
    const keys = keysAt(before, path) ?? [];
    return withKeys(
      before,
      path,
      keys.filter(({ frame }) => !frames.has(frame)),
    );
  }, look);
}

/** Keyframes at other frames: those that are there give way to those that come. */
function placed(look: Look, keyframes: readonly KeyframeRef[], to: (frame: number) => number): Look {
  return byPath(keyframes).reduce((before, { path, frames }) => {
    const keys = keysAt(before, path) ?? [];
    const moved = new Map<number, Keyframe>();
    for (const key of keys.filter(({ frame }) => !frames.has(frame))) moved.set(key.frame, key);
    for (const key of keys.filter(({ frame }) => frames.has(frame)))
      moved.set(Math.round(to(key.frame)), { ...key, frame: Math.round(to(key.frame)) });
    return withKeys(
      before,
      path,
      [...moved.values()].sort((a, b) => a.frame - b.frame),
    );
  }, look);
}

export const movedKeyframes = (look: Look, keyframes: readonly KeyframeRef[], by: number): Look =>
  placed(look, keyframes, (frame) => frame + by);

/** Keyframes drawn apart or together about a frame. */
export const stretchedKeyframes = (
  look: Look,
  keyframes: readonly KeyframeRef[],
  about: number,
  factor: number,
): Look => placed(look, keyframes, (frame) => about + (frame - about) * factor);

/** How keyframes go on to the next ones. */
export function withEase(look: Look, keyframes: readonly KeyframeRef[], ease: Ease): Look {
  return byPath(keyframes).reduce((before, { path, frames }) => {
    const keys = keysAt(before, path) ?? [];
    return withKeys(
      before,
      path,
      keys.map((key) => (frames.has(key.frame) ? { ...key, ease } : key)),
    );
  }, look);
}

/** Copied keyframes, counted from the first of them. */
export type KeyClip = readonly { path: Path; after: number; key: Keyframe }[];

export function copiedKeyframes(look: Look, keyframes: readonly KeyframeRef[]): KeyClip {
  const first = extremesOf(keyframes.map(({ frame }) => frame)).least;
  return byPath(keyframes).flatMap(({ path, frames }) =>
    (keysAt(look, path) ?? [])
      .filter(({ frame }) => frames.has(frame))
      .map((key) => ({ path, after: key.frame - first, key })),
  );
}

/** Puts copied keyframes on their own values, the first of them at a frame. */
export function pastedKeyframes(look: Look, clip: KeyClip, frame: number): { look: Look; places: KeyframeRef[] } {
  const places = clip.map(({ path, after }) => ({ path, frame: frame + after }));
  const there = clip.filter(({ path }) => path[0] === null || elementsOf(look).some(({ id }) => id === path[0]));
  const pasted = there.reduce(
    (before, { path, after, key }) =>
      withEase(
        withKeyframeAt(before, path, key.value as TimedValue, frame + after),
        [{ path, frame: frame + after }],
        key.ease,
      ),
    look,
  );
  return { look: pasted, places: places.filter(({ path }) => there.some((entry) => samePath(entry.path, path))) };
}

/** Frames a value is sampled at when what moves it becomes keyframes; more are spaced out. */
const MAX_SAMPLES = 1000;

/**
 * Turns whatever moves a value into keyframes: its value at every frame of the shot, those left out that lie on a
 * straight line.
 */
export function asKeyframes(
  look: Look,
  path: Path,
  valueAt: (frame: number) => TimedValue,
  { first, last }: { first: number; last: number },
): Look {
  const step = Math.max(1, Math.ceil((last - first + 1) / MAX_SAMPLES));
  const keys: Keyframe[] = [];
  for (let frame = first; frame <= last; frame += step) {
    const value = valueAt(frame);
    keys.push({ frame, value: (typeof value === "number" ? value : [...value]) as Keyframe["value"], ease: "linear" });
  }
  return withTimed(look, path, { keys: thinned(keys) });
}

/** Differences, against the whole range, below which a value lies on the straight line between its neighbours. */
const ON_LINE = 1e-4;

/** Keyframes without those that a straight line between their neighbours gives anyway. */
function thinned(keys: Keyframe[]): Keyframe[] {
  const numbers = keys.map(({ value }) => [value].flat(2) as number[]);
  const spans = numbers[0]!.map((_, c) => {
    const all = numbers.map((value) => value[c]!);
    const { least, most } = extremesOf(all);
    return most - least;
  });
  const isStraight = (from: number, to: number) => {
    for (let i = from + 1; i < to; i++) {
      const t = (i - from) / (to - from);
      const off = numbers[i]!.map(
        (value, c) =>
          Math.abs(value - (numbers[from]![c]! * (1 - t) + numbers[to]![c]! * t)) > ON_LINE * (spans[c] || 1),
      );
      if (off.some(Boolean)) return false;
    }
    return true;
  };
  const result = [keys[0]!];
  for (let from = 0; from < keys.length - 1;) {
    let to = from + 1;
    while (to + 1 < keys.length && isStraight(from, to + 1)) to++;
    result.push(keys[to]!);
    from = to;
  }
  return result;
}

/**
 * Sets a value to what a control shows it as at a frame. What wavers on top of it, or what it follows, stays in what is
 * shown: the value under it is moved by as much as what is shown was, within its range.
 */
export function setShown(look: Look, path: Path, value: Settable, shown: unknown, frame: number): Look {
  const timed = timedAt(look, path);
  const isOnTop = timed && ("noise" in timed || "track" in timed) && !("ramp" in timed) && !("table" in timed);
  if (!isOnTop || typeof value !== "number" || typeof shown !== "number") return setAt(look, path, value, frame);
  const own =
    "keys" in timed
      ? keyframes.value(timed.keys, 0, { frame, frameRate: DEFAULT_RATE })
      : (valueAt(look, path) ?? shown);
  const { min, max } = describe(look, path);
  return setAt(look, path, within(Number(own) + value - shown, min, max), frame);
}

/** Whether a value may be timed: as a number, or as three. */
export function timeableAt(look: Look, [id, name]: Path): Kind | null {
  if (id === null) return LOOK_RANGES[name] ? "number" : kindInWhere(look.where, name);
  const element = elementsOf(look).find((entry) => entry.id === id);
  if (!element) return null;
  if (name === "strength" || name === "mix") return "number";
  const parameter = definitionOf(element.kind).parameters[name];
  if (!parameter) return kindInWhere(element.where, name) ?? kindAt(element, name.split("."));
  return parameter.type === "number"
    ? "number"
    : ["triple", "colour"].includes(parameter.type)
      ? "triple"
      : parameter.type === "curve"
        ? "points"
        : null;
}

/**
 * Every value of a look that something moves, in the order of the path; `of`: only an element's, or (null) the look's
 * own.
 */
export function timedPaths(look: Look, of?: string | null): Path[] {
  const own = Object.keys(look.when ?? {}).map((name): Path => [null, name]);
  const elements = elementsOf(look).flatMap(({ id, when }) => Object.keys(when ?? {}).map((name): Path => [id, name]));
  return [...own, ...elements].filter(([id]) => of === undefined || id === of);
}

/** The frames of every keyframe of some values, ascending. */
export const keyFramesOf = (look: Look, paths: readonly Path[]): number[] =>
  [...new Set(paths.flatMap((path) => (keysAt(look, path) ?? []).map(({ frame }) => frame)))].sort((a, b) => a - b);

export const hasKeyAt = (look: Look, keyframe: KeyframeRef): boolean =>
  (keysAt(look, keyframe.path) ?? []).some(({ frame }) => isPlace(keyframe, { path: keyframe.path, frame }));
