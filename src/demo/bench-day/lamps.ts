/** Small lamps in the dark through a lens, by its profile's definition: its veil, its streak, and its pupil. */
import type { Frame } from "../../core/image/image";
import { type LensProfile, STREAK_TAIL_RATIO } from "../../core/profile/lens";
import { CAMERA } from "./camera";
import { CHANNELS, type LensOnCamera } from "./through-lens";

const { width: WIDTH, height: HEIGHT, pitch: PITCH, sensor: SENSOR } = CAMERA;
const [MIDDLE_X, MIDDLE_Y] = [(WIDTH - 1) / 2, (HEIGHT - 1) / 2];
const CORNER = Math.hypot(SENSOR.width, SENSOR.height) / 2;

/** Lamps in focus: places as shares of the frame, none in another's rows. Their radius, px, and their light. */
const LAMPS = [
  [0.503, 0.52],
  [0.21, 0.24],
  [0.77, 0.33],
  [0.31, 0.71],
  [0.69, 0.83],
] as const;
const [LAMP_RADIUS, LAMP_LIGHT] = [4.3, 210];
const SAMPLES = 8;

/** Places (px) that a lamp's light comes from, with an equal share of it each. */
function lampPoints(x: number, y: number): [number, number][] {
  const points: [number, number][] = [];
  const reach = Math.ceil(LAMP_RADIUS) * SAMPLES;
  for (let j = -reach; j <= reach; j++)
    for (let i = -reach; i <= reach; i++) {
      const [dx, dy] = [(i + 0.5) / SAMPLES, (j + 0.5) / SAMPLES];
      if (Math.hypot(dx, dy) <= LAMP_RADIUS) points.push([x + dx, y + dy]);
    }
  return points;
}

/** The error function, to 1.5e-7 (Abramowitz and Stegun, 7.1.26). */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const tail =
    t *
    (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) *
    Math.exp(-x * x);
  return Math.sign(x) * (1 - tail);
}

/** Light that falls on each of `count` pixels from points with equal shares, each spread by a Gaussian (px). */
function acrossLine(points: readonly number[], sigma: number, count: number): Float64Array {
  const out = new Float64Array(count);
  const reach = Math.ceil(6 * sigma) + 1;
  for (const point of points)
    for (let i = Math.max(0, Math.floor(point) - reach); i <= Math.min(count - 1, Math.ceil(point) + reach); i++)
      out[i]! +=
        (erf((i + 0.5 - point) / (sigma * Math.SQRT2)) - erf((i - 0.5 - point) / (sigma * Math.SQRT2))) /
        2 /
        points.length;
  return out;
}

/** Light on each pixel of a row from points with equal shares, each drawn out by an exponential on both sides. */
function alongLine(points: readonly number[], length: number, count: number): Float64Array {
  return Float64Array.from(
    { length: count },
    (_, i) => points.reduce((sum, x) => sum + Math.exp(-Math.abs(i - x) / length), 0) / (2 * length * points.length),
  );
}

/** How much of the veil lies evenly; the rest lies about the lamps, as wide as this share of the height. */
const [EVEN, ABOUT] = [0.6, 0.28];

/** A veil's light over the frame, of mean 1. */
function veilShape(): Float64Array {
  const shape = new Float64Array(WIDTH * HEIGHT);
  const sigma = ABOUT * HEIGHT;
  let sum = 0;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i++) {
      for (const [u, v] of LAMPS)
        shape[i]! += Math.exp(-((x - u * WIDTH) ** 2 + (y - v * HEIGHT) ** 2) / (2 * sigma * sigma));
      sum += shape[i]!;
    }
  return shape.map((value) => EVEN + ((1 - EVEN) * value * WIDTH * HEIGHT) / sum);
}

/** Five small lamps in focus. */
export function lampFrame(lens: LensProfile, { light }: LensOnCamera): Frame {
  const frame: Frame = { width: WIDTH, height: HEIGHT, data: new Float32Array(4 * WIDTH * HEIGHT) };
  const lamps = LAMPS.map(([u, v]) => lampPoints(u * WIDTH, v * HEIGHT));
  let sum = 0;
  const planes = CHANNELS.map(() => new Float64Array(WIDTH * HEIGHT));
  for (const points of lamps)
    for (const [x, y] of points) {
      const [i, j] = [Math.round(x), Math.round(y)];
      const own = (LAMP_LIGHT / SAMPLES ** 2) * light(Math.hypot(i - MIDDLE_X, j - MIDDLE_Y) * PITCH);
      for (const plane of planes) plane[j * WIDTH + i]! += own;
      sum += own;
    }
  const mean = sum / (WIDTH * HEIGHT);
  const shape = lens.veil ? veilShape() : null;
  const veil = ((lens.veil?.fraction ?? 0) / 100) * mean;
  planes.forEach((plane, c) => {
    for (const points of lens.streak ? lamps : []) addStreak(plane, lens.streak!, points, c, light);
    for (let i = 0; i < plane.length; i++) frame.data[4 * i + c] = plane[i]! + (shape ? veil * shape[i]! : 0);
  });
  for (let i = 3; i < frame.data.length; i += 4) frame.data[i] = 1;
  return frame;
}

