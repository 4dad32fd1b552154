import { frameAt, indexOfFrame } from "@/core/frame/ranges";
import { keyFramesOf, timedPaths } from "@/core/look/timing";
import { faster, nextIndex, placesIn } from "../../pictures/transport";
import type { Command } from "../../shell/command";
import { lookNow } from "../../shot/document";
import { setView, viewNow } from "../../view/store";
import type { Place } from "./place";
import { selectedElement } from "./selected";

function step({ shot: { frames } }: Place, by: 1 | -1): void {
  const { frame } = viewNow();
  const index = indexOfFrame(frames, frame);
  setView({ frame: frameAt(frames, nextIndex(index, by, placesIn(frames, null)))!, playing: false });
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
  const [first, last] = placesIn(frames, span).map((index) => frameAt(frames, index)!) as [number, number];
  const next: [number, number] = end === 0 ? [frame, last] : [first, frame];
  if (next[0] >= next[1]) next[1 - end] = frameAt(frames, placesIn(frames, null)[1 - end]!)!;
  setView({ span: next });
}

/** Playing, and going from frame to frame. */
export const framesCommands = (context: Place): readonly Command[] => [
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
    run: () => step(context, -1),
    leavesTracks: true,
  },
  {
    name: "Frame after",
    group: "Frames",
    keys: ["ArrowRight"],
    run: () => step(context, 1),
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
  { name: "Play from here on (in)", group: "Frames", keys: ["i"], run: () => mark(context, 0) },
  { name: "Play up to here (out)", group: "Frames", keys: ["o"], run: () => mark(context, 1) },
  { name: "Play the whole shot", group: "Frames", keys: ["Shift+I"], run: () => setView({ span: null }) },
];
