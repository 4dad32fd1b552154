import { apply, invert, type Matrix3 } from "../maths/matrix";
import { to24Bits } from "../maths/precision";

/**
 * The bank of spreads: blurs at the levels of a pyramid, two widths a level. Everything about a member follows from how
 * it is computed, so its kernel is derived here from the very filters the kernels apply (assembly/convolve.ts).
 */

/**
 * Variance of a level's narrow blur, and of the blur that follows it to make the wide one, in the level's own cells.
 */
const NARROW = 1;
const WIDE = 2;
/** The reduce filter [1 5 10 10 5 1]/32. */
const REDUCE = [1, 5, 10, 10, 5, 1].map((tap) => tap / 32);

export interface Direction {
  /** Halvings before the blur. */
  level: number;
  /** Symmetric taps, centre first, of the narrow blur and of the one that follows it to make the wide one. */
  narrow: number[];
  wide: number[];
}

export interface Level {
  x: Direction;
  y: Direction;
}

/**
 * Symmetric 9-tap blur of a variance (cells squared) and a fourth cumulant (cells^4): a Gaussian's samples times a
 * polynomial that makes sum and both moments exact. Matching the fourth is what keeps spreads round: a Gaussian alone
 * is.
 */
export function blurTaps(variance: number, fourth = 0): number[] {
  const shape = [0, 1, 2, 3, 4].map((i) => to24Bits(Math.exp((-i * i) / (2 * Math.max(variance, 0.08)))));
  const moment = (power: number) => shape.reduce((sum, tap, i) => sum + (i ? 2 : 1) * tap * i ** power, 0);
  const system: Matrix3 = [
    moment(0),
    moment(2),
    moment(4),
    moment(2),
    moment(4),
    moment(6),
    moment(4),
    moment(6),
    moment(8),
  ];
  const [a, b, c] = apply(invert(system), [1, variance, 3 * variance ** 2 + fourth]);
  return shape.map((tap, i) => tap * (a + b * i * i + c * i ** 4));
}

/** Variance that reducing to a level and expanding from it take by themselves, in the level's cells squared. */
const own = (level: number) => (5 / 6) * (1 - 4 ** -level);
/** The least variance a blur is given: a sharper one would be none. */
const LEAST = 0.05;

/** A direction at a level, whose narrow and wide blurs have these variances in all, px squared. */
function direction(level: number, narrow: number, wide: number): Direction {
  const cell = 4 ** level;
  // Fourth cumulant of the reducing and expanding filters (each -5/8 at its level), given back by the narrow blur.
  const fourth = (1 - 16 ** -level) / 12;
  const first = Math.max(narrow / cell - own(level), LEAST);
  return { level, narrow: blurTaps(first, fourth), wide: blurTaps(Math.max((wide - narrow) / cell, LEAST)) };
}

/**
 * A Gaussian too wide for the pyramid, over the cells of its last level: variances along x and y, the level's cells
 * squared.
 */
export interface Broad {
  x: number;
  y: number;
}

export interface Bank {
  levels: Level[];
  broad: Broad[];
}

/** Broad members are this far apart, and reach this many frame heights. */
const BROAD_STEP = Math.SQRT2;
const BROAD_REACH = 1.4;

/**
 * The bank for frames of a height (px): levels down to few cells, and Gaussians over the cells of the last, as wide as
 * the frame and wider.
 */
export function bankOf(count: number, height: number, stretch: number): Bank {
  const pyramid = levels(count, stretch);
  const { x, y } = pyramid.at(-1)!;
  const broad: Broad[] = [];
  const widest = (NARROW + WIDE + own(count - 1)) * 4 ** (count - 1);
  const first = shiftOf(stretch) < 0 ? widest / stretch ** 2 : widest;
  for (let sigma = Math.sqrt(first) * BROAD_STEP; sigma < BROAD_REACH * BROAD_STEP * height; sigma *= BROAD_STEP)
    broad.push({
      x: to24Bits((sigma / stretch / 2 ** x.level) ** 2 - own(x.level)),
      y: to24Bits((sigma / 2 ** y.level) ** 2 - own(y.level)),
    });
  return { levels: pyramid, broad };
}

