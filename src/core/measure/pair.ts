/**
 * A filter from two frames of one scene, without it and with it: how much light comes through, how much of it is
 * scattered, and how far. The second frame is taken as the first one, dimmed, and a non-negative sum of Gaussian blurs of
 * it, one octave and less apart.
 */
import { cholesky } from "../maths/cholesky";
import { nonNegativeSolution } from "../maths/non-negative";
import type { Chart, Channel } from "./chart";
import { median, MeasureError, type Plane } from "./plane";

export interface ChannelScatter {
  /** Light that comes through, scattered or not, as a share. */
  transmission: number;
  /** Share of it that is scattered. */
  scatter: number;
  /** Light per unit area at each of the spread's angles, all of it one. */
  spread: number[];
}

export interface FilterMeasurement {
  /** Degrees. */
  degrees: number[];
  channels: Record<Channel, ChannelScatter>;
  /** Standard error of green's scatter and of the logarithm (base 10) of its spread: what quarters of the frame differ by. */
  uncertainty: { scatter: number; spread: number[] };
  /** How much of what the filter changed is explained, 0 to 1. */
  explained: number;
}

/** Standard deviations of the blurs, px: from the narrowest, each so many times the last, to a share of the height. */
const NARROWEST = 1.2;
const RATIO = 1.6;
const WIDEST_SHARE = 0.4;
/** Angles of the spread, px from its middle: from here to half the height. */
const NEAREST = 0.5;
const ANGLES = 40;
/** Noise of a picture: so much of its light, and of its middle light in its darkest parts. */
const NOISE = 0.005;
/** Every so many pixels are looked at, across and down, and none this near to the frame's edge (share of its height). */
const EVERY = 2;
const MARGIN = 0.02;
/** A pair that is explained by less than this share moved, or was lit otherwise. */
const MIN_EXPLAINED = 0.9;
/** The second frame may lie aside by so much, px. */
const MAX_SHIFT = 0.3;
/** The brightest light is at least so many times the middle one, or there is nothing to be spread. */
const MIN_RANGE = 8;
/** So many pixels of the very brightest code are a clipped picture. */
const CLIPPED = 12;
const QUARTERS = 4;
/** What a sum of Gaussians leaves of error without any noise, as a share of the scatter. */
const SYSTEMATIC = 0.005;

const reflected = (i: number, n: number) => {
  const period = 2 * n;
  const at = ((i % period) + period) % period;
  return at < n ? at : period - 1 - at;
};

/** Blurs along rows (or columns) by a Gaussian of some px, mirrored at the edges. */
function blurredAlong({ width, height, data }: Plane, sigma: number, rows: boolean): Plane {
  const radius = Math.ceil(4 * sigma);
  const taps = Array.from({ length: 2 * radius + 1 }, (_, k) => Math.exp(-((k - radius) ** 2) / (2 * sigma * sigma)));
  const sum = taps.reduce((a, b) => a + b);
  const out = new Float64Array(width * height);
  const [length, lines] = rows ? [width, height] : [height, width];
  const [step, stride] = rows ? [1, width] : [width, 1];
  const line = new Float64Array(length + 2 * radius);
  for (let l = 0; l < lines; l++) {
    for (let i = 0; i < line.length; i++) line[i] = data[l * stride + reflected(i - radius, length) * step]!;
    for (let i = 0; i < length; i++) {
      let value = 0;
      for (let k = 0; k < taps.length; k++) value += taps[k]! * line[i + k]!;
      out[l * stride + i * step] = value / sum;
    }
  }
  return { width, height, data: out };
}

function halved({ width, height, data }: Plane): Plane {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const at = (x: number, y: number) => data[Math.min(height - 1, y) * width + Math.min(width - 1, x)]!;
  const out = Float64Array.from({ length: w * h }, (_, i) => {
    const [x, y] = [2 * (i % w), 2 * Math.floor(i / w)];
    return (at(x, y) + at(x + 1, y) + at(x, y + 1) + at(x + 1, y + 1)) / 4;
  });
  return { width: w, height: h, data: out };
}

