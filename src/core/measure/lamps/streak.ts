/** The line that cylindrical glass draws through small lamps: two exponentials along the rows. */
import { nonNegativeLeastSquares } from "../../maths/non-negative";
import { STREAK_TAIL_RATIO } from "../../profile/lens";
import type { Blob } from "../blobs";
import type { Chart } from "../chart";
import { middleOf, type Plane } from "../plane";
import { CHANNELS } from "./lamps";

export interface Streak {
  /** e-folding length of red, green and blue, % of the frame's width. */
  length: [number, number, number];
  /** Share of the light that is in the long tail. */
  tail: number;
  /** Standard deviation across, % of the frame's height. */
  thickness: number;
  /** Light of the line over the lamp's, %, white; its colour, of mean 1. */
  gain: number;
  tint: [number, number, number];
  /** Standard error as a share of the line's light: what lamps differ by, and what the method costs. */
  uncertainty: number;
}

/** Rows of a line: so far from the lamp's middle (lamp's radii and px), and those its ground is taken from. */
const [ROWS_RADII, ROWS_PX] = [1, 8];
const GROUND_ROWS = 14;
/** Columns nearer than this to a lamp (radii, px) are the lamp's own. */
const [NEAR_RADII, NEAR_PX] = [2, 8];
/** A line has this many times the light of its error. */
const SURE = 8;
/** The lengths tried, % of the frame's width, how many at first, and rounds of trying nearer. */
const [SHORTEST, LONGEST] = [0.5, 100];
const TRIED = 40;
const ROUNDS = 20;
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** Noise of light, and at least this of the lightest part of a line. */
const NOISE = 0.005;
const NOISE_FLOOR = 1e-3;

interface Along {
  distance: number;
  light: number;
}

const radiusOf = ({ area }: Blob) => Math.sqrt(area / Math.PI);

/** A lamp's own light above its ground, and its variance down, px². */
function lampLight({ width, data }: Plane, lamp: Blob, ground: (x: number) => number) {
  const reach = Math.ceil(2 * radiusOf(lamp)) + 2;
  const [cx, cy] = [Math.round(lamp.x), Math.round(lamp.y)];
  let [light, square] = [0, 0];
  for (let y = cy - reach; y <= cy + reach; y++)
    for (let x = cx - reach; x <= cx + reach; x++) {
      const own = data[y * width + x]! - ground(x);
      light += own;
      square += own * (y - lamp.y) ** 2;
    }
  return { light, variance: square / light };
}

/** The light along a lamp's row at both sides, summed over the line's rows, above the ground beside it. */
function lineOf(plane: Plane, lamp: Blob, others: readonly Blob[]) {
  const { width, height, data } = plane;
  const half = streakRows(lamp);
  const cy = Math.round(lamp.y);
  if (cy - half - GROUND_ROWS < 0 || cy + half + GROUND_ROWS >= height) return null;
  const near = NEAR_RADII * radiusOf(lamp) + NEAR_PX;
  const groundAt = (x: number) => {
    let sum = 0;
    for (let j = 1; j <= GROUND_ROWS; j++)
      sum += data[(cy - half - j) * width + x]! + data[(cy + half + j) * width + x]!;
    return sum / (2 * GROUND_ROWS);
  };
  const along: Along[] = [];
  let [light, square] = [0, 0];
  for (let x = 0; x < width; x++) {
    const distance = Math.abs(x - lamp.x);
    const isOthers = others.some(
      (other) => Math.abs(other.y - lamp.y) < 2 * half + GROUND_ROWS && Math.abs(other.x - x) < near,
    );
    if (distance < near || isOthers) continue;
    const ground = groundAt(x);
    let sum = 0;
    for (let y = cy - half; y <= cy + half; y++) {
      const own = data[y * width + x]! - ground;
      sum += own;
      square += own * (y - lamp.y) ** 2;
    }
    light += sum;
    along.push({ distance, light: sum });
  }
  return { along, variance: square / light, lamp: lampLight(plane, lamp, groundAt) };
}

