/** Milliseconds of a clock that nobody sets: what is waited for is counted by it, in every thread alike. */
export const steadyNow = (): number => Number(process.hrtime.bigint() / 1_000_000n);
