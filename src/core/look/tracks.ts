import { definitionOf } from "../elements/registry";
import { type TrackStep, stepsOf, trackOf, regionOf } from "../track/follow";
import { motionAt, type Track } from "../track/track";
import { type Carried, followed, followedBack } from "../where/follow";
import type { Area, Where } from "../where/schema";
import { elementNamed, elementsOf, type Path, whereOf, withElements, withTimed } from "./edit";
import type { Look, LookElement } from "./look";
import type { When } from "./timed";

/** An id for a new track. */
export function freeTrackId({ tracks = [] }: Look): string {
  let number = 1;
  while (tracks.some(({ id }) => id === `track-${number}`)) number++;
  return `track-${number}`;
}

/** The look with a track put in, in place of the one of its id. */
export const withTrack = (look: Look, track: Track): Look => ({
  ...look,
  tracks: [...(look.tracks ?? []).filter(({ id }) => id !== track.id), track].sort((a, b) => a.id.localeCompare(b.id)),
});

const followsNot = (where: Where | undefined, id: string): Where | undefined =>
  where && {
    ...where,
    areas: where.areas.map((area) => (area.follow === id ? ({ ...area, follow: undefined } as Area) : area)),
  };
const movesNot = (when: When | undefined, id: string): When | undefined => {
  const left = Object.entries(when ?? {}).filter(([, timed]) => !("track" in timed && timed.track.id === id));
  return left.length ? Object.fromEntries(left) : undefined;
};

/** The look without a track; what went along with it stands where it was on the track's own frame. */
export function withoutTrack(look: Look, id: string): Look {
  const free = <T extends { where?: Where; when?: When }>(owner: T): T => ({
    ...owner,
    where: followsNot(owner.where, id),
    when: movesNot(owner.when, id),
  });
  const tracks = (look.tracks ?? []).filter((track) => track.id !== id);
  const elements = elementsOf(look).map(free) as LookElement[];
  return { ...withElements(free(look), elements), tracks: tracks.length ? tracks : undefined };
}

const carriedBy = (track: Track, frame: number, aspect: number): Carried => ({
  motion: motionAt(track, frame),
  anchor: [track.region.x, track.region.y],
  aspect,
});

/**
 * The look with an area that follows a track from now on, or (null) none: at `frame` it stays where it is seen.
 * `aspect`: the frame's width over its height, px.
 */
export function withFollowing(
  look: Look,
  owner: string | null,
  area: string,
  to: string | null,
  frame: number,
  aspect: number,
): Look {
  const trackNamed = (id: string | null | undefined) => look.tracks?.find((track) => track.id === id);
  const change = (entry: Area): Area => {
    if (entry.id !== area) return entry;
    const before = trackNamed(entry.follow);
    const seen = before ? followed(entry, carriedBy(before, frame, aspect)) : entry;
    const next = trackNamed(to);
    const own = next ? followedBack(seen, carriedBy(next, frame, aspect)) : seen;
    return { ...own, follow: next?.id } as Area;
  };
  const where = whereOf(look, owner);
  if (!where) return look;
  const changed = { ...where, areas: where.areas.map(change) };
  return owner === null
    ? { ...look, where: changed }
    : withElements(
        look,
        elementsOf(look).map((element) => (element.id === owner ? { ...element, where: changed } : element)),
      );
}

/** The look with a number that goes along with a track; both numbers, where it is one of a point in the picture. */
export function withTrackOn(look: Look, [id, name]: Path, track: string): Look {
  const point =
    id === null
      ? undefined
      : definitionOf(elementNamed(look, id).kind).handles?.find(
          (handle) => handle.kind === "point" && (handle.x === name || handle.y === name),
        );
  const names: [string, "x" | "y" | "rotation"][] =
    point?.kind === "point"
      ? [
          [point.x, "x"],
          [point.y, "y"],
        ]
      : [[name, /rotation|angle/.test(name) ? "rotation" : /y$/.test(name) ? "y" : "x"]];
  return names.reduce((before, [own, what]) => withTimed(before, [id, own], { track: { id: track, what } }), look);
}

/**
 * A track with steps put in place of those of the same frames; what lies between stays. Steps must touch what is there.
 */
export function withSteps(track: Track, steps: readonly TrackStep[], size: { width: number; height: number }): Track {
  const all = new Map(stepsOf(track, size).map((step) => [step.frame, step]));
  for (const step of steps) all.set(step.frame, step);
  const ordered = [...all.values()].sort((a, b) => a.frame - b.frame);
  const { id, name, model, reference, region, corrected } = track;
  return {
    ...trackOf(ordered, size, { id, name, model, reference, region: regionOf(track, size) }),
    region,
    ...(corrected ? { corrected } : {}),
  };
}

/** The track up to a frame, away from its reference: what lies beyond is made anew. */
export function cutAfter(track: Track, frame: number, size: { width: number; height: number }): Track {
  const forwards = frame >= track.reference;
  const remaining = stepsOf(track, size).filter((step) => (forwards ? step.frame <= frame : step.frame >= frame));
  const { id, name, model, reference, region, corrected } = track;
  return {
    ...trackOf(remaining, size, { id, name, model, reference, region: regionOf(track, size) }),
    region,
    ...(corrected ? { corrected } : {}),
  };
}
