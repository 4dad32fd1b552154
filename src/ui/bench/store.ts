import { create } from "zustand";
import type { AreaClip } from "@/core/look/areas";
import type { Look, LookElement } from "@/core/look/look";
import type { Region } from "@/core/track/follow";
import type { Light } from "../engine/engine";
import { type Looking, type Spot, WHOLE } from "../viewport/place";
import { type Compare, type Reference, UNCOMPARED } from "../compare/compare";
import { CLOSED_SCOPES, type Scopes } from "../scopes/scopes";
import { CLOSED_CORNERS, type Corners } from "../corners/corners";
import { type Inspect, PICTURE } from "./inspect";
import type { Span } from "./transport";

/** The drawer beside the picture: looks, kept versions of the shot, stills. */
export type Shelf = "looks" | "versions" | "stills";

/** A look, or a still, that is pointed at: shown in the picture's place for as long. */
export interface Preview {
  look: Look;
  still?: number;
  name: string;
}

/** What the next click in the picture is for. */
export interface Picking {
  /** Names what is picked for, so that its control shows it. */
  id: string;
  /** The element before which light is picked; null: where the path ends. */
  before: string | null;
  take(light: Light, at: Spot): void;
}

interface Bench {
  selected: string | null;
  frame: number;
  looking: Looking;
  /** The rows of the frame that are in sight; null for all. */
  inSight: readonly [number, number] | null;
  /** The centre and the four corners together, enlarged. */
  corners: Corners;
  /** Whether what of the selected element lies in the picture is drawn over it. */
  handles: boolean;
  /** What is shown in the picture's place while it is held. */
  held: Reference | null;
  /** How the shot is compared. */
  compare: Compare;
  shelf: Shelf | null;
  /** Whether the panel says what the selected element is. */
  help: boolean;
  preview: Preview | null;
  /** Elements that are taken together with the selected one: kept, carried, looked at. */
  marked: readonly string[];
  /** Every other element is off, to look at the selected one. */
  alone: boolean;
  /** A copied element, which may be put on the path of any shot. */
  clipboard: LookElement | null;
  /** Copied areas, which may be put where any element of any shot acts. */
  areaClip: AreaClip | null;
  /** The track that is shown on the picture, by its id. */
  track: string | null;
  /** The region that is to be followed: being drawn, or drawn. */
  region: Region | "draw" | null;
  /** How far following is, while it goes on. */
  tracking: { frame: number; done: number; of: number; confidence: number } | null;
  /** The scopes beside the picture, and what they count. */
  scopes: Scopes;
  /** Whether the frames are opened up. */
  timeDrawer: boolean;
  /** What of the look the picture shows. */
  inspect: Inspect;
  playing: boolean;
  /** Frames from one picture to the next while it plays; below 0 it plays backwards. */
  speed: number;
  /** The frames that are played over and over. */
  span: Span;
  picking: Picking | null;
  /** Shows a shot from a frame on. */
  open(place: { frame: number; selected: string | null; compare?: Compare }): void;
  set(
    change: Partial<
      Pick<
        Bench,
        | "picking"
        | "selected"
        | "frame"
        | "looking"
        | "inSight"
        | "corners"
        | "handles"
        | "held"
        | "compare"
        | "shelf"
        | "help"
        | "preview"
        | "marked"
        | "scopes"
        | "inspect"
        | "track"
        | "region"
        | "tracking"
        | "timeDrawer"
        | "alone"
        | "clipboard"
        | "areaClip"
        | "playing"
        | "speed"
        | "span"
      >
    >,
  ): void;
}

const CLOSED = {
  held: null,
  preview: null,
  marked: [],
  inspect: PICTURE,
  alone: false,
  track: null,
  region: null,
  tracking: null,
  picking: null,
  playing: false,
  speed: 1,
  span: null,
} satisfies Partial<Bench>;

export const useBench = create<Bench>((set) => ({
  ...CLOSED,
  clipboard: null,
  areaClip: null,
  selected: null,
  frame: 1,
  looking: WHOLE,
  inSight: null,
  corners: CLOSED_CORNERS,
  handles: true,
  timeDrawer: false,
  compare: UNCOMPARED,
  shelf: null,
  help: false,
  scopes: CLOSED_SCOPES,
  open: ({ compare = UNCOMPARED, ...place }) => set({ ...CLOSED, ...place, compare }),
  // Another element has areas of its own.
  set: (change) => set("selected" in change ? { picking: null, marked: [], ...change } : change),
}));
