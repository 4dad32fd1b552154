import { align } from "./align";
import { type Pose, type Template, templateOf } from "./template";
import { grayPart } from "./gray";
import type { Track, TrackModel } from "./track";

/** A frame of working light. */
interface Frame {
  width: number;
  height: number;
  data: Float32Array;
}

/** A region of a frame: its middle, by pixel (the first one's middle is 0), and its size, px. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Room about a region in which it is looked for, against its size, and at least so many px. */
const ROOM = 0.75;
const MIN_ROOM = 40;
/** Confidence below which what is followed is lost. */
export const LOST = 0.55;
/** Confidence below which a region has changed so much that it is taken anew, as it looked a frame before. */
const CHANGED = 0.6;

/** What is left of the trust in a region each time it is taken anew, from a place that is not quite sure. */
const TAKEN_ANEW = 0.97;

/** Sizes a region is followed to, against its own. */
const SMALLEST = 0.1;
const LARGEST = 10;

/** Whether a pose is one at all: near the frame, and of a size that a region can have. */
const isSensible = ({ x, y, scale, rotation }: Pose, { width, height }: Frame): boolean =>
  Number.isFinite(rotation) &&
  x > -width &&
  y > -height &&
  x < 2 * width &&
  y < 2 * height &&
  scale > SMALLEST &&
  scale < LARGEST;

export interface TrackStep {
  frame: number;
  pose: Pose;
  confidence: number;
}

/** The part of a frame about a pose in which a region of a size is looked for. */
function partAbout(frame: Frame, pose: Pose, { width, height }: Region) {
  const reach = (Math.hypot(width, height) / 2) * pose.scale;
  const half = Math.ceil(reach + Math.max(MIN_ROOM, ROOM * reach));
  return grayPart(frame, Math.round(pose.x) - half, Math.round(pose.y) - half, 2 * half, 2 * half);
}

/** Takes a region of a frame as what is followed. Null where there is nothing in it to follow. */
export const takeTemplate = (frame: Frame, region: Region, pose: Pose, model: TrackModel): Template | null =>
  templateOf(partAbout(frame, pose, region), region, pose, model);

/**
 * Follows a region from frame to frame: each is looked for from where the last ones lead, and against how it looked at
 * first, so that nothing drifts. What turns its back, or changes otherwise, is taken anew from the frame before. Ends
 * where it is lost; the step that lost it is told, with its confidence.
 */
export class Follower {
  private readonly steps: TrackStep[];
  private before: Frame | null = null;
  /** How sure the region itself is: each time it is taken anew it loses. */
  private trust = 1;

  constructor(
    private template: Template,
    private readonly region: Region,
    start: TrackStep,
  ) {
    this.steps = [start];
  }

  /** The better of what is found by the region as it was taken, and as it looked on the frame before. */
  private found(frame: Frame, start: Pose): { pose: Pose; confidence: number } {
    if (!isSensible(start, frame)) return { pose: this.steps.at(-1)!.pose, confidence: 0 };
    const part = partAbout(frame, start, this.region);
    const last = this.steps.at(-1)!;
    const look = (template: Template, trust: number) => {
      const { pose, confidence } = align(template, part, start);
      return { pose, confidence: confidence * trust };
    };
    const own = look(this.template, this.trust);
    if (own.confidence >= CHANGED || !this.before) return own;
    const newer = takeTemplate(this.before, this.region, last.pose, this.template.model);
    const anew = newer && look(newer, this.trust * TAKEN_ANEW);
    if (!anew || anew.confidence <= own.confidence) return own;
    this.template = newer;
    this.trust *= TAKEN_ANEW;
    return anew;
  }

  /** Where the region is on the next frame. */
  next(number: number, frame: Frame): TrackStep {
    const last = this.steps.at(-1)!;
    const before = this.steps.at(-2);
    const ahead = (name: keyof Pose) => (before ? last.pose[name] - before.pose[name] : 0);
    const start: Pose = {
      x: last.pose.x + ahead("x"),
      y: last.pose.y + ahead("y"),
      scale: before ? (last.pose.scale * last.pose.scale) / before.pose.scale : last.pose.scale,
      rotation: last.pose.rotation + ahead("rotation"),
    };
    const { pose, confidence } = this.found(frame, start);
    const step = isSensible(pose, frame)
      ? { frame: number, pose, confidence }
      : { frame: number, pose: last.pose, confidence: 0 };
    this.steps.push(step);
    this.before = frame;
    return step;
  }
}

const DEGREES = 180 / Math.PI;
const round = (value: number) => Number(value.toFixed(5));

/**
 * Steps as a track: % of the frame from its centre, degrees, against the reference frame. Steps must be of frames in a
 * row.
 */
export function trackOf(
  steps: readonly TrackStep[],
  { width, height }: { width: number; height: number },
  about: Pick<Track, "id" | "name" | "model" | "reference"> & { region: Region },
): Track {
  const { region, ...rest } = about;
  // A pixel's middle lies half a pixel from its corner.
  const across = (x: number) => round(((x + 0.5) / width - 0.5) * 100);
  const down = (y: number) => round(((y + 0.5) / height - 0.5) * 100);
  return {
    ...rest,
    region: {
      x: across(region.x),
      y: down(region.y),
      width: round((100 * region.width) / width),
      height: round((100 * region.height) / height),
    },
    first: steps[0]!.frame,
    x: steps.map(({ pose }) => across(pose.x)),
    y: steps.map(({ pose }) => down(pose.y)),
    scale: steps.map(({ pose }) => round(pose.scale)),
    rotation: steps.map(({ pose }) => round(pose.rotation * DEGREES)),
    confidence: steps.map(({ confidence }) => round(Math.min(1, confidence))),
  };
}

/** A track's steps, px and radians: what `trackOf` made of them. */
export function stepsOf(track: Track, { width, height }: { width: number; height: number }): TrackStep[] {
  return track.x.map((x, i) => ({
    frame: track.first + i,
    pose: {
      x: (x / 100 + 0.5) * width - 0.5,
      y: (track.y[i]! / 100 + 0.5) * height - 0.5,
      scale: track.scale[i]!,
      rotation: track.rotation[i]! / DEGREES,
    },
    confidence: track.confidence[i]!,
  }));
}

export const regionOf = ({ region }: Track, { width, height }: { width: number; height: number }): Region => ({
  x: (region.x / 100 + 0.5) * width - 0.5,
  y: (region.y / 100 + 0.5) * height - 0.5,
  width: (region.width / 100) * width,
  height: (region.height / 100) * height,
});
