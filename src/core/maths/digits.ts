/** Digits after the point with which numbers that go by a step are written. */
export const digitsOf = (step: number): number => Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
