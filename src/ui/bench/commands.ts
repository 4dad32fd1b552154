import { frameAt, indexOfFrame } from "@/core/frame/ranges";
import { elementsOf, moveElement, putElement, removeElement, switchElement } from "@/core/look/edit";
import { keyFramesOf, timedPaths } from "@/core/look/timing";
import type { LookElement } from "@/core/look/look";
import type { Command } from "../shell/command";
import { LARGEST_ZOOM, type Looking, SMALLEST_ZOOM, WHOLE } from "../viewport/place";
import { toggled, type Way } from "../compare/compare";
import { keepStill } from "../looks/keep-still";
import { isThere, PICTURE } from "./inspect";
import { add, commit, lookNow, redo, undo } from "./document";
import { useBench } from "./store";
import { faster, nextPlace, placesIn } from "./transport";
import type { ShotDetail } from "../../contract/shots";

/** What is open beside the picture is opened by its own button, which a command presses. */
export type Opens = "drawer";

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

const bench = () => useBench.getState();
const selectedElement = () => {
  const { selected } = bench();
  const look = lookNow();
  return look ? elementsOf(look).find(({ id }) => id === selected) : undefined;
};

const select = (id: string | null) => bench().set({ selected: id, inspect: PICTURE });

/** Selects the element before or after the selected one; from none, the last or the first. */
function selectNext(by: 1 | -1): void {
  const { selected } = bench();
  const look = lookNow();
  const elements = look ? elementsOf(look) : [];
  if (!elements.length) return;
  const at = elements.findIndex(({ id }) => id === selected);
  const from = at < 0 && by < 0 ? elements.length : at;
  select(elements[(from + by + elements.length) % elements.length]!.id);
}

function move(by: 1 | -1): void {
  const { selected } = bench();
  const look = lookNow();
  const at = look ? elementsOf(look).findIndex(({ id }) => id === selected) : -1;
  if (at >= 0) commit((now) => moveElement(now, selected!, at + by));
}

function step({ shot: { frames } }: Place, by: 1 | -1): void {
  const { frame, set } = bench();
  const place = indexOfFrame(frames, frame);
  set({ frame: frameAt(frames, nextPlace(place, by, placesIn(frames, null)))!, playing: false });
}

/** Goes to the nearest keyframe of the selected element, or of anything. */
function stepKeyframe(way: 1 | -1): void {
  const { selected, frame, set } = bench();
  const look = lookNow();
  if (!look) return;
  const frames = keyFramesOf(look, timedPaths(look, selectedElement() ? selected : undefined));
  const to = way > 0 ? frames.find((entry) => entry > frame) : frames.findLast((entry) => entry < frame);
  if (to !== undefined) set({ frame: to, playing: false });
}

function play(way: 1 | -1): void {
  const { playing, speed, set } = bench();
  set({ playing: true, speed: faster(playing ? speed : 0, way) });
}

/** Sets the first or the last frame of what is played; a span that would end before it begins starts anew there. */
function mark({ shot: { frames } }: Place, end: 0 | 1): void {
  const { frame, span, set } = bench();
  const [first, last] = placesIn(frames, span).map((place) => frameAt(frames, place)!) as [number, number];
  const next: [number, number] = end === 0 ? [frame, last] : [first, frame];
  if (next[0] >= next[1]) next[1 - end] = frameAt(frames, placesIn(frames, null)[1 - end]!)!;
  set({ span: next });
}

const compareBy = (way: Way) => bench().set({ compare: toggled(bench().compare, way) });

const look = (change: Partial<Looking>) => bench().set({ looking: { ...bench().looking, ...change } });
const zoomTo = (zoom: number) => () => look({ zoom });
/** Larger or smaller by a step, from whatever size it is. */
const zoomBy = (factor: number) => () => {
  const { zoom } = bench().looking;
  look({ zoom: Math.min(LARGEST_ZOOM, Math.max(SMALLEST_ZOOM, (zoom === "fit" ? 1 : zoom) * factor)) });
};

/** What is done with the selected element. */
const ofPiece = { ofPiece: true, isPossible: () => selectedElement() !== undefined } as const;

/** Puts a copy of an element behind the selected one, and selects it. */
function put(element: LookElement | undefined): void {
  if (!element) return;
  const behind = selectedElement() ? bench().selected : null;
  select(add((look) => putElement(look, element, behind)));
}

