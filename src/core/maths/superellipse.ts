/** Exponent of a superellipse: 2 is an ellipse, the largest nearly a rectangle with rounded corners. */
const ELLIPSE = 2;
const SQUAREST = 10;

/** The exponent for a roundness from 0 (a rectangle with rounded corners) to 1 (an ellipse). */
export const superellipsePower = (roundness: number): number => SQUAREST * (ELLIPSE / SQUAREST) ** roundness;
