import { apply, diagonal, invert, multiply, type Matrix3, type Triple } from "../maths/matrix";

/** CIE 1931 xy of the red, green and blue primaries and the white of a colour space. */
export interface Primaries {
  red: [number, number];
  green: [number, number];
  blue: [number, number];
  white: [number, number];
}

/** SMPTE ST 2065-1 / Academy S-2014-004: AP1 primaries, ACES white. The working light. */
export const AP1: Primaries = {
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
};
/** SMPTE ST 2065-1: AP0 primaries, ACES white. */
export const AP0: Primaries = {
  red: [0.7347, 0.2653],
  green: [0, 1],
  blue: [0.0001, -0.077],
  white: [0.32168, 0.33767],
};
/** ITU-R BT.2020 and BT.2100 primaries, D65. */
export const REC2020: Primaries = {
  red: [0.708, 0.292],
  green: [0.17, 0.797],
  blue: [0.131, 0.046],
  white: [0.3127, 0.329],
};
/** SMPTE RP 431-2 primaries with a D65 white (SMPTE EG 432-1). */
export const P3_D65: Primaries = {
  red: [0.68, 0.32],
  green: [0.265, 0.69],
  blue: [0.15, 0.06],
  white: [0.3127, 0.329],
};
/** ITU-R BT.709 primaries, D65. Also those of sRGB (IEC 61966-2-1). */
export const REC709: Primaries = { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: [0.3127, 0.329] };

const xyzOf = ([x, y]: [number, number]): Triple => [x / y, 1, (1 - x - y) / y];

/** RGB to CIE XYZ, white at Y = 1 (SMPTE RP 177). */
export function toXyz({ red, green, blue, white }: Primaries): Matrix3 {
  const [r, g, b] = [xyzOf(red), xyzOf(green), xyzOf(blue)];
  const columns: Matrix3 = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  return multiply(columns, diagonal(apply(invert(columns), xyzOf(white))));
}

/** Bradford cone responses (Lam, 1985). */
const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

function adapt(from: [number, number], to: [number, number]): Matrix3 {
  const source = apply(BRADFORD, xyzOf(from));
  const target = apply(BRADFORD, xyzOf(to));
  const ratio: Triple = [target[0] / source[0], target[1] / source[1], target[2] / source[2]];
  return multiply(invert(BRADFORD), multiply(diagonal(ratio), BRADFORD));
}

/** The matrix from one space's linear light to another's, white to white by Bradford adaptation. */
export function conversion(from: Primaries, to: Primaries): Matrix3 {
  return multiply(invert(toXyz(to)), multiply(adapt(from.white, to.white), toXyz(from)));
}

const ap1 = toXyz(AP1);
/** Weights of R, G, B in the luminance of working light. */
export const LUMINANCE: Triple = [ap1[3], ap1[4], ap1[5]];
/** Weights of BT.709 light, which ASC CDL v1.2 takes for saturation. */
export const LUMINANCE_709: Triple = [0.2126, 0.7152, 0.0722];
