/**
 * A transfer function: code value (0 to 1 over the range of whole numbers) to light, and back. Exact inverses of each
 * other.
 */
export interface Transfer {
  toLight(code: number): number;
  toCode(light: number): number;
}

export const LINEAR: Transfer = { toLight: (code) => code, toCode: (light) => light };
