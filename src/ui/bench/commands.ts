import { frameAt, indexOfFrame } from "@/core/frame/ranges";
import { elementsOf, moveElement, putElement, removeElement, switchElement } from "@/core/look/edit";
import { keyFramesOf, timedPaths } from "@/core/look/timing";
import type { LookElement } from "@/core/look/look";
import type { Command } from "../shell/command";
import { LARGEST_ZOOM, type Looking, MIN_ZOOM, WHOLE } from "../viewport/place";
import { toggled, type Way } from "../view/compare";
import { keepStill } from "../looks/keep-still";
import { isThere, PICTURE } from "../view/inspect";
import { add, commit, lookNow, redo, undo } from "../shot/document";
import { exposureBy } from "../view/exposure";
import { setView, viewNow } from "../view/store";
import { faster, nextPlace, placesIn } from "../pictures/transport";
import type { ShotDetail } from "../../contract/shots";

/** What is open beside the picture is opened by its own button, which a command presses. */
export type Opens = "drawer" | `to-section=${"what" | "where" | "when"}`;

/** What a command works on. */
export interface Place {
  shot: ShotDetail;
  open(what: Opens): void;
}

const SHELVES = [
  { name: "Looks", key: "y", shelf: "looks" },
  { name: "Versions", key: "v", shelf: "versions" },
  { name: "Stills", key: "Shift+P", shelf: "stills" },
] as const;

const selectedElement = () => {
  const { selected } = viewNow();
  const look = lookNow();
  return look ? elementsOf(look).find(({ id }) => id === selected) : undefined;
};

const select = (id: string | null) => setView({ selected: id, inspect: PICTURE });

/** Selects the element before or after the selected one; from none, the last or the first. */
function selectNext(by: 1 | -1): void {
  const { selected } = viewNow();
  const look = lookNow();
  const elements = look ? elementsOf(look) : [];
  if (!elements.length) return;
  const at = elements.findIndex(({ id }) => id === selected);
  const from = at < 0 && by < 0 ? elements.length : at;
  select(elements[(from + by + elements.length) % elements.length]!.id);
}

function move(by: 1 | -1): void {
  const { selected } = viewNow();
  const look = lookNow();
  const at = look ? elementsOf(look).findIndex(({ id }) => id === selected) : -1;
  if (at >= 0) commit((now) => moveElement(now, selected!, at + by));
}

function step({ shot: { frames } }: Place, by: 1 | -1): void {
  const { frame } = viewNow();
  const place = indexOfFrame(frames, frame);
  setView({ frame: frameAt(frames, nextPlace(place, by, placesIn(frames, null)))!, playing: false });
}

/** Goes to the nearest keyframe of the selected element, or of anything. */
function stepKeyframe(way: 1 | -1): void {
  const { selected, frame } = viewNow();
  const look = lookNow();
  if (!look) return;
  const frames = keyFramesOf(look, timedPaths(look, selectedElement() ? selected : undefined));
  const to = way > 0 ? frames.find((entry) => entry > frame) : frames.findLast((entry) => entry < frame);
  if (to !== undefined) setView({ frame: to, playing: false });
}

function play(way: 1 | -1): void {
  const { playing, speed } = viewNow();
  setView({ playing: true, speed: faster(playing ? speed : 0, way) });
}

/** Sets the first or the last frame of what is played; a span that would end before it begins starts anew there. */
function mark({ shot: { frames } }: Place, end: 0 | 1): void {
  const { frame, span } = viewNow();
  const [first, last] = placesIn(frames, span).map((place) => frameAt(frames, place)!) as [number, number];
  const next: [number, number] = end === 0 ? [frame, last] : [first, frame];
  if (next[0] >= next[1]) next[1 - end] = frameAt(frames, placesIn(frames, null)[1 - end]!)!;
  setView({ span: next });
}

const compareBy = (way: Way) => setView({ compare: toggled(viewNow().compare, way) });

const look = (change: Partial<Looking>) => setView({ looking: { ...viewNow().looking, ...change } });
const zoomTo = (zoom: number) => () => look({ zoom });
/** Larger or smaller by a step, from whatever size it is. */
const zoomBy = (factor: number) => () => {
  const { zoom } = viewNow().looking;
  look({ zoom: Math.min(LARGEST_ZOOM, Math.max(MIN_ZOOM, (zoom === "fit" ? 1 : zoom) * factor)) });
};

const expose = (steps: 1 | -1) => setView({ exposure: exposureBy(viewNow().exposure, steps) });

/** What is done with the selected element. */
const ofPiece = { ofPiece: true, isPossible: () => selectedElement() !== undefined } as const;

/** Puts a copy of an element behind the selected one, and selects it. */
function put(element: LookElement | undefined): void {
  if (!element) return;
  const behind = selectedElement() ? viewNow().selected : null;
  select(add((look) => putElement(look, element, behind)));
}