/** Light at a place between pixels, bilinear. */
function lightAt({ width, height, data }: Plane, x: number, y: number): number {
  const [cx, cy] = [Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))];
  const [left, top] = [Math.min(width - 2, Math.floor(cx)), Math.min(height - 2, Math.floor(cy))];
  const [u, v] = [cx - left, cy - top];
  const row = (line: number) => data[line * width + left]! * (1 - u) + data[line * width + left + 1]! * u;
  return row(top) * (1 - v) + row(top + 1) * v;
}

/** Levels of half the size, the full one first, as many as the widest blur needs. */
function levelsOf(plane: Plane): Plane[] {
  const levels = [plane];
  while (Math.min(levels.at(-1)!.width, levels.at(-1)!.height) > 24) levels.push(halved(levels.at(-1)!));
  return levels;
}

/** A Gaussian blur at places of the full size, made where it is some two to four cells wide. */
function blurredAt(levels: Plane[], sigma: number, places: readonly (readonly [number, number])[]): Float64Array {
  const level = Math.min(levels.length - 1, Math.max(0, Math.floor(Math.log2(sigma / 2))));
  const cell = 2 ** level;
  // Halving and coming back between cells blur by themselves.
  const own = level ? (cell ** 2 - 1) / 12 + cell ** 2 / 6 : 0;
  const rest = Math.sqrt(Math.max(0.04, (sigma ** 2 - own) / cell ** 2));
  const blurred = blurredAlong(blurredAlong(levels[level]!, rest, true), rest, false);
  return Float64Array.from(places, ([x, y]) => lightAt(blurred, (x + 0.5) / cell - 0.5, (y + 0.5) / cell - 0.5));
}

const widths = (height: number): number[] => {
  const out = [NARROWEST];
  while (out.at(-1)! * RATIO < WIDEST_SHARE * height) out.push(out.at(-1)! * RATIO);
  return out;
};

/** Throws where pictures say too little: clipped, or without bright light. */
function refuse(name: string, { data }: Plane): void {
  const sorted = Float64Array.from(data).sort();
  const most = sorted.at(-1)!;
  if (!(most > 0)) throw new MeasureError(`${name}: is black`);
  if (sorted.length - sorted.indexOf(most) > Math.max(CLIPPED, sorted.length * 1e-4))
    throw new MeasureError(`${name}: its brightest light is clipped; expose the scene less`);
  const middle = sorted[sorted.length >> 1]!;
  if (most < MIN_RANGE * middle)
    throw new MeasureError(`${name}: there is too little bright light; take a scene with small lamps in the dark`);
}

interface Columns {
  places: readonly (readonly [number, number])[];
  sharp: Float64Array;
  blurs: Float64Array[];
  wanted: Float64Array;
  weights: Float64Array;
  /** Of the blurs, px. */
  sigmas: number[];
}

/** Variance that white noise of 1 keeps in common through two Gaussian blurs of some px; 0 is no blur. */
const commonNoise = (one: number, other: number) => {
  const square = one * one + other * other;
  // Pixels hold light a square each: what is narrower than that is one pixel's noise.
  return square === 0 ? 1 : Math.min(1, 1 / (2 * Math.PI * square));
};

/** Standard deviation of normal noise for a median absolute value of 1. */
const DEVIATION_OF_MEDIAN = 1.4826;

/**
 * The shares of the sharp picture and of each blur that come nearest to the second frame, over some of the places. The
 * first frame's own noise, which would make its blurs explain the second better than the frame itself, is taken out of
 * the equations (errors in variables: Fuller, Measurement Error Models, 1987, ch. 2).
 */
function solved({ sharp, blurs, wanted, weights, sigmas }: Columns, takes: (i: number) => boolean): number[] {
  const chosen = [...wanted.keys()].filter(takes);
  const column = (of: Float64Array) => Float64Array.from(chosen, (i) => of[i]! * weights[i]!);
  const columns = [sharp, ...blurs].map(column);
  const target = column(wanted);
  const dot = (u: Float64Array, v: Float64Array) => u.reduce((sum, x, i) => sum + x * v[i]!, 0);
  const gram = columns.map((u) => columns.map((v) => dot(u, v)));
  const right = columns.map((u) => dot(u, target));
  const first = nonNegativeSolution(gram, right);
  const left = target.map((value, i) => Math.abs(value - first.reduce((sum, w, m) => sum + w * columns[m]![i]!, 0)));
  const noise = (DEVIATION_OF_MEDIAN * median(left)) ** 2 / (1 + first[0]! ** 2);
  const widths = [0, ...sigmas];
  const without = gram.map((row, i) =>
    row.map((value, j) => value - chosen.length * noise * commonNoise(widths[i]!, widths[j]!)),
  );
  return cholesky(without) ? nonNegativeSolution(without, right) : first;
}

