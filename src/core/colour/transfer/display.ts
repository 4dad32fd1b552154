import type { Transfer } from "./transfer";

/** IEC 61966-2-1. Odd about zero, so that what is outside 0 to 1 passes. */
export const SRGB: Transfer = {
  toLight(code) {
    const c = Math.abs(code);
    return Math.sign(code) * (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
  },
  toCode(light) {
    const l = Math.abs(light);
    return Math.sign(light) * (l <= 0.0031308 ? l * 12.92 : 1.055 * l ** (1 / 2.4) - 0.055);
  },
};

const power = (gamma: number): Transfer => ({
  toLight: (code) => Math.sign(code) * Math.abs(code) ** gamma,
  toCode: (light) => Math.sign(light) * Math.abs(light) ** (1 / gamma),
});

/** ITU-R BT.1886 with black at zero: a display of gamma 2.4. */
export const BT1886 = power(2.4);

/** SMPTE RP 431-2: a projector of gamma 2.6. */
export const GAMMA26 = power(2.6);
