import { fractal, noise, smooth } from "./noise";
import type { Surface, Vec } from "./scene";

/**
 * What the line's buildings are made of: shared, so that its rooms belong to one world. Each fills in a surface at a
 * point.
 */

/** A noise's slope in two directions, as a tilt of the normal. */
const unit = (n: Vec): Vec => {
  const l = Math.hypot(...n);
  return [n[0] / l, n[1] / l, n[2] / l];
};

/** Varnished boards: `along` the grain, `across` it (m), a board every `width`. */
export function wood(s: Surface, along: number, across: number, width: number, tone: Vec, seed: number): void {
  const board = Math.floor(across / width);
  const inBoard = across / width - board;
  const joint = Math.min(inBoard, 1 - inBoard) * width;
  const own = noise(board * 7.31 + seed, 3.7, 1.1);
  const rings = fractal(along * 2.2 + own * 40, across * 34 + own * 9, seed, 4);
  const pores = fractal(along * 26 + own * 70, across * 900, seed + 4, 2);
  const figure = 0.5 + 0.5 * Math.sin(rings * 34 + own * 12);
  const v =
    (0.55 + 0.35 * figure - 0.28 * smooth(0.6, 0.75, pores)) *
    (0.78 + 0.4 * own) *
    (0.25 + 0.75 * smooth(0.0004, 0.0022, joint));
  s.albedo = [tone[0] * v, tone[1] * v, tone[2] * v];
  s.specular = 0.045;
  s.roughness = 0.3 + 0.25 * pores;
}

/** Worn brass: bright where it is touched, brown in the hollows. */
export function brass(s: Surface, p: Vec, polish: number): void {
  const tarnish = smooth(0.42, 0.75, fractal(p[0] * 34, p[1] * 34, p[2] * 34, 4) + 0.28 - polish * 0.35);
  const scratch = noise(p[0] * 900, p[1] * 120, p[2] * 900);
  s.albedo = [0.075 - 0.035 * tarnish, 0.048 - 0.022 * tarnish, 0.017 - 0.006 * tarnish];
  s.specular = 0.62 - 0.36 * tarnish;
  s.roughness = 0.2 + 0.22 * tarnish + 0.1 * scratch;
}

/** Brass reflects in its own colour; lamps are white to it. */
export const BRASS_TINT: Vec = [1, 0.76, 0.38];

/** A herringbone twill: `u` across and `v` down the cloth, m; soft fibres over the weave. */
export function wool(s: Surface, u: number, v: number, warp: Vec, weft: Vec): void {
  const [column, rib] = [0.0125, 0.0023];
  const stripe = Math.floor(u / column);
  const slant = (stripe & 1 ? 1 : -1) * u;
  const phase = (v + slant * 0.9) / rib;
  const thread = 0.5 + 0.5 * Math.sin(phase * 2 * Math.PI);
  const fibre = fractal(u * 1900, v * 1900, 2, 2);
  const fuzz = fractal(u * 260, v * 260, 7, 3);
  const t = smooth(0.25, 0.75, thread + 0.5 * (fibre - 0.5));
  for (let c = 0; c < 3; c++)
    s.albedo[c] = (warp[c]! * (1 - t) + weft[c]! * t) * (0.72 + 0.4 * fuzz) * (0.75 + 0.35 * thread);
  s.specular = 0.006;
  s.roughness = 0.95;
}

/** Folds of hanging cloth: the tilt of the normal across, and how much of the light reaches between them. */
export function folds(u: number, v: number, seed: number): { tilt: number; open: number } {
  const x = u * 22 + 1.4 * noise(v * 2.2, seed, 1) + 0.8 * Math.sin(v * 3 + seed);
  const wave = Math.sin(x) + 0.4 * Math.sin(2.3 * x + v * 5);
  const slope = Math.cos(x) + 0.92 * Math.cos(2.3 * x + v * 5);
  return { tilt: 0.62 * slope, open: 0.5 + 0.5 * smooth(-1.3, 1, wave) };
}

/** Old paper: laid lines, foxing, a little grey. */
export function paper(s: Surface, u: number, v: number, seed: number): void {
  const fine = fractal(u * 700, v * 700, seed, 3);
  const stain = smooth(0.55, 0.85, fractal(u * 11 + seed, v * 11, seed, 4));
  const tone = 0.66 + 0.06 * fine;
  s.albedo = [tone * (1 - 0.12 * stain), tone * (0.93 - 0.22 * stain), tone * (0.8 - 0.34 * stain)];
  s.specular = 0.012;
  s.roughness = 0.8;
}

/** Tilts a geometric normal by slopes along two directions of the surface. */
export function tilted(s: Surface, across: Vec, acrossSlope: number, up: Vec, upSlope: number): void {
  s.normal = unit([0, 1, 2].map((c) => s.normal[c]! - across[c]! * acrossSlope - up[c]! * upSlope) as Vec);
}
