import { BRASS_TINT } from "../render/materials";
import { fractal, smooth } from "../render/noise";
import type { Vec } from "../render/scene";

/**
 * The brass clockwork figure of the ticket window: a conductor with a lantern on a turning base. A distance field in
 * its own space (m; its foot at the origin, facing -z), marched along rays.
 */
/** How far the figure reaches from its foot, m. */
export const FIGURE = { height: 0.128, radius: 0.045 } as const;

const length2 = (x: number, y: number) => Math.sqrt(x * x + y * y);
const length3 = (x: number, y: number, z: number) => Math.sqrt(x * x + y * y + z * z);

const merge = (a: number, b: number, k: number) => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - (h * h * k) / 4;
};

function capsule(p: Vec, a: Vec, b: Vec, ra: number, rb: number): number {
  const [bx, by, bz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const [px, py, pz] = [p[0] - a[0], p[1] - a[1], p[2] - a[2]];
  const t = Math.min(1, Math.max(0, (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz)));
  return length3(px - bx * t, py - by * t, pz - bz * t) - (ra + (rb - ra) * t);
}

function cylinder(p: Vec, y0: number, y1: number, r: number, round: number): number {
  const dx = length2(p[0], p[2]) - r + round;
  const dy = Math.abs(p[1] - (y0 + y1) / 2) - (y1 - y0) / 2 + round;
  return Math.min(Math.max(dx, dy), 0) + length2(Math.max(dx, 0), Math.max(dy, 0)) - round;
}

function box(p: Vec, c: Vec, h: Vec, round: number): number {
  const [x, y, z] = [
    Math.abs(p[0] - c[0]) - h[0] + round,
    Math.abs(p[1] - c[1]) - h[1] + round,
    Math.abs(p[2] - c[2]) - h[2] + round,
  ];
  return length3(Math.max(x, 0), Math.max(y, 0), Math.max(z, 0)) + Math.min(Math.max(x, y, z), 0) - round;
}

/** Distance to the figure. `swing`: radians of the arm with the lantern. */
function distance(p: Vec, swing: number): number {
  // Far from it, a cylinder around it is near enough.
  const around = Math.max(length2(p[0], p[2]) - FIGURE.radius, p[1] - FIGURE.height, -p[1]);
  if (around > 0.004) return around;
  // Base with a milled rim.
  const angle = Math.atan2(p[2], p[0]);
  const rim =
    cylinder(p, 0, 0.011, 0.034, 0.002) + 0.0006 * Math.cos(angle * 60) * smooth(0.03, 0.033, length2(p[0], p[2]));
  let d = Math.min(rim, cylinder(p, 0.011, 0.0145, 0.027, 0.001));
  // Coat: a bell that narrows to the waist, then shoulders.
  d = merge(d, capsule(p, [0, 0.02, 0], [0, 0.062, 0], 0.0205, 0.0125), 0.006);
  d = merge(d, capsule(p, [-0.0085, 0.083, 0], [0.0085, 0.083, 0], 0.0125, 0.0125), 0.012);
  // Buttons, belt and satchel.
  for (let i = 0; i < 4; i++)
    d = Math.min(d, length3(p[0], p[1] - 0.052 - i * 0.0105, p[2] + 0.0148 - i * 0.0004) - 0.0017);
  d = Math.min(d, box(p, [0.0165, 0.05, -0.004], [0.0045, 0.0085, 0.008], 0.0015));
  // Head, cap and its peak.
  d = merge(d, length3(p[0], p[1] - 0.1065, p[2]) - 0.0108, 0.003);
  d = Math.min(d, cylinder([p[0], p[1] - 0.1165, p[2]], -0.004, 0.006, 0.0112, 0.0015));
  d = Math.min(d, box(p, [0, 0.1135, -0.0125], [0.0085, 0.0009, 0.006], 0.0009));
  d = Math.min(d, length3(p[0], p[1] - 0.1055, p[2] + 0.0115) - 0.0021);
  // One arm at the side, one forward with the lantern.
  d = merge(d, capsule(p, [0.0185, 0.087, 0], [0.023, 0.058, -0.003], 0.0052, 0.0042), 0.003);
  const hand: Vec = [-0.022 - 0.006 * Math.sin(swing), 0.074 + 0.004 * Math.sin(swing), -0.021];
  d = merge(d, capsule(p, [-0.0185, 0.087, 0], hand, 0.0052, 0.0038), 0.003);
  const hung: Vec = [p[0] - hand[0] - 0.004 * Math.sin(swing), p[1] - hand[1] + 0.016, p[2] - hand[2]];
  d = Math.min(
    d,
    cylinder(hung, -0.007, -0.0045, 0.0055, 0.0008),
    cylinder(hung, 0.0045, 0.007, 0.0055, 0.0008),
    Math.max(
      Math.abs(length2(hung[0], hung[2]) - 0.0047) - 0.0005,
      Math.abs(hung[1]) - 0.005,
      -(Math.abs(Math.sin(Math.atan2(hung[2], hung[0]) * 2)) - 0.45) * 0.004,
    ),
  );
  d = Math.min(d, capsule(hung, [0, 0.007, 0], [0, 0.013, 0], 0.0009, 0.0006));
  // The winding key at its back.
  const key: Vec = [p[0], p[1] - 0.068, p[2] - 0.0245];
  d = Math.min(d, capsule(p, [0, 0.068, 0.01], [0, 0.068, 0.024], 0.0016, 0.0016));
  d = Math.min(
    d,
    Math.max(
      Math.min(Math.abs(length2(Math.abs(key[0]) - 0.0075, key[1]) - 0.0058) - 0.0016, 1),
      Math.abs(key[2]) - 0.0012,
    ),
  );
  return d;
}

const STEPS = 90;
const NEAR = 0.00012;

export interface FigureHit {
  t: number;
  /** In the figure's own space. */
  point: Vec;
  normal: Vec;
}

/** The first point of the figure along a ray in its own space, within [from, to]; null where it is missed. */
export function marchFigure(origin: Vec, direction: Vec, from: number, to: number, swing: number): FigureHit | null {
  let t = from;
  const p: Vec = [0, 0, 0];
  for (let i = 0; i < STEPS && t < to; i++) {
    for (let c = 0; c < 3; c++) p[c] = origin[c]! + direction[c]! * t;
    const d = distance(p, swing);
    if (d < NEAR) {
      const e = 0.0002;
      const n: Vec = [0, 1, 2].map((c) => {
        const at = (sign: number) => distance(p.map((value, k) => (k === c ? value + sign * e : value)) as Vec, swing);
        return at(1) - at(-1);
      }) as Vec;
      const l = length3(...n) || 1;
      return { t, point: [...p], normal: [n[0] / l, n[1] / l, n[2] / l] };
    }
    t += d * 0.9;
  }
  return null;
}

/** Polish and tarnish: how bright the brass is at a point, and how rough. */
export function figureBrass({ point, normal }: FigureHit): { reflectance: Vec; roughness: number } {
  const tarnish = smooth(0.45, 0.72, fractal(point[0] * 90, point[1] * 90, point[2] * 90, 4) - 0.12 * normal[1]);
  const own = 0.9 - 0.4 * tarnish;
  return {
    reflectance: [BRASS_TINT[0] * own, BRASS_TINT[1] * own, BRASS_TINT[2] * own],
    roughness: 0.16 + 0.22 * tarnish,
  };
}