function columnsOf(without: Plane, withIt: Plane): Columns {
  const { width, height } = without;
  const margin = Math.round(MARGIN * height);
  const places: [number, number][] = [];
  for (let y = margin; y < height - margin; y += EVERY)
    for (let x = margin; x < width - margin; x += EVERY) places.push([x, y]);
  const levels = levelsOf(without);
  const at = (plane: Plane) => Float64Array.from(places, ([x, y]) => plane.data[y * width + x]!);
  const wanted = at(withIt);
  const middle = Float64Array.from(wanted).sort()[wanted.length >> 1]!;
  const sigmas = widths(height);
  const blurs = sigmas.map((sigma) => blurredAt(levels, sigma, places));
  const noise = wanted.map((light) => NOISE * (Math.max(0, light) + middle));
  return {
    places,
    sharp: at(without),
    blurs,
    wanted,
    weights: noise.map((one) => 1 / one),
    sigmas,
  };
}

/**
 * How far the second frame lies aside, px: what is left of it by the fit, along the slopes of the sharp picture (Lucas and
 * Kanade, 1981).
 */
function shiftOf({ width, data }: Plane, { places, weights }: Columns, left: Float64Array, direct: number): number {
  let [xx, xy, yy, x1, y1] = [0, 0, 0, 0, 0];
  places.forEach(([x, y], i) => {
    const at = y * width + x;
    const weight = (direct * weights[i]!) ** 2;
    const [dx, dy] = [(data[at + 1]! - data[at - 1]!) / 2, (data[at + width]! - data[at - width]!) / 2];
    xx += weight * dx * dx;
    xy += weight * dx * dy;
    yy += weight * dy * dy;
    x1 += (weight * dx * left[i]!) / direct;
    y1 += (weight * dy * left[i]!) / direct;
  });
  const determinant = xx * yy - xy * xy;
  return determinant > 0 ? Math.hypot((yy * x1 - xy * y1) / determinant, (xx * y1 - xy * x1) / determinant) : 0;
}

/** A pair is searched for a shift up to this, px, over every so many of the places. */
const SEARCH = 12;
const SPARSE = 17;

/** The whole px by which the second frame's edges lie nearest to the first one's; across and down. */
function coarseShift(without: Plane, withIt: Plane, { places }: Columns): readonly [number, number] {
  const { width, height } = without;
  const slopes = ({ data }: Plane, x: number, y: number): [number, number] => {
    const at = y * width + x;
    return [data[at + 1]! - data[at - 1]!, data[at + width]! - data[at - width]!];
  };
  const inner = places.filter(
    ([x, y], i) => !(i % SPARSE) && Math.min(x, y, width - 1 - x, height - 1 - y) > SEARCH + 1,
  );
  const wanted = inner.map(([x, y]) => slopes(withIt, x, y));
  let best = { shift: [0, 0] as [number, number], alike: -Infinity };
  for (let sy = -SEARCH; sy <= SEARCH; sy++)
    for (let sx = -SEARCH; sx <= SEARCH; sx++) {
      const alike = inner.reduce((sum, [x, y], i) => {
        const [dx, dy] = slopes(without, x - sx, y - sy);
        // Of each lamp as much as of the next: roots, so that the brightest does not decide alone.
        return (
          sum +
          Math.sign(dx * wanted[i]![0]) * Math.sqrt(Math.abs(dx * wanted[i]![0])) +
          Math.sign(dy * wanted[i]![1]) * Math.sqrt(Math.abs(dy * wanted[i]![1]))
        );
      }, 0);
      if (alike > best.alike) best = { shift: [sx, sy], alike };
    }
  return best.shift;
}

function refuseMoved(without: Plane, withIt: Plane, columns: Columns): void {
  const [across, down] = coarseShift(without, withIt, columns);
  if (across || down)
    throw new MeasureError(`something moved between the two pictures, by ${across}, ${down} px; fix the camera`);
}

