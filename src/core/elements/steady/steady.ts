import type { FrameGeometry } from "../../frame/geometry";
import { memoised } from "../../maths/memoise";
import { type TrackPose, poseAt, smoothedPose, type Track } from "../../track/track";
import type { AffineMap } from "../geometry";
import { define, type Parameter, type ValuesOf } from "../definition";

type Steady = ValuesOf<typeof parameters>;

const parameters = {
  track: {
    type: "track",
    label: "Track",
    default: "",
    help: "What in the picture is held still.",
  },
  what: {
    type: "choice",
    label: "Takes out",
    options: { all: "All of the motion", fast: "What is faster than the time constant" },
    default: "all",
    help: "Everything that moved since the track's own frame, or only the shake on top of a slower move.",
  },
  constant: {
    type: "number",
    label: "Time constant",
    unit: "frames",
    min: 2,
    max: 240,
    step: 1,
    default: 24,
    relevantWith: { what: ["fast"] },
    help: "Moves that take longer than this stay.",
  },
  position: { type: "toggle", label: "Position", default: true, help: "Movement across the frame is taken out." },
  turning: { type: "toggle", label: "Turning", default: false, help: "Turning is taken out, where the track has it." },
  growing: { type: "toggle", label: "Growing", default: false, help: "Growing is taken out, where the track has it." },
  fit: {
    type: "choice",
    label: "Framing",
    options: { keep: "Keep scale", fill: "Fill the frame", all: "Show all" },
    default: "fill",
    help: "Keep the scale, with what lies beyond the edges mirrored; grow until the frame is filled throughout the shot; or shrink until nothing of any frame is lost.",
  },
} as const satisfies Record<string, Parameter>;

/** How much of a motion is taken out: shares of the way from where a thing is to where it is held. */
interface Hold {
  from: TrackPose;
  to: TrackPose;
}

/** Where the track is at a frame, and where it is held there. */
function holdAt(track: Track, { what, constant, position, turning, growing }: Steady, frame: number): Hold {
  const from = poseAt(track, frame);
  const wanted = what === "all" ? poseAt(track, track.reference) : smoothedPose(track, frame, constant);
  return {
    from,
    to: {
      x: position ? wanted.x : from.x,
      y: position ? wanted.y : from.y,
      rotation: turning ? wanted.rotation : from.rotation,
      scale: growing ? wanted.scale : from.scale,
    },
  };
}

/**
 * The place of the input (px) that comes to a place of the output: about where the track is held, turned and grown back
 * to where it was. `share` of the motion is taken out; `zoom` draws the output together about the frame's middle.
 */
function placing({ from, to }: Hold, share: number, zoom: number, { width, height, axisX, axisY }: FrameGeometry) {
  const px = ({ x, y }: TrackPose) => [axisX + (x / 100) * width, axisY + (y / 100) * height] as const;
  const [fx, fy] = px(from);
  const [tx, ty] = px(to);
  const [hx, hy] = [fx + share * (tx - fx), fy + share * (ty - fy)];
  const turn = (share * (from.rotation - to.rotation) * Math.PI) / 180;
  const scale = (from.scale / to.scale) ** share;
  const [c, s] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  return (x: number, y: number): [number, number] => {
    const [u, v] = [axisX + (x - axisX) / zoom - hx, axisY + (y - axisY) / zoom - hy];
    return [fx + u * c - v * s, fy + u * s + v * c];
  };
}

/**
 * Largest growth that fills the frame; a shake beyond it shows the surround. Its inverse is the smallest that shows
 * all.
 */
const MAX_ZOOM = 3;
const ZOOM_STEPS = 20;

/** How much a picture must grow, or shrink, for what is asked of its framing; the same for all frames of the track. */
function fittingZoom(track: Track, values: Steady, share: number, geometry: FrameGeometry): number {
  if (values.fit === "keep") return 1;
  const search = values.fit === "fill" ? fillingZoom : showingZoom;
  const holds = () => track.x.map((_, i) => holdAt(track, values, track.first + i));
  return zooms(track, JSON.stringify([values, share, geometry]), () => search(holds(), share, geometry));
}
const zooms = memoised<number>(8);

