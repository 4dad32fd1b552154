import { distortionTerms, drawnAt } from "../elements/distortion/distortion";
import { fitZoom } from "../elements/geometry";
import { centreOf, contrastOfDots } from "../measure/dots";
import { UNDISTORTED } from "../profile/distortion";
import { distortionAt, lateralColourAt } from "../profile/lens";
import { dotGrid, planeOf } from "./charts";
import { plainly, type Check, type Quantity } from "./quantity";

/** px */
const CENTRE_BAR = 0.05;
const LATERAL_BAR = 0.03;
/** Dots nearer the edge than this many radii are cut off or blurred by it. */
const MARGIN = 5;
const UM_PER_MM = 1000;
/** Bands of image height in which lateral colour is reported, as shares of the farthest dot's. */
const BANDS = [
  ["half field", 0.4, 0.6],
  ["full field", 0.85, 1.001],
] as const;

/** A grid of dots through the lens: where they must lie, and where they do. */
function dotsThrough({ state, context, through }: Parameters<Check>[0], bends: boolean) {
  const { geometry, lens, focalLength } = context;
  const { width, height, axisX, axisY, pitchX, pitchY } = geometry;
  const distortion = bends ? distortionAt(lens!, focalLength)! : UNDISTORTED;
  const own = { strength: state.strength, values: state.values as Parameters<typeof distortionTerms>[0]["values"] };
  const zoom = bends ? fitZoom(distortionTerms(own, context), geometry, focalLength) : 1;
  const { frame, positions: places, radius } = dotGrid(width, height);
  const out = through(frame);
  const planes = [0, 1, 2].map((channel) => contrastOfDots(planeOf(out, channel)));
  const margin = MARGIN * radius;
  return places.flatMap(([x, y]) => {
    const [u, v] = drawnAt(
      own.values.direction,
      distortion,
      state.strength,
      ((x - axisX) * pitchX) / focalLength,
      ((y - axisY) * pitchY) / focalLength,
    );
    const [wx, wy] = [(u * focalLength) / pitchX / zoom + axisX, (v * focalLength) / pitchY / zoom + axisY];
    if (wx < margin || wy < margin || wx > width - 1 - margin || wy > height - 1 - margin) return [];
    const [red, green, blue] = planes.map((plane) => centreOf(plane, { x: wx, y: wy, radius }));
    return red && green && blue ? [{ moved: Math.hypot(wx - x, wy - y), wx, wy, red, green, blue }] : [];
  });
}

/** Where dots of a grid come to lie, against the profile's model. */
export const checkDistortion: Check = (trial) => {
  const dots = dotsThrough(trial, true);
  const misses = dots.map(({ wx, wy, green }) => Math.hypot(green.x - wx, green.y - wy));
  const farthest = dots.reduce((best, dot) => (dot.moved > best.moved ? dot : best));
  const { geometry } = trial.context;
  const from = { x: farthest.wx, y: farthest.wy };
  const toward = Math.hypot(from.x - geometry.axisX, from.y - geometry.axisY) || 1;
  const further =
    ((farthest.green.x - from.x) * (from.x - geometry.axisX) +
      (farthest.green.y - from.y) * (from.y - geometry.axisY)) /
    toward;
  return [
    plainly(
      "distortion",
      "displacement of the dot moved most",
      "px",
      farthest.moved,
      farthest.moved + further,
      CENTRE_BAR,
    ),
    plainly(
      "distortion",
      `distance of ${dots.length} dots from the model, root mean square`,
      "px",
      0,
      Math.sqrt(misses.reduce((sum, miss) => sum + miss * miss, 0) / dots.length),
      CENTRE_BAR,
    ),
  ];
};

/** How far red and blue dots lie outside the green ones. */
export const checkLateralColour: Check = (trial) => {
  const { geometry, lens, focalLength } = trial.context;
  const { axisX, axisY, pitchX, pitchY } = geometry;
  const dots = dotsThrough(trial, false).map(({ red, green, blue }) => {
    const [mx, my] = [(green.x - axisX) * pitchX, (green.y - axisY) * pitchY];
    const height = Math.hypot(mx, my);
    const further = ({ x, y }: { x: number; y: number }) =>
      (UM_PER_MM * ((x - green.x) * pitchX * mx + (y - green.y) * pitchY * my)) / Math.max(height, 1e-9);
    return { height, red: further(red), blue: further(blue) };
  });
  const farthest = Math.max(...dots.map(({ height }) => height));
  return BANDS.flatMap(([label, from, to]) =>
    (["red", "blue"] as const).map((channel): Quantity => {
      const curve = lateralColourAt(lens!, focalLength, channel)!;
      const within = dots.filter(({ height }) => height >= from * farthest && height < to * farthest);
      const mean = (value: (dot: (typeof dots)[number]) => number) =>
        within.reduce((sum, dot) => sum + value(dot), 0) / within.length;
      const [profile, measured] = [
        mean(({ height }) => curve(height) * trial.state.strength),
        mean((dot) => dot[channel]),
      ];
      return {
        kind: "lateralColour",
        quantity: `${channel} against green, ${label} (${mean(({ height }) => height).toFixed(1)} mm)`,
        unit: "µm",
        profile,
        measured,
        difference: (measured - profile) / UM_PER_MM / pitchX,
        bar: LATERAL_BAR,
        barUnit: "px",
      };
    }),
  );
};
