/** IEEE 754 binary16 to and from binary32, by table and by bits. */
const fromHalf = new Float32Array(65536);
for (let h = 0; h < 65536; h++) {
  const sign = h & 0x8000 ? -1 : 1;
  const exponent = (h >> 10) & 31;
  const mantissa = h & 1023;
  if (exponent === 0) fromHalf[h] = sign * mantissa * 2 ** -24;
  else if (exponent === 31) fromHalf[h] = mantissa ? NaN : sign * Infinity;
  else fromHalf[h] = sign * (1 + mantissa / 1024) * 2 ** (exponent - 15);
}

export const halfToFloat = (half: number) => fromHalf[half]!;
/** Every half as a float, by its bits. */
export const HALVES: Float32Array = fromHalf;

/** The nearest half to one float. */
export const floatToHalf = (value: number) => {
  one[0] = value;
  return floatsToHalves(one)[0]!;
};
const one = new Float32Array(1);

const MAX_HALF = 0x7bff;

/** The nearest half to a float, by their bits; ties to even, and what is too large becomes the largest half. */
export function halfOfBits(b: number): number {
  const sign = (b >>> 16) & 0x8000;
  const magnitude = b & 0x7fffffff;
  if (magnitude > 0x7f800000) return sign | 0x7e00;
  if (magnitude >= 0x477ff000) return sign | MAX_HALF;
  if (magnitude >= 0x38800000) {
    const rounded = magnitude + 0xfff + ((magnitude >>> 13) & 1);
    return sign | ((rounded - 0x38000000) >>> 13);
  }
  if (magnitude < 0x33000000) return sign;
  // A subnormal half: a whole number of 2^-24.
  const shift = 126 - (magnitude >>> 23);
  const mantissa = (magnitude & 0x7fffff) | 0x800000;
  const half = mantissa >>> shift;
  const rest = mantissa & ((1 << shift) - 1);
  const middle = 1 << (shift - 1);
  return sign | (half + (rest > middle || (rest === middle && half & 1) ? 1 : 0));
}

/** The nearest half to each float. */
export function floatsToHalves(values: Float32Array): Uint16Array {
  const bits = new Uint32Array(values.buffer, values.byteOffset, values.length);
  const out = new Uint16Array(values.length);
  for (let i = 0; i < bits.length; i++) out[i] = halfOfBits(bits[i]!);
  return out;
}
