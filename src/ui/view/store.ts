import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { createStore } from "zustand/vanilla";
import type { AreaClip } from "@/core/look/areas";
import type { Look, LookElement } from "@/core/look/look";
import type { Region } from "@/core/track/follow";
import type { Light } from "../engine/questions";
import { type Looking, type Spot, WHOLE } from "../viewport/place";
import { type Compare, type Reference, UNCOMPARED } from "./compare";
import { CLOSED_SCOPES, type Scopes } from "./scopes";
import { CLOSED_CORNERS, type Corners } from "./corners";
import { type Inspect, PICTURE } from "./inspect";
import type { Span } from "../pictures/transport";

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

/** What the view shows, of whatever shot is open: none of it is the look's. */
export interface ViewState {
  selected: string | null;
  frame: number;
  /** The frame where it last rested: the one that is shown, unless it plays. */
  restingFrame: number;
  looking: Looking;
  /** The rows of the frame that are in sight; null for all. */
  inSight: readonly [number, number] | null;
  /** The frame may be so many times smaller and still cover its pixels on the screen: 1, 2, 4 or 8. */
  enough: number;
  /** The same for the picture's own window. */
  enoughInWindow: number;
  /** Stops by which the picture is shown lighter or darker, to look into it. */
  exposure: number;
  /** Whether the picture alone fills the window. */
  pictureAlone: boolean;
  /** Whether the picture has a window of its own, for a second screen, too. */
  ownWindow: boolean;
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
} satisfies Partial<ViewState>;

const store = createStore<ViewState>(() => ({
  ...CLOSED,
  clipboard: null,
  areaClip: null,
  selected: null,
  frame: 1,
  restingFrame: 1,
  looking: WHOLE,
  inSight: null,
  enough: 1,
  enoughInWindow: 1,
  exposure: 0,
  pictureAlone: false,
  ownWindow: false,
  corners: CLOSED_CORNERS,
  handles: true,
  timeDrawer: false,
  compare: UNCOMPARED,
  shelf: null,
  help: false,
  scopes: CLOSED_SCOPES,
}));

/** What is shown now, outside React. */
export const viewNow = store.getState;

/** Shows a shot from a frame on. */
export const openView = (where: { frame: number; selected: string | null; compare?: Compare }): void =>
  store.setState({ ...CLOSED, compare: UNCOMPARED, ...where, restingFrame: where.frame });

/** Changes what is shown. Another element has areas and marks of its own. */
export const setView = (change: Partial<Omit<ViewState, "restingFrame">>): void =>
  store.setState((before) => {
    const { playing, frame } = { ...before, ...change };
    const selection = "selected" in change ? { picking: null, marked: [] } : {};
    return { ...selection, ...change, restingFrame: playing ? before.restingFrame : frame };
  });

/** Hears of every change, outside React. Gives what ends it. */
export const hearView = store.subscribe;

/** What is shown, as a value made of it: a component is drawn anew only where that is another. */
export const useViewValue = <T>(select: (state: ViewState) => T): T => useStore(store, select);

/** What is shown, by name: a component is drawn anew only where one of them is another. */
export const useView = <K extends keyof ViewState>(...names: K[]): Pick<ViewState, K> =>
  useStore(
    store,
    useShallow((state) => Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<ViewState, K>),
  );