/** Light of core and tail for a length (px), and how badly they fit. */
function strandsFor(along: readonly Along[], length: number) {
  const lightest = Math.max(...along.map(({ light }) => light));
  const weights = along.map(({ light }) => 1 / (NOISE * Math.max(light, 0) + NOISE_FLOOR * lightest));
  const strand = (ratio: number) =>
    along.map(({ distance }, i) => (weights[i]! * Math.exp(-distance / (ratio * length))) / (2 * ratio * length));
  const columns = [strand(1), strand(STREAK_TAIL_RATIO)];
  const target = along.map(({ light }, i) => light * weights[i]!);
  const [core = 0, tail = 0] = nonNegativeLeastSquares(columns, target);
  const misfit = target.reduce((sum, b, i) => sum + (b - core * columns[0]![i]! - tail * columns[1]![i]!) ** 2, 0);
  return { core, tail, misfit };
}

/** The length (px) that fits best: of many the best, then nearer and nearer to it by the golden section. */
function fittedStrands(along: readonly Along[], width: number) {
  const misfit = (log: number) => strandsFor(along, Math.exp(log)).misfit;
  const [shortest, longest] = [SHORTEST, LONGEST].map((percent) => Math.log((percent / 100) * width)) as [
    number,
    number,
  ];
  const step = (longest - shortest) / TRIED;
  const tried = Array.from({ length: TRIED + 1 }, (_, i) => misfit(shortest + i * step));
  const nearest = shortest + tried.indexOf(Math.min(...tried)) * step;
  let [low, high] = [nearest - step, nearest + step];
  for (let i = 0; i < ROUNDS; i++) {
    const [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    if (misfit(a) < misfit(b)) high = b;
    else low = a;
  }
  const length = Math.exp((low + high) / 2);
  return { length, ...strandsFor(along, length) };
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const deviation = (values: readonly number[]) => {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - middle) ** 2)));
};

/** What the two exponentials' fit and the lamp's own edge cost, as a share of the line's light. */
const SYSTEMATIC = 0.005;
/** Standard error of a share where one lamp alone says it. */
const OF_ONE_LAMP = 0.03;

/** The streak of a frame of small lamps, along its rows; null where they draw no line. */
export function streakOf({ channels }: Pick<Chart, "channels">, lamps: readonly Blob[]): Streak | null {
  const { width, height } = channels.green;
  const readings = lamps.flatMap((lamp) => {
    const others = lamps.filter((other) => other !== lamp);
    const lines = CHANNELS.map((channel) => lineOf(channels[channel], lamp, others));
    if (lines.some((line) => !line || !isThere(line.along))) return [];
    return [lines.map((line) => ({ ...fittedStrands(line!.along, width), of: line! }))];
  });
  if (!readings.length) return null;
  const perChannel = <T>(value: (strand: (typeof readings)[number][number]) => T) =>
    CHANNELS.map((_, c) => readings.map((reading) => value(reading[c]!)));
  const lengths = perChannel(({ length }) => (100 * length) / width).map(mean) as Streak["length"];
  const gains = perChannel(({ core, tail, of }) => (core + tail) / of.lamp.light);
  const shares = perChannel(({ core, tail }) => tail / (core + tail)).flat();
  const gain = mean(gains.flat());
  const variance = mean(readings.flatMap((reading) => reading.map(({ of }) => of.variance - of.lamp.variance)));
  const spread = Math.max(...gains.map((values) => deviation(values) / mean(values)));
  return {
    length: lengths,
    tail: mean(shares),
    thickness: (100 * Math.sqrt(Math.max(0, variance))) / height,
    gain: 100 * gain,
    tint: gains.map((values) => mean(values) / gain) as Streak["tint"],
    uncertainty: Math.hypot(SYSTEMATIC, readings.length > 1 ? spread / Math.sqrt(readings.length) : OF_ONE_LAMP),
  };
}

/** Whether there is light along a row, above what its noise makes. */
function isThere(along: readonly Along[]): boolean {
  const nearer = along.filter(({ distance }, _, all) => distance < all.length / 8).map(({ light }) => light);
  if (!nearer.length) return false;
  const { value, error } = middleOf(Float64Array.from(nearer));
  return value > SURE * error && value > 0;
}

/** Rows above and below a lamp's middle that a streak's light may lie in. */
export const streakRows = (lamp: Blob) => Math.ceil(ROWS_RADII * radiusOf(lamp)) + ROWS_PX;
