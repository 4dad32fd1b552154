import { fractal, random, smooth } from "./noise";
import type { Column, Group, Surface, Vec } from "./scene";

/** A conifer under snow: whorls of branches, one over another, each a skirt that sags outwards. */
export interface Conifer {
  x: number;
  z: number;
  /** Where it stands, and how high it is, m. */
  ground: number;
  height: number;
  /** Of its lowest whorl, m. */
  radius: number;
  seed: number;
}

const WHORLS = 15;
/** The lowest whorl's edge hangs so far up, and the last one begins so far below the tip; shares of the height. */
const SKIRT = 0.06;
const LAST = 0.86;
/** How far a whorl reaches up under the one above it, whorls. */
const OVERLAP = 2.6;

const spacing = ({ height }: Conifer) => ((LAST - SKIRT) * height) / (WHORLS - 1);

/** The tree as a group of skirts, drawn with a material. */
export function coniferShape(tree: Conifer, material: number): Group {
  const { x, z, ground, height, radius, seed } = tree;
  const step = spacing(tree);
  const whorls = Array.from({ length: WHORLS }, (_, i): Column => {
    const share = i / (WHORLS - 1);
    const reach = radius * (1 - 0.88 * share) * (0.8 + 0.34 * random(seed, i));
    const bottom = ground + SKIRT * height + step * i;
    return {
      kind: "column",
      x: x + 0.08 * radius * (random(seed + 1, i) - 0.5),
      z: z + 0.08 * radius * (random(seed + 2, i) - 0.5),
      bottom,
      top: Math.min(ground + height, bottom + step * OVERLAP),
      radius: reach,
      tip: i === WHORLS - 1 ? 0.01 : reach * 0.12,
      material,
      leafy: true,
    };
  });
  const around = 1.2 * radius;
  return {
    kind: "group",
    low: [x - around, ground, z - around],
    high: [x + around, ground + height, z + around],
    shapes: whorls,
  };
}

/** Whether a skirt is solid at a point: branches end raggedly, one beside another. */
export const branches = (p: Vec): boolean => fractal(p[0] * 5.2, p[1] * 2.6, p[2] * 5.2, 3) > 0.43;

const NEEDLES: Vec = [0.018, 0.032, 0.024];
const SNOW: Vec = [0.66, 0.68, 0.7];

/** The surface of a tree at a point: snow lies on the ends of the branches; under the whorl above it is dark. */
export function shadeConifer(tree: Conifer, p: Vec, s: Surface, snowiness: number): void {
  const whorl = (p[1] - tree.ground - SKIRT * tree.height) / spacing(tree);
  // 0 at a skirt's edge, 1 where the next one covers it.
  const under = whorl - Math.floor(whorl);
  const fine = fractal(p[0] * 7, p[1] * 7, p[2] * 7, 3);
  const clump = fractal(p[0] * 2.2 + 5, p[1] * 2.2, p[2] * 2.2, 3);
  const lying = smooth(1, 0.25, under + 0.9 * (fine - 0.5)) * smooth(0.34, 0.6, clump + 0.35 * (fine - 0.5));
  const snow = Math.min(1, lying * snowiness * (0.75 + 0.5 * fine));
  const open = 0.4 + 0.6 * smooth(1, 0.3, under);
  for (let c = 0; c < 3; c++) s.albedo[c] = open * (NEEDLES[c]! * (0.6 + 0.8 * fine) * (1 - snow) + SNOW[c]! * snow);
  s.roughness = 0.9;
  s.specular = 0.01;
  // Twigs turn the surface every way, most of all upwards.
  const tilt = fractal(p[0] * 3 + 11, p[1] * 3, p[2] * 3, 2) - 0.5;
  const n: Vec = [s.normal[0] + 0.7 * tilt, s.normal[1] + 0.35, s.normal[2] + 0.5 * tilt];
  const length = Math.hypot(...n);
  s.normal = [n[0] / length, n[1] / length, n[2] / length];
}
