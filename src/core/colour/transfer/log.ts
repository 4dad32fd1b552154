import type { Transfer } from "./transfer";

/**
 * The open log form (Academy S-2014-006, Common LUT Format: cameraLinToLog). Above `linSideBreak`:
 * code = logSideSlope log_base(linSideSlope light + linSideOffset) + logSideOffset; at and below it a straight line of
 * slope `linearSlope` that meets the curve (by default with the curve's own slope). Without a break there is no line.
 */
export interface LogParams {
  base: number;
  logSideSlope: number;
  logSideOffset: number;
  linSideSlope: number;
  linSideOffset: number;
  linSideBreak?: number;
  linearSlope?: number;
}

/** Smallest argument of the logarithm where there is no straight line. */
const SMALLEST = 2 ** -126;

export function logTransfer({
  base,
  logSideSlope,
  logSideOffset,
  linSideSlope,
  linSideOffset,
  linSideBreak,
  linearSlope,
}: LogParams): Transfer {
  const ln = Math.log(base);
  const curve = (light: number) =>
    (logSideSlope * Math.log(Math.max(linSideSlope * light + linSideOffset, SMALLEST))) / ln + logSideOffset;
  const inverse = (code: number) => (base ** ((code - logSideOffset) / logSideSlope) - linSideOffset) / linSideSlope;
  if (linSideBreak === undefined) return { toLight: inverse, toCode: curve };
  const slope = linearSlope ?? (logSideSlope * linSideSlope) / ((linSideSlope * linSideBreak + linSideOffset) * ln);
  const breakCode = curve(linSideBreak);
  return {
    toLight: (code) => (code <= breakCode ? linSideBreak + (code - breakCode) / slope : inverse(code)),
    toCode: (light) => (light <= linSideBreak ? breakCode + (light - linSideBreak) * slope : curve(light)),
  };
}

/** Academy S-2016-001: ACEScct. */
export const ACESCCT = logTransfer({
  base: 2,
  logSideSlope: 1 / 17.52,
  logSideOffset: 9.72 / 17.52,
  linSideSlope: 1,
  linSideOffset: 0,
  linSideBreak: 0.0078125,
  linearSlope: 10.5402377416545,
});

const CC_FLOOR = 2 ** -16;
/** Where the curve begins to be a logarithm, light, and its code there. */
const CC_BREAK_LIGHT = 2 ** -15;
const CC_BREAK = (Math.log2(CC_BREAK_LIGHT) + 9.72) / 17.52;
/** Largest half: the top of ACEScc. */
const CC_TOP = 65504;

/** Academy S-2014-003: ACEScc. What is at or below zero has the lowest code. */
export const ACESCC: Transfer = {
  toLight: (code) =>
    code <= CC_BREAK ? (2 ** (code * 17.52 - 9.72) - CC_FLOOR) * 2 : Math.min(2 ** (code * 17.52 - 9.72), CC_TOP),
  toCode: (light) =>
    (Math.log2(light <= 0 ? CC_FLOOR : light < CC_BREAK_LIGHT ? CC_FLOOR + light / 2 : light) + 9.72) / 17.52,
};

/**
 * Printing density of film (SMPTE 268M): 0.002 density a code of 10 bits, base at 95, reference white (light 1) at 685,
 * negative gamma 0.6.
 */
const DENSITY_A_CODE = 0.002;
const NEGATIVE_GAMMA = 0.6;
const FILM_BLACK = 95;
const FILM_WHITE = 685;
const FILM_TOP = 1023;
const filmBlack = 10 ** (((FILM_BLACK - FILM_WHITE) * DENSITY_A_CODE) / NEGATIVE_GAMMA);

export const LOG_FILM = logTransfer({
  base: 10,
  logSideSlope: NEGATIVE_GAMMA / DENSITY_A_CODE / FILM_TOP,
  logSideOffset: FILM_WHITE / FILM_TOP,
  linSideSlope: 1 - filmBlack,
  linSideOffset: filmBlack,
});