function addStreak(
  plane: Float64Array,
  { length, tail, thickness, gain, tint }: NonNullable<LensProfile["streak"]>,
  points: readonly (readonly [number, number])[],
  channel: number,
  light: LensOnCamera["light"],
): void {
  const [x, y] = [0, 1].map((axis) => points.reduce((sum, point) => sum + point[axis]!, 0) / points.length);
  const lamp = LAMP_LIGHT * (points.length / SAMPLES ** 2) * light(Math.hypot(x! - MIDDLE_X, y! - MIDDLE_Y) * PITCH);
  const down = acrossLine(
    points.map((point) => point[1]),
    (thickness / 100) * HEIGHT,
    HEIGHT,
  );
  const px = (length[channel]! / 100) * WIDTH;
  const columns = [...new Set(points.map((point) => point[0]))];
  const core = alongLine(columns, px, WIDTH);
  const far = alongLine(columns, px * STREAK_TAIL_RATIO, WIDTH);
  const amount = (gain / 100) * tint[channel]! * lamp;
  for (let j = 0; j < HEIGHT; j++) {
    if (down[j]! < 1e-9) continue;
    for (let i = 0; i < WIDTH; i++)
      plane[j * WIDTH + i]! += amount * down[j]! * ((1 - tail) * core[i]! + tail * far[i]!);
  }
}

/** Lamps out of focus: how many, their room at the frame's edge and their discs' radius, px; light of their middles. */
const [COLUMNS, ROWS, ROOM, DISC_RADIUS, DISC_LIGHT] = [13, 7, 62, 58, 6];
/** Samples of a pixel in each direction. */
const PER_PIXEL = 5;
/** Share of a disc's radius within which no iris of more than eight blades ends. */
const WELL_WITHIN = 0.88;

/** How far the barrel's circle lies aside, radii, so that this share of the pupil is open: by halving. */
function barrelShift(open: number): number {
  let [low, high] = [0, 2];
  while (high - low > 1e-7) {
    const d = (low + high) / 2;
    const left = (2 * Math.acos(d / 2) - d * Math.sqrt(1 - (d * d) / 4)) / Math.PI;
    if (left > open) low = d;
    else high = d;
  }
  return low;
}

/** Even lamps far out of focus all over the frame: each is the iris, cut by the barrel. */
export function discFrame({ pupil }: LensProfile, { light }: LensOnCamera): Frame {
  const frame: Frame = { width: WIDTH, height: HEIGHT, data: new Float32Array(4 * WIDTH * HEIGHT) };
  for (let i = 3; i < frame.data.length; i += 4) frame.data[i] = 1;
  const { blades = 0, roundness = 1, catEye = [1], rim = 0 } = pupil ?? {};
  const sector = (2 * Math.PI) / Math.max(3, blades);
  const iris = (angle: number) => {
    if (blades < 3) return 1;
    const within = (((angle % sector) + sector) % sector) - sector / 2;
    return roundness + ((1 - roundness) * Math.cos(sector / 2)) / Math.cos(within);
  };
  const openAt = (height: number) => {
    const place = Math.min(1, height / CORNER) * (catEye.length - 1);
    const i = Math.min(Math.floor(place), Math.max(0, catEye.length - 2));
    return catEye[i]! + (place - i) * ((catEye[i + 1] ?? catEye[i]!) - catEye[i]!);
  };
  const place = (i: number, count: number, length: number) => ROOM + (i * (length - 1 - 2 * ROOM)) / (count - 1);
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      // A little aside, so that no two discs lie alike on the pixels.
      const cx = place(column, COLUMNS, WIDTH) + 0.37 * Math.sin(3 * row + column);
      const cy = place(row, ROWS, HEIGHT) + 0.41 * Math.cos(2 * column + row);
      const away = Math.hypot(cx - MIDDLE_X, cy - MIDDLE_Y);
      const shift = barrelShift(openAt(away * PITCH)) / Math.max(away, 1e-9);
      const [bx, by] = [(cx - MIDDLE_X) * shift, (cy - MIDDLE_Y) * shift];
      const level = DISC_LIGHT * light(away * PITCH);
      const lightIn = (u: number, v: number) => {
        const r = Math.hypot(u, v);
        if (r > iris(Math.atan2(v, u) + 0.21) || Math.hypot(u + bx, v + by) > 1) return 0;
        return 1 + rim * (2 * r ** 6 - 0.5);
      };
      const reach = DISC_RADIUS + 2;
      for (let j = Math.floor(cy - reach); j <= cy + reach; j++)
        for (let i = Math.floor(cx - reach); i <= cx + reach; i++) {
          if (i < 0 || j < 0 || i >= WIDTH || j >= HEIGHT) continue;
          const [u, v] = [(i - cx) / DISC_RADIUS, (j - cy) / DISC_RADIUS];
          // What lies well within both circles is as smooth as light is: one sample does.
          const isWithin = Math.max(Math.hypot(u, v), Math.hypot(u + bx, v + by)) < WELL_WITHIN;
          const samples = isWithin ? 1 : PER_PIXEL;
          let sum = 0;
          for (let b = 0; b < samples; b++)
            for (let a = 0; a < samples; a++) {
              const [px, py] = [i + (a + 0.5) / samples - 0.5, j + (b + 0.5) / samples - 0.5];
              sum += lightIn((px - cx) / DISC_RADIUS, (py - cy) / DISC_RADIUS);
            }
          for (let c = 0; c < 3; c++) frame.data[4 * (j * WIDTH + i) + c]! += (level * sum) / samples ** 2;
        }
    }
  return frame;
}
