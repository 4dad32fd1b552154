import type { Cabinet, LensProfile } from "../profile/profiles";
import type { Track } from "../track/track";
import type { DepthPlate } from "./depth-plate";
import type { TakenLens } from "./taken";
import type { FrameGeometry } from "./geometry";
import type { Overscan } from "../image/overscan";

/** What a compile step may know about the frame it compiles for. */
export interface FrameContext {
  geometry: FrameGeometry;
  frame: number;
  cabinet: Cabinet;
  lens: LensProfile | null;
  /** The lens the frame was shot through, where it is taken off; null where it is left on. */
  taken: TakenLens | null;
  /** mm */
  focalLength: number;
  /** T-stop */
  stop: number;
  /** m */
  focusDistance: number;
  /** Whether there is depth: a channel of the footage, or a plate of it. */
  hasDepth: boolean;
  depthPlate: DepthPlate | null;
  /** Frames a second. */
  frameRate: number;
  shot: { first: number; last: number };
  /** The look's tracks, by id. */
  tracks: ReadonlyMap<string, Track>;
  /** The light path before an element, for those that take it at other frames; null where nothing before it acts. */
  pathBefore: (element: string) => PathBefore | null;
}

/** A look (core/look) that ends before an element, and what its glass is made of, by its content. */
export interface PathBefore {
  look: object;
  glass: string;
}

/** Frames a second, where footage does not say. */
export const DEFAULT_RATE = 24;

/** A frame of a shot, as a look meets it. */
export interface ShotFrame {
  /** What is shown of it, px. */
  width: number;
  height: number;
  /** Pixels that lie around it. */
  overscan?: Overscan;
  /** Its number. */
  frame: number;
  /** Whether the footage has a depth channel. */
  hasDepth?: boolean;
  /** Frames a second. */
  frameRate?: number;
  /** First and last frame of the shot: what lies outside is held. */
  shot?: { first: number; last: number };
}
