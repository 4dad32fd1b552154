/**
 * The 8 by 8 cosine transform of DWA (orthonormal, as in JPEG), its order of coefficients, and its colour transform.
 */
export const BLOCK = 8;

const COSINES = Float32Array.from({ length: 64 }, (_, i) => {
  const [k, x] = [i >> 3, i & 7];
  return (k === 0 ? Math.sqrt(1 / 8) : 0.5) * Math.cos(((2 * x + 1) * k * Math.PI) / 16);
});

/** Place of the n-th coefficient in zig-zag order. */
export const ZIGZAG = (() => {
  const order: number[] = [];
  for (let sum = 0; sum < 15; sum++)
    for (let i = 0; i <= sum; i++) {
      const [row, column] = sum % 2 ? [i, sum - i] : [sum - i, i];
      if (row < 8 && column < 8) order.push(row * 8 + column);
    }
  return order;
})();

const half = new Float32Array(64);

/** Coefficients to values, in place. `rows`: one more than the last row that is not all zero. */
export function inverse(block: Float32Array, rows: number): void {
  half.fill(0);
  for (let v = 0; v < rows; v++)
    for (let u = 0; u < 8; u++) {
      const value = block[v * 8 + u]!;
      if (value === 0) continue;
      for (let x = 0; x < 8; x++) half[v * 8 + x]! += value * COSINES[u * 8 + x]!;
    }
  for (let y = 0; y < 8; y++)
    for (let x = 0; x < 8; x++) {
      let sum = 0;
      for (let v = 0; v < rows; v++) sum += half[v * 8 + x]! * COSINES[v * 8 + y]!;
      block[y * 8 + x] = sum;
    }
}

/** Values to coefficients, in place. */
export function forward(block: Float32Array): void {
  for (let y = 0; y < 8; y++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let x = 0; x < 8; x++) sum += block[y * 8 + x]! * COSINES[u * 8 + x]!;
      half[y * 8 + u] = sum;
    }
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let y = 0; y < 8; y++) sum += half[y * 8 + u]! * COSINES[v * 8 + y]!;
      block[v * 8 + u] = sum;
    }
}

/** BT.709 R, G, B to luma and two differences, over whole blocks, in place; the blocks stand one after another. */
export function toLuma(blocks: Float32Array): void {
  for (let i = 0; i < 64; i++) {
    const [r, g, b] = [blocks[i]!, blocks[64 + i]!, blocks[128 + i]!];
    blocks[i] = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    blocks[64 + i] = -0.1146 * r - 0.3854 * g + 0.5 * b;
    blocks[128 + i] = 0.5 * r - 0.4542 * g - 0.0458 * b;
  }
}

export function fromLuma(blocks: Float32Array): void {
  for (let i = 0; i < 64; i++) {
    const [y, b, r] = [blocks[i]!, blocks[64 + i]!, blocks[128 + i]!];
    blocks[i] = y + 1.5747 * r;
    blocks[64 + i] = y - 0.1873 * b - 0.4682 * r;
    blocks[128 + i] = y + 1.8556 * b;
  }
}

/** Light is kept as a power up to 1 and a logarithm above. */
const POWER = 2.2;

export const perceptual = (light: number) =>
  Number.isFinite(light)
    ? Math.sign(light) * (Math.abs(light) <= 1 ? Math.abs(light) ** (1 / POWER) : Math.log(Math.abs(light)) / POWER + 1)
    : 0;
export const linear = (value: number) =>
  Number.isFinite(value)
    ? Math.sign(value) * (Math.abs(value) <= 1 ? Math.abs(value) ** POWER : Math.exp(POWER * (Math.abs(value) - 1)))
    : 0;
