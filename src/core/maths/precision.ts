/** 2^29 + 1: splitting by it leaves 24 of a double's 53 bits (Veltkamp, 1968). */
const SPLIT = 2 ** 29 + 1;

/**
 * A number rounded to 24 significant bits by arithmetic alone. Engines differ in the last bit of exp, log, cos and
 * their like; what an ill-conditioned fit starts from is rounded, so that it ends the same in the browser and on the
 * server.
 */
export function to24Bits(x: number): number {
  const c = x * SPLIT;
  return c - (c - x);
}
