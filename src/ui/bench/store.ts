import { create } from "zustand";
import type { DepthPlate } from "@/core/frame/depth-plate";
import type { AreaClip } from "@/core/look/areas";
import type { Look, LookElement } from "@/core/look/look";
import { currentGesture, type Gesture } from "./gestures";
import type { Region } from "@/core/track/follow";
import type { Light } from "../engine/engine";
import { type Looking, type Spot, WHOLE } from "../viewport/place";
import { type Compare, type Reference, UNCOMPARED } from "../compare/compare";
import { CLOSED_SCOPES, type Scopes } from "../scopes/scopes";
import { putOnShots } from "../looks/put-on-shots";
import type { WornLook } from "../../contract/looks";
import { CLOSED_CORNERS, type Corners } from "../corners/corners";
import { type Inspect, PICTURE } from "./inspect";
import type { Span } from "./transport";
import type { Standing } from "./unsaved";

/** What was put on other shots, and what they wore before. */
export interface OnOthers {
  before: readonly WornLook[];
  after: readonly WornLook[];
}

/** What undo leads back to: the look, what of the shot is set on the Bench, and what the same step put on other shots. */
export interface Step {
  look: Look;
  depth: DepthPlate | null;
  others?: OnOthers;
}

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
  look: Look | null;
  /** Other footage that holds the shot's distances. */
  depth: DepthPlate | null;
  past: Step[];
  future: Step[];
  /** The gesture the last step was made in. */
  gesture: Gesture | null;
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
  /** What another window made of the look meanwhile: nothing is saved until the user has said which is to stand. */
  conflict: Standing | null;
  /** What the server holds now that this was said. */
  resolved: Standing | null;
  picking: Picking | null;
  open(place: {
    look: Look;
    depth: DepthPlate | null;
    frame: number;
    selected: string | null;
    conflict?: Standing | null;
    compare?: Compare;
  }): void;
  /** Goes on with `look` above what another window saved. */
  resolve(theirs: Standing, look: Look): void;
  /** Takes the look of another window; undo leads back. */
  takeOver(look: Look): void;
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
        | "conflict"
        | "depth"
      >
    >,
  ): void;
  /** Changes the look, or the depth; changes within one gesture are one step. */
  change(change: Look | { depth: DepthPlate | null }): void;
  /** Changes the look in one step with what was put on other shots. */
  changeWithOthers(look: Look, others: OnOthers): void;
  undo(): void;
  redo(): void;
}

const STEPS_KEPT = 200;

const CLOSED = {
  past: [],
  future: [],
  gesture: null,
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
  conflict: null,
  resolved: null,
} satisfies Partial<Bench>;

const isLook = (change: Look | { depth: DepthPlate | null }): change is Look => "format" in change;

/** The steps with what stands now as the last of them. */
const withStep = ({ look, depth, past }: Bench, others?: OnOthers): Step[] =>
  look ? [...past, { look, depth, ...(others ? { others } : {}) }].slice(-STEPS_KEPT) : past;

export const useBench = create<Bench>((set, get) => ({
  ...CLOSED,
  look: null,
  depth: null,
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
  open: ({ conflict = null, compare = UNCOMPARED, ...place }) => set({ ...CLOSED, ...place, conflict, compare }),
  resolve: (theirs, look) =>
    set((before) => ({
      look,
      past: before.look === look ? before.past : withStep(before),
      conflict: null,
      resolved: theirs,
      gesture: null,
    })),
  takeOver: (look) => set((before) => ({ look, past: withStep(before), future: [], gesture: null })),
  // Another element has areas of its own.
  set: (change) => set("selected" in change ? { picking: null, marked: [], ...change } : change),
  change: (change) =>
    set((before) => {
      const gesture = currentGesture();
      const goesOn = gesture !== null && gesture === before.gesture;
      return {
        ...(isLook(change) ? { look: change } : { depth: change.depth }),
        past: goesOn ? before.past : withStep(before),
        future: [],
        gesture,
      };
    }),
  changeWithOthers: (look, others) =>
    set((before) => ({ look, past: withStep(before, others), future: [], gesture: null })),
  undo: () => {
    const { look, depth, past, future } = get();
    const step = past.at(-1);
    if (!step || !look) return;
    const { others, ...to } = step;
    if (others) void putOnShots(others.before);
    set({ ...to, past: past.slice(0, -1), future: [{ look, depth, others }, ...future], gesture: null });
  },
  redo: () => {
    const { look, depth, past, future } = get();
    const [step] = future;
    if (!step || !look) return;
    const { others, ...to } = step;
    if (others) void putOnShots(others.after);
    set({ ...to, future: future.slice(1), past: [...past, { look, depth, others }], gesture: null });
  },
}));