/** Light per unit area of a sum of Gaussians at distances in px, all of it one. */
function spreadAt(shares: number[], sigmas: number[], distances: number[]): number[] {
  const all = shares.reduce((a, b) => a + b, 0) || 1;
  return distances.map((r) =>
    shares.reduce((sum, share, m) => {
      const s = sigmas[m]!;
      return sum + (share / all / (2 * Math.PI * s * s)) * Math.exp(-(r * r) / (2 * s * s));
    }, 0),
  );
}

const deviation = (values: number[]) => {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1));
};

/**
 * Measures a filter from a scene without it and with it, light, of one size and exposure; `focalLength`: mm. Throws
 * MeasureError where the pictures cannot say it, or do not go together. `tell`: how much is done, 0 to 1.
 */
export function measurePair(
  without: Chart,
  withIt: Chart,
  focalLength: number,
  tell: (share: number) => void = () => {},
): FilterMeasurement {
  const { width, height } = without.channels.green;
  if (width !== withIt.channels.green.width || height !== withIt.channels.green.height)
    throw new MeasureError("the two pictures differ in size");
  refuse("without the filter", without.channels.green);
  const sigmas = widths(height);
  const reach = height / 2 / NEAREST;
  const distances = Array.from({ length: ANGLES }, (_, i) => NEAREST * reach ** (i / (ANGLES - 1)));
  const degrees = distances.map((r) => (Math.atan((r * without.pitch) / focalLength) * 180) / Math.PI);
  const read = (shares: number[]): ChannelScatter => {
    const [direct, ...scattered] = shares;
    const spread = scattered.reduce((a, b) => a + b, 0);
    const all = direct! + spread;
    return { transmission: all, scatter: spread / all, spread: spreadAt(scattered, sigmas, distances) };
  };
  let [unexplained, changed] = [0, 0];
  let uncertainty = { scatter: 0, spread: distances.map(() => 0) };
  const measured = (["green", "red", "blue"] as const).map((name, i) => {
    tell(i / 3);
    const columns = columnsOf(without.channels[name], withIt.channels[name]);
    if (name === "green") refuseMoved(without.channels[name], withIt.channels[name], columns);
    const shares = solved(columns, () => true);
    const { sharp, blurs, wanted, weights } = columns;
    const own = read(shares);
    const left = new Float64Array(wanted.length);
    wanted.forEach((value, i) => {
      const fitted = shares[0]! * sharp[i]! + blurs.reduce((sum, blur, m) => sum + shares[m + 1]! * blur[i]!, 0);
      left[i] = value - fitted;
      unexplained += (left[i]! * weights[i]!) ** 2;
      changed += ((value - own.transmission * sharp[i]!) * weights[i]!) ** 2;
    });
    const shift = shiftOf(without.channels[name], columns, left, Math.max(shares[0]!, 0.05));
    if (shift > MAX_SHIFT)
      throw new MeasureError(
        `something moved between the two pictures, by ${shift.toFixed(1)} px or more; fix the camera`,
      );
    if (name === "green") {
      const quarterOf = (i: number) => {
        const [x, y] = columns.places[i]!;
        return Number(x > width / 2) + 2 * Number(y > height / 2);
      };
      const parts = Array.from({ length: QUARTERS }, (_, q) => read(solved(columns, (i) => quarterOf(i) !== q)));
      // Each leaves a quarter out: the jackknife's factor makes a standard error of what they differ by.
      const factor = (QUARTERS - 1) / Math.sqrt(QUARTERS);
      uncertainty = {
        scatter: Math.hypot(factor * deviation(parts.map(({ scatter }) => scatter)), SYSTEMATIC * own.scatter),
        spread: distances.map(
          (_, i) => factor * deviation(parts.map(({ spread }) => Math.log10(Math.max(1e-30, spread[i]!)))),
        ),
      };
    }
    return own;
  });
  const explained = changed > 0 ? 1 - unexplained / changed : 0;
  if (explained < MIN_EXPLAINED)
    throw new MeasureError(
      `the filter explains ${(100 * explained).toFixed(0)} % of what changed: something moved, or was lit or exposed otherwise`,
    );
  const [green, red, blue] = measured;
  return { degrees, channels: { red: red!, green: green!, blue: blue! }, uncertainty, explained };
}
