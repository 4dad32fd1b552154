/** The largest half: what infinite light becomes. */
export const MAX_HALF = 65504;
/**
 * The brightest light there is, 2^40: forty-two stops over mid-grey. What gains make of it, and its square, are still
 * numbers.
 */
export const BRIGHTEST_LIGHT = 2 ** 40;

/** A float's bits without its sign grow as its size does: whole numbers are compared several times as fast. */
const WITHOUT_SIGN = 0x7fffffff;
const BRIGHTEST_BITS = new Uint32Array(Float32Array.of(BRIGHTEST_LIGHT).buffer)[0]!;

/** How many samples were no number, and how many had no end. */
export interface Cleaned {
  notNumbers: number;
  infinite: number;
}

export const NOTHING_CLEANED: Cleaned = { notNumbers: 0, infinite: 0 };

/** What was cleaned, in words; null where nothing was. */
export function cleanedText({ notNumbers, infinite }: Cleaned): string | null {
  const parts = [
    ...(infinite ? [`${infinite} infinite ${infinite === 1 ? "sample is" : "samples are"} taken as ${MAX_HALF}`] : []),
    ...(notNumbers
      ? [
          `${notNumbers} ${notNumbers === 1 ? "sample that is no number is" : "samples that are no numbers are"} taken as 0`,
        ]
      : []),
  ];
  return parts.length ? parts.join(", ") : null;
}

/**
 * Makes infinite light the largest half, and what is no number, or is infinitely below black, 0; in place. Finite light
 * is held to the brightest there is. Says how many there were.
 */
export function cleaned(data: Float32Array): Cleaned {
  const found = { notNumbers: 0, infinite: 0 };
  const bits = new Uint32Array(data.buffer, data.byteOffset, data.length);
  for (let i = 0; i < data.length; i++) {
    if ((bits[i]! & WITHOUT_SIGN) <= BRIGHTEST_BITS) continue;
    const value = data[i]!;
    if (Number.isNaN(value)) {
      found.notNumbers++;
      data[i] = 0;
    } else if (Math.abs(value) === Infinity) {
      found.infinite++;
      data[i] = value > 0 ? MAX_HALF : 0;
    } else data[i] = Math.sign(value) * BRIGHTEST_LIGHT;
  }
  return found;
}