const cornersOf = ({ width, height, axisX, axisY }: FrameGeometry) => {
  const [left, right] = [axisX - (width - 1) / 2, axisX + (width - 1) / 2];
  const [top, bottom] = [axisY - (height - 1) / 2, axisY + (height - 1) / 2];
  return [
    [left, top],
    [right, top],
    [left, bottom],
    [right, bottom],
  ] as const;
};
const isInside = (x: number, y: number, { width, height, axisX, axisY }: FrameGeometry) =>
  Math.abs(x - axisX) <= width / 2 && Math.abs(y - axisY) <= height / 2;

/** The zoom nearest to 1, on the way from it to `far`, that is enough. */
function nearestZoom(far: number, isEnough: (zoom: number) => boolean): number {
  if (isEnough(1)) return 1;
  let [short, enough] = [1, far];
  for (let i = 0; i < ZOOM_STEPS; i++) {
    const middle = (short + enough) / 2;
    if (isEnough(middle)) enough = middle;
    else short = middle;
  }
  return enough;
}

/** Grown until no frame shows what lies beyond its edges. */
const fillingZoom = (holds: Hold[], share: number, geometry: FrameGeometry) =>
  nearestZoom(MAX_ZOOM, (zoom) =>
    holds.every((hold) => {
      const sourceAt = placing(hold, share, zoom, geometry);
      return cornersOf(geometry).every(([x, y]) => isInside(...sourceAt(x, y), geometry));
    }),
  );

/** Shrunk until every frame's corners are seen. */
const showingZoom = (holds: Hold[], share: number, geometry: FrameGeometry) =>
  nearestZoom(1 / MAX_ZOOM, (zoom) =>
    holds.every((hold) => {
      const [a, b, c, d, e, f] = affineOf(placing(hold, share, zoom, geometry));
      return cornersOf(geometry).every(([x, y]) => {
        const [u, v] = [x - c, y - f];
        return isInside((e * u - b * v) / (a * e - b * d), (a * v - d * u) / (a * e - b * d), geometry);
      });
    }),
  );

function affineOf(sourceAt: (x: number, y: number) => [number, number]): AffineMap {
  const [c, f] = sourceAt(0, 0);
  const [ax, dx] = sourceAt(1, 0);
  const [by, ey] = sourceAt(0, 1);
  return [ax - c, by - c, c, dx - f, ey - f, f];
}

/** Takes a track's motion out of the picture. */
export const steady = define<Steady>({
  kind: "steady",
  label: "Steady",
  station: "print",
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M20 14V50M14 32H26M17 17L20 14L23 17M17 47L20 50L23 47" },
  summary: "Holds something in the picture still: a track's motion, all of it or its shake, is taken out.",
  advice: "Track something that lies where the eye rests. Overdone, the frame floats and its edges crop.",
  strengthLaw: "The share of the motion that is taken out; 1 is all of it.",
  source:
    "The inverse of a tracked similarity, of all of it or what is faster than a time constant (a Gaussian low-pass).",
  passes: "bends",
  parameters,
  changesWithFrame: true,
  missing: ({ values }, { tracks }) =>
    values.track === "" ? "No track is chosen." : tracks.has(values.track) ? null : "The track is not there.",
  cautions({ strength, values }, { tracks, geometry }) {
    const track = tracks.get(values.track);
    if (!track) return [];
    const change = fittingZoom(track, values, strength, geometry) - 1;
    return Math.abs(change) > 0.001 ? [`Framing changed by ${(100 * change).toFixed(1)} %.`] : [];
  },
  work: {
    kind: "geometry",
    terms({ strength, values }, { tracks, frame, geometry }) {
      const track = tracks.get(values.track);
      if (!track) return {};
      const zoom = fittingZoom(track, values, strength, geometry);
      return { moved: affineOf(placing(holdAt(track, values, frame), strength, zoom, geometry)) };
    },
  },
  response({ strength, mix, values }, { tracks, geometry }) {
    const track = tracks.get(values.track);
    const frames = track ? track.x.map((_, i) => track.first + i) : [0, 1];
    const motion = (share: number) =>
      frames.map((frame) => {
        if (!track) return 0;
        const { from, to } = holdAt(track, values, frame);
        const reference = poseAt(track, track.reference);
        return (((1 - share) * from.x + share * to.x - reference.x) / 100) * geometry.width;
      });
    return {
      title: "Movement across, before and after",
      x: { label: "Frame", unit: "" },
      y: { label: "From the track's own frame", unit: "px" },
      traces: [
        { name: "before", colour: "grey", kind: "measured", x: frames, y: motion(0) },
        { name: "after", colour: "grey", kind: "applied", x: frames, y: motion(strength * mix) },
      ],
    };
  },
});