const shiftOf = (stretch: number) => Math.round(Math.log2(stretch));

/**
 * Levels for frames whose pixels are `stretch` times as wide as they are high on the plane the spread is round on. The
 * narrower direction in pixels skips halvings; what remains of the ratio goes into the blurs' variances.
 */
function levels(count: number, stretch: number): Level[] {
  const shift = shiftOf(stretch);
  return Array.from({ length: count }, (_, k) => {
    const [x, y] = [Math.max(0, k - Math.max(0, shift)), Math.max(0, k + Math.min(0, shift))];
    // Variances follow from the direction that is halved k times; the other's are those on the same plane.
    const narrow = (NARROW + own(k)) * 4 ** k;
    const wide = narrow + WIDE * 4 ** k;
    const squareX = shift < 0 ? 1 : stretch ** 2;
    const squareY = shift < 0 ? stretch ** -2 : 1;
    return { x: direction(x, narrow / squareX, wide / squareX), y: direction(y, narrow / squareY, wide / squareY) };
  });
}

function convolve(a: Float64Array<ArrayBuffer>, taps: readonly number[], step: number): Float64Array<ArrayBuffer> {
  const out = new Float64Array(a.length + (taps.length - 1) * step);
  taps.forEach((tap, i) => {
    if (tap) for (let j = 0; j < a.length; j++) out[j + i * step]! += a[j]! * tap;
  });
  return out;
}

const symmetric = (half: readonly number[]) => [...half.slice(1).reverse(), ...half];

/**
 * Impulse response along one direction, averaged over the impulse's place on the grid: unit sum, centred, odd length.
 */
function response({ level, narrow, wide }: Direction, isWide: boolean): Float64Array {
  let kernel = Float64Array.of(1);
  for (let i = 0; i < level; i++) kernel = convolve(convolve(kernel, REDUCE, 2 ** i), REDUCE, 2 ** i);
  kernel = convolve(kernel, symmetric(narrow), 2 ** level);
  return isWide ? convolve(kernel, symmetric(wide), 2 ** level) : kernel;
}

/** A member's kernel as a function of distance (px) along x and along y; unit sum over the plane. */
export interface Member {
  /** Standard deviation along y, px. */
  sigma: number;
  at(x: number, y: number): number;
}

function sampler(kernel: Float64Array): (x: number) => number {
  const centre = (kernel.length - 1) / 2;
  return (x) => {
    const distance = centre + Math.abs(x);
    const i = Math.floor(distance);
    if (i + 1 >= kernel.length) return 0;
    return kernel[i]! + (kernel[i + 1]! - kernel[i]!) * (distance - i);
  };
}

export function members({ levels, broad }: Bank): Member[] {
  const last = levels.at(-1)!;
  return [
    ...levels.flatMap((level) =>
      [false, true].map((wide): Member => {
        const kernelX = response(level.x, wide);
        const kernelY = response(level.y, wide);
        const centre = (kernelY.length - 1) / 2;
        const variance = kernelY.reduce((sum, tap, i) => sum + tap * (i - centre) ** 2, 0);
        const alongX = sampler(kernelX);
        const alongY = sampler(kernelY);
        return { sigma: Math.sqrt(variance), at: (x: number, y: number) => alongX(x) * alongY(y) };
      }),
    ),
    ...broad.map((wide): Member => {
      const [x, y] = [
        (wide.x + own(last.x.level)) * 4 ** last.x.level,
        (wide.y + own(last.y.level)) * 4 ** last.y.level,
      ];
      const peak = 1 / (2 * Math.PI * Math.sqrt(x * y));
      return {
        sigma: Math.sqrt(y),
        at: (dx: number, dy: number) => to24Bits(peak * Math.exp((-dx * dx) / (2 * x) - (dy * dy) / (2 * y))),
      };
    }),
  ];
}