/** Everything that can be done on the Bench, for a shot. */
export const benchCommands = (place: Place): readonly Command[] => [
  {
    name: "Without the selected element, held",
    group: "Compare",
    keys: ["w"],
    run: () => bench().set({ held: { kind: "element" } }),
    release: () => bench().set({ held: null }),
  },
  {
    name: "Without the whole path, held",
    group: "Compare",
    keys: ["Shift+W"],
    run: () => bench().set({ held: { kind: "path" } }),
    release: () => bench().set({ held: null }),
  },
  {
    name: "What it is compared with, held",
    group: "Compare",
    keys: ["r"],
    run: () => bench().set({ held: bench().compare.reference }),
    release: () => bench().set({ held: null }),
  },
  {
    name: "Compare as it was last, on and off",
    group: "Compare",
    keys: ["e"],
    isOn: () => bench().compare.way !== null,
    run: () => compareBy(bench().compare.last),
  },
  {
    name: "Wipe",
    group: "Compare",
    isOn: () => bench().compare.way === "wipe",
    run: () => compareBy("wipe"),
  },
  {
    name: "Side by side",
    group: "Compare",
    keys: ["Shift+E"],
    isOn: () => bench().compare.way === "side",
    run: () => compareBy("side"),
  },
  {
    name: "Difference about mid-grey",
    group: "Compare",
    keys: ["Shift+D"],
    isOn: () => bench().compare.way === "difference",
    run: () => compareBy("difference"),
  },
  {
    name: "Centre and corners",
    group: "Picture",
    keys: ["c"],
    isOn: () => bench().corners.open,
    run: () => bench().set({ corners: { ...bench().corners, open: !bench().corners.open } }),
  },
  {
    name: "Scopes, shown or hidden",
    group: "Picture",
    keys: ["s"],
    isOn: () => bench().scopes.open,
    run: () => bench().set({ scopes: { ...bench().scopes, open: !bench().scopes.open } }),
  },
  {
    name: "Matte of the highlight key",
    group: "Picture",
    keys: ["m"],
    run: () => {
      const { selected, inspect, set } = bench();
      const look = lookNow();
      const matte = { kind: "matte" } as const;
      if (look && isThere(matte, look, selected)) set({ inspect: inspect.kind === "matte" ? PICTURE : matte });
    },
  },
  {
    name: "What the element added and took away, four times",
    group: "Picture",
    keys: ["d"],
    run: () => {
      const { selected, inspect, set } = bench();
      const look = lookNow();
      const added = { kind: "contribution", times: 4 } as const;
      if (look && isThere(added, look, selected)) set({ inspect: inspect.kind === "contribution" ? PICTURE : added });
    },
  },
  {
    name: "Fit the picture to the room, or 1:1",
    group: "Picture",
    keys: ["f"],
    run: () => bench().set({ looking: bench().looking.zoom === "fit" ? { ...WHOLE, zoom: 1 } : WHOLE }),
  },
  { name: "1:1", group: "Picture", keys: ["1"], run: zoomTo(1) },
  { name: "2:1", group: "Picture", keys: ["2"], run: zoomTo(2) },
  { name: "4:1", group: "Picture", keys: ["4"], run: zoomTo(4) },
  { name: "Larger", group: "Picture", keys: ["+", "Shift++"], run: zoomBy(Math.SQRT2) },
  { name: "Smaller, to see lines beyond the frame", group: "Picture", keys: ["-"], run: zoomBy(Math.SQRT1_2) },
  {
    name: "Handles on the picture, shown or hidden",
    group: "Picture",
    keys: ["h"],
    isOn: () => bench().handles,
    run: () => bench().set({ handles: !bench().handles }),
  },
  { name: "Select the element before", group: "Light path", keys: ["["], run: () => selectNext(-1) },
  { name: "Select the element after", group: "Light path", keys: ["]"], run: () => selectNext(1) },
  { name: "Select nothing", group: "Light path", keys: ["Escape"], run: () => select(null) },
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
    isOn: () => bench().alone,
    run: () => bench().set({ alone: !bench().alone }),
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
    run: () => bench().set({ clipboard: selectedElement() ?? null }),
  },
  {
    name: "Paste the element behind this one, in any shot",
    group: "Light path",
    keys: ["$mod+v"],
    ofPiece: true,
    isPossible: () => bench().clipboard !== null,
    run: () => put(bench().clipboard ?? undefined),
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
    isOn: () => bench().help,
    run: () => bench().set({ help: !bench().help }),
  },
  { name: "Glass drawer", group: "Light path", keys: ["g"], run: () => place.open("drawer") },
  {
    name: "Play and stop",
    group: "Frames",
    keys: ["Space"],
    run: () => bench().set({ playing: !bench().playing, speed: 1 }),
  },
  { name: "Play backwards; again: faster", group: "Frames", keys: ["j"], run: () => play(-1) },
  { name: "Stop", group: "Frames", keys: ["k"], run: () => bench().set({ playing: false }) },
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
    isOn: () => bench().timeDrawer,
    run: () => bench().set({ timeDrawer: !bench().timeDrawer }),
  },
  { name: "Play from here on (in)", group: "Frames", keys: ["i"], run: () => mark(place, 0) },
  { name: "Play up to here (out)", group: "Frames", keys: ["o"], run: () => mark(place, 1) },
  { name: "Play the whole shot", group: "Frames", keys: ["Shift+I"], run: () => bench().set({ span: null }) },
  { name: "Undo", group: "Look", keys: ["$mod+z"], inFields: true, run: undo },
  { name: "Redo", group: "Look", keys: ["$mod+Shift+Z"], inFields: true, run: redo },
  ...SHELVES.map(({ name, key, shelf }) => ({
    name,
    group: "Look",
    keys: [key],
    isOn: () => bench().shelf === shelf,
    run: () => bench().set({ shelf: bench().shelf === shelf ? null : shelf, preview: null }),
  })),
  { name: "Keep a still", group: "Look", keys: ["p"], run: () => void keepStill(place.shot.id) },
];
