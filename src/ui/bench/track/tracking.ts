import { framesIn, type Ranges } from "@/core/frame/ranges";
import { cutAfter, freeTrackId, withSteps, withTrack } from "@/core/look/tracks";
import { regionOf, type Region, type TrackStep, stepsOf, trackOf } from "@/core/track/follow";
import type { Track, TrackModel } from "@/core/track/track";
import type { TrackOrder, TrackReport } from "../../track/messages";
import { commitLater, lookNow } from "../../shot/document";
import { setView, viewNow } from "../../view/store";
import type { ShotDetail } from "../../../contract/shots";

export type Direction = "on" | "back" | "both";

/** A run of following under way, as it is told. */
export interface Run {
  frame: number;
  done: number;
  of: number;
  confidence: number;
}

/** Ends what is being followed; what was found up to there is kept. */
let end: (() => void) | null = null;
export const cancelTracking = () => end?.();

/** Follows from a step through frames, and tells every step; resolves where it ends, with where it was lost. */
function followed(
  order: TrackOrder,
  tell: (step: TrackStep, done: number, of: number) => void,
): Promise<number | null> {
  return new Promise((resolve, reject) => {
    end?.();
    const worker = new Worker("/engine/track.js");
    const ended = (then: () => void) => {
      worker.terminate();
      end = null;
      then();
    };
    end = () => ended(() => resolve(null));
    worker.addEventListener("message", ({ data }: MessageEvent<TrackReport>) => {
      if (data.kind === "step") return tell(data.step, data.done, data.of);
      if (data.kind === "failed") ended(() => reject(new Error(data.reason)));
      else ended(() => resolve(data.kind === "lost" ? data.frame : null));
    });
    worker.addEventListener("error", (event) => ended(() => reject(new Error(event.message || "following failed"))));
    worker.postMessage(order);
  });
}

/** Frames in the order in which they are followed from one, up to another. */
function framesFrom(frames: Ranges, from: number, to: number): number[] {
  const all = [...framesIn(frames)];
  const [a, b] = [all.indexOf(from), all.indexOf(to)];
  return a <= b ? all.slice(a, b + 1) : all.slice(b, a + 1).reverse();
}

/** For a track that is found while time passes: puts it in the look of the shot that is open now. */
function putLater(): (track: Track) => void {
  const change = commitLater();
  return (track) => change((look) => withTrack(look, track));
}

/**
 * Follows a track from one of its frames to another, and keeps what was found as it comes. Returns where it was lost.
 */
async function extend(
  shot: ShotDetail,
  track: Track,
  from: TrackStep,
  to: number,
): Promise<{ track: Track; lost: number | null }> {
  const { footage: size, frames } = shot;
  const order: TrackOrder = {
    shotId: shot.id,
    frames: framesFrom(frames, from.frame, to),
    region: regionOf(track, size),
    start: from,
    model: track.model,
  };
  let now = track;
  if (order.frames.length < 2) return { track, lost: null };
  const found: TrackStep[] = [];
  const lost = await followed(order, (step, done, of) => {
    found.push(step);
    setView({ tracking: { frame: step.frame, done, of, confidence: step.confidence } });
  });
  if (found.length) now = withSteps(now, found, size);
  return { track: now, lost };
}

/** Takes a region on a frame as a new track, and follows it. */
export async function trackRegion(
  shot: ShotDetail,
  region: Region,
  model: TrackModel,
  direction: Direction,
): Promise<{ track: Track; lost: number[] }> {
  const { frame } = viewNow();
  const pose = { x: region.x, y: region.y, scale: 1, rotation: 0 };
  const start: TrackStep = { frame, pose, confidence: 1 };
  const put = putLater();
  const id = freeTrackId(lookNow()!);
  let track = trackOf([start], shot.footage, {
    id,
    name: `Track ${id.replace("track-", "")}`,
    model,
    reference: frame,
    region,
  });
  setView({ tracking: { frame, done: 0, of: 1, confidence: 1 }, track: id });
  const ends = { on: [lastFrame(shot)], back: [firstFrame(shot)], both: [lastFrame(shot), firstFrame(shot)] }[
    direction
  ];
  const lost: number[] = [];
  try {
    for (const end of ends) {
      const run = await extend(shot, track, start, end);
      track = run.track;
      if (run.lost !== null) lost.push(run.lost);
    }
    put(track);
  } finally {
    setView({ tracking: null, region: null });
  }
  return { track, lost };
}

const firstFrame = ({ frames }: ShotDetail) => frames[0]![0];
const lastFrame = ({ frames }: ShotDetail) => frames.at(-1)![1];

/**
 * Sets a track right on a frame, px, and follows it anew from there: up to the next frame that was set by hand, or to
 * its end.
 */
export async function correct(
  shot: ShotDetail,
  track: Track,
  frame: number,
  x: number,
  y: number,
): Promise<number | null> {
  const steps = stepsOf(track, shot.footage);
  const here = steps.find((step) => step.frame === frame) ?? steps.at(frame < track.first ? 0 : -1)!;
  const start: TrackStep = { frame, pose: { ...here.pose, x, y }, confidence: 1 };
  const forwards = frame >= track.reference;
  const others = (track.corrected ?? []).filter((entry) => entry !== frame);
  const next = forwards
    ? Math.min(...others.filter((entry) => entry > frame), lastFrame(shot) + 1)
    : Math.max(...others.filter((entry) => entry < frame), firstFrame(shot) - 1);
  const isBounded = others.includes(next);
  const end = isBounded ? next + (forwards ? -1 : 1) : forwards ? lastFrame(shot) : firstFrame(shot);
  const result = isBounded ? track : cutAfter(track, frame, shot.footage);
  const marked: Track = {
    ...withSteps(result, [start], shot.footage),
    corrected: [...others, frame].sort((a, b) => a - b),
  };
  const put = putLater();
  put(marked);
  setView({ tracking: { frame, done: 0, of: 1, confidence: 1 } });
  try {
    const run = await extend(shot, marked, start, end);
    put(run.track);
    return run.lost;
  } finally {
    setView({ tracking: null });
  }
}
