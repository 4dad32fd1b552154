/** Deterministic noise for surfaces and snow: integer hashes, so that every machine computes the same footage. */

function hash(x: number, y: number, z: number): number {
  let h = Math.imul(x, 0x27d4eb2f) ^ Math.imul(y, 0x165667b1) ^ Math.imul(z, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

export const random = (seed: number, index: number) => hash(seed, index, 0x51ed);

/** Value noise, 0 to 1, smooth. */
export function noise(x: number, y: number, z: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const iz = Math.floor(z);
  let fx = x - ix;
  let fy = y - iy;
  let fz = z - iz;
  fx *= fx * (3 - 2 * fx);
  fy *= fy * (3 - 2 * fy);
  fz *= fz * (3 - 2 * fz);
  const near = corner(ix, iy, iz, fx, fy);
  return near + (corner(ix, iy, iz + 1, fx, fy) - near) * fz;
}

/** Bilinear between the four hashes of one layer. */
function corner(ix: number, iy: number, iz: number, fx: number, fy: number): number {
  const a = hash(ix, iy, iz);
  const c = hash(ix, iy + 1, iz);
  const top = a + (hash(ix + 1, iy, iz) - a) * fx;
  return top + (c + (hash(ix + 1, iy + 1, iz) - c) * fx - top) * fy;
}

/** Sum of octaves of noise, about 0 to 1. */
export function fractal(x: number, y: number, z: number, octaves: number): number {
  let sum = 0;
  let weight = 0.5;
  let scale = 1;
  for (let i = 0; i < octaves; i++) {
    sum += weight * noise(x * scale, y * scale, z * scale);
    weight *= 0.5;
    scale *= 2.03;
  }
  return sum / (1 - 0.5 ** octaves);
}

export const smooth = (low: number, high: number, x: number) => {
  const t = Math.min(1, Math.max(0, (x - low) / (high - low)));
  return t * t * (3 - 2 * t);
};
