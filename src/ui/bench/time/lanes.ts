/** Where frames lie in the time drawer, px from the left of its lanes. */
export interface Lanes {
  first: number;
  last: number;
  width: number;
}

/** Room at both ends, so that marks there are whole. */
export const EDGE = 10;

export const xOf = (frame: number, { first, last, width }: Lanes): number =>
  EDGE + ((frame - first) / Math.max(1, last - first)) * (width - 2 * EDGE);

export const frameOf = (x: number, { first, last, width }: Lanes): number =>
  first + ((x - EDGE) / (width - 2 * EDGE)) * Math.max(1, last - first);

const STEPS = [1, 2, 5, 10, 12, 24, 48, 100, 120, 240, 500, 1000, 2000];
/** Least distance of two marks of the ruler, px. */
const APART = 56;

/** Frames that the ruler marks. */
export function ruled({ first, last, width }: Lanes): number[] {
  const px = (width - 2 * EDGE) / Math.max(1, last - first);
  const step = STEPS.find((entry) => entry * px >= APART) ?? STEPS.at(-1)!;
  const from = Math.ceil(first / step) * step;
  return Array.from({ length: Math.floor((last - from) / step) + 1 }, (_, i) => from + i * step);
}
