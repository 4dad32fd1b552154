/**
 * Raised when a change of the computation changes pixels, so that frames made before are made again, or the bytes of
 * files they are written to, which a recipe promises. The golden hashes (`src/testing/golden.json`) say when pixels
 * change: they are written anew for every version, and for nothing else.
 */
export const ENGINE_VERSION = 11;
