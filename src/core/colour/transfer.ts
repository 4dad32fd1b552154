/** A transfer function: code value (0 to 1 over the display's range) to light, and back. Exact inverses of each other. */
export interface Transfer {
  toLight(code: number): number;
  toCode(light: number): number;
}

export const LINEAR: Transfer = { toLight: (code) => code, toCode: (light) => light };

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

/** ITU-R BT.1886 with black at zero: a display of gamma 2.4. */
export const BT1886: Transfer = {
  toLight: (code) => Math.sign(code) * Math.abs(code) ** 2.4,
  toCode: (light) => Math.sign(light) * Math.abs(light) ** (1 / 2.4),
};
