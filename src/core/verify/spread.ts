import { CHANNELS, gradeOf, scatterAt } from "../elements/diffusion/scatter";
import { keyOf, takenLight, type KeyValues } from "../elements/key";
import { streakProfile } from "../elements/streak/streak";
import { spreadCurve } from "../profile/filter";
import { planeOf, pointOfLight } from "./charts";
import { type Check, type Quantity, relatively, worst } from "./quantity";

const DEGREE = Math.PI / 180;
const LIGHT = 1000;
/** log10 */
const SHAPE_BAR = 0.05;
/** % */
const TOTAL_BAR = 0.1;
/**
 * Rings from here, px, to half the frame's height, this many to a decade of distance, while light is within five
 * decades of the innermost.
 */
const FIRST = 1.5;
const RINGS_A_DECADE = 8;
const DECADES = 5;
/** Frames on either side that mirror the picture where `extend` is asked for: as many as a spread reaches into. */
const MIRRORS = [-2, -1, 0, 1, 2];

/** Pixels of rings beyond these distances (px) are taken in every second row and column, and every fourth. */
const strideAt = (r: number) => (r < 32 ? 1 : r < 128 ? 2 : 4);

/** The sum of a spread over the plane out to a distance, by rings a fiftieth of a decade wide. */
function sumOverPlane(at: (r: number) => number, reach: number): number {
  let sum = 0;
  for (let r = 1e-3, next = r; r < reach; r = next) {
    next = r * 10 ** 0.02;
    const middle = Math.sqrt(r * next);
    sum += 2 * Math.PI * middle * middle * at(middle) * Math.log(next / r);
  }
  return sum;
}

/** A point of light through a scattering filter: its light by distance, and all of it, against the grade's. */
export const checkScatter: Check = ({ state, context, through }) => {
  const { geometry, focalLength } = context;
  const { width, height, pitchX, pitchY, squeeze } = geometry;
  const grade = gradeOf(state.values as { profile: string; grade: string }, context)!;
  const [cx, cy] = [width >> 1, height >> 1];
  const out = through(pointOfLight(width, height, cx, cy, LIGHT));
  const transmission =
    state.kind === "diffusion" && !state.values.compensate ? 2 ** (grade.transmissionStops * state.strength) : 1;
  const absorbs = state.kind === "diffusion" || (state.kind === "net" && state.values.thread === "dark");
  const passed = scatterAt(grade, state.strength) * (absorbs ? 1 - grade.absorption : 1) * transmission;
  const stretch = (pitchX * squeeze) / pitchY;
  const edges = Array.from(
    { length: Math.floor(Math.log10(height / 2 / FIRST) * RINGS_A_DECADE) + 1 },
    (_, i) => FIRST * 10 ** (i / RINGS_A_DECADE),
  );
  const shape = CHANNELS.map((name, channel) => {
    const curve = spreadCurve(grade.spread.degrees, grade.spread[name]);
    const at = (r: number) => curve(Math.atan((r * pitchY) / focalLength) / DEGREE);
    const plane = planeOf(out, channel);
    const [measured, wanted] = [new Float64Array(edges.length), new Float64Array(edges.length)];
    const mirrors = state.values.surround === "black" ? [0] : MIRRORS;
    const images = (c: number, length: number) => mirrors.map((k) => k * length + (k % 2 ? length - 1 - c : c));
    // Mirror images of the frame tile the plane: what they hold together is the sum over as large a disc.
    const whole = sumOverPlane(at, Math.sqrt((width * stretch * height) / Math.PI) * mirrors.length) / stretch;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const r = Math.hypot((x - cx) * stretch, y - cy);
        const ring = Math.floor(Math.log10(r / FIRST) * RINGS_A_DECADE);
        const stride = strideAt(r);
        if (!(ring >= 0 && ring < edges.length - 1) || (x - cx) % stride || (y - cy) % stride) continue;
        for (const ix of images(cx, width))
          for (const iy of images(cy, height))
            wanted[ring]! += at(Math.hypot((x - ix) * stretch, y - iy)) * stride ** 2;
        measured[ring]! += plane.data[y * width + x]! * stride ** 2;
      }
    const innermost = at(FIRST);
    const rings = edges.slice(0, -1).flatMap((edge, i): Quantity[] => {
      if (at(edge) < innermost * 10 ** -DECADES || wanted[i] === 0) return [];
      const [profile, found] = [(wanted[i]! / whole) * passed, measured[i]! / LIGHT];
      return [
        {
          kind: state.kind,
          quantity: `light around a point, ${name}, ${edge.toFixed(1)} to ${edges[i + 1]!.toFixed(1)} px`,
          unit: "of all light",
          profile,
          measured: found,
          difference: Math.log10(found / profile),
          bar: SHAPE_BAR,
          barUnit: "log10",
        },
      ];
    });
    return worst(rings);
  });
  const sum = planeOf(out, 1).data as Float64Array;
  const direct = transmission * (1 - scatterAt(grade, state.strength)) + passed;
  return [
    ...shape,
    relatively(
      state.kind,
      "all the light of a point, green",
      "of its light",
      direct,
      sum.reduce((a, b) => a + b, 0) / LIGHT,
      TOTAL_BAR,
    ),
  ];
};

/** Bright enough for any key; its light is what the key takes of it. */
const LAMP = 4000;
/** %; optics asks for none. */
const STREAK_BAR = 3;
/** e-folding lengths from the source at which the line is read. */
const ALONG = [0.25, 0.5, 1, 2, 3];

/** The line a lamp draws: its light by distance along it, summed across it. */
export const checkStreak: Check = ({ state, context, through }) => {
  const { width, height } = context.geometry;
  const values = state.values as unknown as KeyValues & {
    length: number[];
    tail: number;
    gain: number;
    tint: number[];
    tintTail: number[];
    angle: number;
    count: number;
  };
  if (values.angle || values.count > 1) return [];
  const [cx, cy] = [width >> 1, height >> 1];
  const out = through(pointOfLight(width, height, cx, cy, LAMP));
  const taken = takenLight(keyOf(values), LAMP);
  return CHANNELS.map((name, channel) => {
    const length = (values.length[channel]! / 100) * width;
    const plane = planeOf(out, channel);
    return worst(
      ALONG.map((lengths) => Math.round(lengths * length))
        .filter((d) => d > 2 && cx + d < width - 2)
        .map((d) => {
          let measured = 0;
          for (let y = 0; y < height; y++) measured += plane.data[y * width + cx + d]! / taken;
          const wanted =
            ((values.gain / 100) *
              state.strength *
              streakProfile(d / length, values.tail, values.tint[channel], values.tintTail[channel])) /
            length;
          return relatively(
            "streak",
            `light of the line, ${name}, ${d} px from a lamp`,
            "of the lamp, a px",
            wanted,
            measured,
            STREAK_BAR,
          );
        }),
    );
  });
};
