// Symbols of DEFLATE for lengths and distances of strings, and the bits that stand behind them (RFC 1951, 3.2.5).

/** Symbols: bytes, the block's end, lengths of strings; and distances. */
export const LITERALS = 286;
export const DISTANCES = 30;
export const END = 256;
export const FIRST_LENGTH = 257;

/** How many bits stand behind a length's symbol, by the length less 3; and behind a distance's, by that less 1. */
// @ts-ignore: decorator
@inline export function lengthExtra(length: u32): u32 {
  return length < 8 || length == 255 ? 0 : 29 - clz(length);
}

// @ts-ignore: decorator
@inline export function distanceExtra(distance: u32): u32 {
  return distance < 4 ? 0 : 30 - clz(distance);
}

// @ts-ignore: decorator
@inline export function lengthSymbol(length: u32): u32 {
  if (length < 8) return FIRST_LENGTH + length;
  if (length == 255) return LITERALS - 1;
  const extra = 29 - clz(length);
  return FIRST_LENGTH + 4 * extra + 4 + ((length >> extra) & 3);
}

// @ts-ignore: decorator
@inline export function distanceSymbol(distance: u32): u32 {
  if (distance < 4) return distance;
  const extra = 30 - clz(distance);
  return 2 * extra + 2 + ((distance >> extra) & 1);
}
