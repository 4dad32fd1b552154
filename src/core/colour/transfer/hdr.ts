import type { Transfer } from "./transfer";

/** Light 1 of PQ and HLG: HDR reference white, cd/m² (ITU-R BT.2408: PQ 58 %, HLG 75 % of the signal). */
export const REFERENCE_WHITE = 203;

/** Brightest of PQ, cd/m². */
const PQ_PEAK = 10000;
const M1 = 2610 / 16384;
const M2 = (2523 / 4096) * 128;
const C1 = 3424 / 4096;
const C2 = (2413 / 4096) * 32;
const C3 = (2392 / 4096) * 32;

/** SMPTE ST 2084 (ITU-R BT.2100 PQ): display light, 1 at reference white. Odd about zero. */
export const PQ: Transfer = {
  toLight(code) {
    const e = Math.abs(code) ** (1 / M2);
    const y = (Math.max(e - C1, 0) / (C2 - C3 * e)) ** (1 / M1);
    return (Math.sign(code) * y * PQ_PEAK) / REFERENCE_WHITE;
  },
  toCode(light) {
    // At light 0 the curve itself starts a little above code 0 (7.3e-7); taking it off keeps the two directions
    // inverse.
    if (light === 0) return 0;
    const y = ((Math.abs(light) * REFERENCE_WHITE) / PQ_PEAK) ** M1;
    return Math.sign(light) * ((C1 + C2 * y) / (1 + C3 * y)) ** M2;
  },
};

const HLG_A = 0.17883277;
const HLG_B = 1 - 4 * HLG_A;
const HLG_C = 0.5 - HLG_A * Math.log(4 * HLG_A);
/** Signal of reference white. */
const HLG_WHITE = 0.75;

const hlgScene = (code: number) => (code <= 0.5 ? (code * code) / 3 : (Math.exp((code - HLG_C) / HLG_A) + HLG_B) / 12);
const HLG_SCALE = hlgScene(HLG_WHITE);

/** ITU-R BT.2100 HLG: scene light by the inverse of its OETF, 1 at reference white. Odd about zero. */
export const HLG: Transfer = {
  toLight: (code) => (Math.sign(code) * hlgScene(Math.abs(code))) / HLG_SCALE,
  toCode(light) {
    const e = Math.abs(light) * HLG_SCALE;
    return Math.sign(light) * (e <= 1 / 12 ? Math.sqrt(3 * e) : HLG_A * Math.log(12 * e - HLG_B) + HLG_C);
  },
};