/** The parts of the panel, and their keys. */
const SECTIONS = [
  { name: "What the element does, in the panel", key: "b", section: "to-section=what" },
  { name: "Where it acts, in the panel", key: "n", section: "to-section=where" },
  { name: "When it changes, in the panel", key: "u", section: "to-section=when" },
] as const;

/** Everything that can be done on the Bench, for a shot. */
export const benchCommands = (place: Place): readonly Command[] => [
  {
    name: "Without the selected element, held",
    group: "Compare",
    keys: ["w"],
    run: () => setView({ held: { kind: "element" } }),
    release: () => setView({ held: null }),
  },
  {
    name: "Without the whole path, held",
    group: "Compare",
    keys: ["Shift+W"],
    run: () => setView({ held: { kind: "path" } }),
    release: () => setView({ held: null }),
  },
  {
    name: "What it is compared with, held",
    group: "Compare",
    keys: ["r"],
    run: () => setView({ held: viewNow().compare.reference }),
    release: () => setView({ held: null }),
  },
  {
    name: "Compare as it was last, on and off",
    group: "Compare",
    keys: ["e"],
    isOn: () => viewNow().compare.way !== null,
    run: () => compareBy(viewNow().compare.last),
  },
  {
    name: "Wipe",
    group: "Compare",
    isOn: () => viewNow().compare.way === "wipe",
    run: () => compareBy("wipe"),
  },
  {
    name: "Side by side",
    group: "Compare",
    keys: ["Shift+E"],
    isOn: () => viewNow().compare.way === "side",
    run: () => compareBy("side"),
  },
  {
    name: "Difference about mid-grey",
    group: "Compare",
    keys: ["Shift+D"],
    isOn: () => viewNow().compare.way === "difference",
    run: () => compareBy("difference"),
  },
  {
    name: "Centre and corners",
    group: "Picture",
    keys: ["c"],
    isOn: () => viewNow().corners.open,
    run: () => setView({ corners: { ...viewNow().corners, open: !viewNow().corners.open } }),
  },
  {
    name: "Scopes, shown or hidden",
    group: "Picture",
    keys: ["s"],
    isOn: () => viewNow().scopes.open,
    run: () => setView({ scopes: { ...viewNow().scopes, open: !viewNow().scopes.open } }),
  },
  {
    name: "Matte of the highlight key",
    group: "Picture",
    keys: ["m"],
    run: () => {
      const { selected, inspect } = viewNow();
      const look = lookNow();
      const matte = { kind: "matte" } as const;
      if (look && isThere(matte, look, selected)) setView({ inspect: inspect.kind === "matte" ? PICTURE : matte });
    },
  },
  {
    name: "What the element added and took away, four times",
    group: "Picture",
    keys: ["d"],
    run: () => {
      const { selected, inspect } = viewNow();
      const look = lookNow();
      const added = { kind: "contribution", times: 4 } as const;
      if (look && isThere(added, look, selected))
        setView({ inspect: inspect.kind === "contribution" ? PICTURE : added });
    },
  },
  {
    name: "Fit the picture to the room, or 1:1",
    group: "Picture",
    keys: ["f"],
    run: () => setView({ looking: viewNow().looking.zoom === "fit" ? { ...WHOLE, zoom: 1 } : WHOLE }),
  },
  { name: "1:1", group: "Picture", keys: ["1"], run: zoomTo(1) },
  { name: "2:1", group: "Picture", keys: ["2"], run: zoomTo(2) },
  { name: "4:1", group: "Picture", keys: ["4"], run: zoomTo(4) },
  { name: "Larger", group: "Picture", keys: ["+", "Shift++"], run: zoomBy(Math.SQRT2) },
  { name: "Smaller, to see lines beyond the frame", group: "Picture", keys: ["-"], run: zoomBy(Math.SQRT1_2) },
  {
    name: "The picture alone, and back",
    group: "Picture",
    keys: ["Shift+F"],
    isOn: () => viewNow().pictureAlone,
    run: () => setView({ pictureAlone: !viewNow().pictureAlone }),
  },
  {
    name: "The picture in a window of its own",
    group: "Picture",
    isOn: () => viewNow().ownWindow,
    run: () => setView({ ownWindow: !viewNow().ownWindow }),
  },
  { name: "Viewed lighter, half a stop", group: "Picture", keys: ["."], run: () => expose(1) },
  { name: "Viewed darker, half a stop", group: "Picture", keys: [","], run: () => expose(-1) },
  { name: "Viewed as it is", group: "Picture", keys: ["/"], run: () => setView({ exposure: 0 }) },
  {
    name: "Handles on the picture, shown or hidden",
    group: "Picture",
    keys: ["h"],
    isOn: () => viewNow().handles,
    run: () => setView({ handles: !viewNow().handles }),
  },
  { name: "Select the element before", group: "Light path", keys: ["["], run: () => selectNext(-1) },
  { name: "Select the element after", group: "Light path", keys: ["]"], run: () => selectNext(1) },
  {
    name: "Select nothing",
    group: "Light path",
    keys: ["Escape"],
    run: () => (viewNow().pictureAlone ? setView({ pictureAlone: false }) : select(null)),
  },
  {
    name: "Move the element towards the scene",
    group: "Light path",
    keys: ["Alt+ArrowLeft"],
    ...ofPiece,
    run: () => move(-1),
  },
  {
    name: "Move the element towards the screen",
    group: "Light path",
    keys: ["Alt+ArrowRight"],
    ...ofPiece,
    run: () => move(1),
  },
  {
    name: "Switch the element off and on",
    group: "Light path",
    keys: ["x"],
    ...ofPiece,
    run: () => {
      const element = selectedElement();
      if (element) commit((look) => switchElement(look, element.id, !element.on));
    },
  },
  {
    name: "This element alone, and back",
    group: "Light path",
    keys: ["a"],
    ...ofPiece,
    isOn: () => viewNow().alone,
    run: () => setView({ alone: !viewNow().alone }),
  },
  {
    name: "Duplicate the element",
    group: "Light path",
    keys: ["$mod+d"],
    ...ofPiece,
    run: () => put(selectedElement()),
  },
  {
    name: "Copy the element",
    group: "Light path",
    keys: ["$mod+c"],
    ofPiece: true,
    // Text that is marked is copied as text.
    isPossible: () => selectedElement() !== undefined && !getSelection()?.toString(),
    run: () => setView({ clipboard: selectedElement() ?? null }),
  },
  {
    name: "Paste the element behind this one, in any shot",
    group: "Light path",
    keys: ["$mod+v"],
    ofPiece: true,
    isPossible: () => viewNow().clipboard !== null,
    run: () => put(viewNow().clipboard ?? undefined),
  },
  {
    name: "Remove the element",
    group: "Light path",
    keys: ["Delete"],
    ...ofPiece,
    run: () => {
      const element = selectedElement();
      if (!element) return;
      commit((look) => removeElement(look, element.id));
      select(null);
    },
  },
  {
    name: "What the element is",
    group: "Light path",
    keys: ["F1"],
    ofPiece: true,
    isPossible: () => selectedElement() !== undefined,
    isOn: () => viewNow().help,
    run: () => setView({ help: !viewNow().help }),
  },
  ...SECTIONS.map(({ name, key, section }) => ({
    name,
    group: "Light path",
    keys: [key],
    isPossible: () => selectedElement() !== undefined,
    run: () => place.open(section),
  })),
  { name: "Glass drawer", group: "Light path", keys: ["g"], run: () => place.open("drawer") },
  {
    name: "Play and stop",
    group: "Frames",
    keys: ["Space"],
    run: () => setView({ playing: !viewNow().playing, speed: 1 }),
  },
  { name: "Play backwards; again: faster", group: "Frames", keys: ["j"], run: () => play(-1) },
  { name: "Stop", group: "Frames", keys: ["k"], run: () => setView({ playing: false }) },
  { name: "Play; again: faster", group: "Frames", keys: ["l"], run: () => play(1) },
  {
    name: "Frame before",
    group: "Frames",
    keys: ["ArrowLeft"],
    run: () => step(place, -1),
    leavesTracks: true,
  },
  {
    name: "Frame after",
    group: "Frames",
    keys: ["ArrowRight"],
    run: () => step(place, 1),
    leavesTracks: true,
  },
  {
    name: "Keyframe before",
    group: "Frames",
    keys: ["Shift+ArrowLeft"],
    run: () => stepKeyframe(-1),
    leavesTracks: true,
  },
  {
    name: "Keyframe after",
    group: "Frames",
    keys: ["Shift+ArrowRight"],
    run: () => stepKeyframe(1),
    leavesTracks: true,
  },
  {
    name: "Time drawer",
    group: "Frames",
    keys: ["t"],
    isOn: () => viewNow().timeDrawer,
    run: () => setView({ timeDrawer: !viewNow().timeDrawer }),
  },
  { name: "Play from here on (in)", group: "Frames", keys: ["i"], run: () => mark(place, 0) },
  { name: "Play up to here (out)", group: "Frames", keys: ["o"], run: () => mark(place, 1) },
  { name: "Play the whole shot", group: "Frames", keys: ["Shift+I"], run: () => setView({ span: null }) },
  { name: "Undo", group: "Look", keys: ["$mod+z"], inFields: true, run: undo },
  { name: "Redo", group: "Look", keys: ["$mod+Shift+Z"], inFields: true, run: redo },
  ...SHELVES.map(({ name, key, shelf }) => ({
    name,
    group: "Look",
    keys: [key],
    isOn: () => viewNow().shelf === shelf,
    run: () => setView({ shelf: viewNow().shelf === shelf ? null : shelf, preview: null }),
  })),
  { name: "Keep a still", group: "Look", keys: ["p"], run: () => void keepStill(place.shot.id) },
];
