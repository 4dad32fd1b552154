/**
 * Raised when a change of the computation changes pixels, so that frames made before are made again. The golden hashes
 * (`src/testing/golden.json`) say when that is: they are written anew for every version, and for nothing else.
 */
export const ENGINE_VERSION = 10;
