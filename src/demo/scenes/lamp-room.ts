import { brass, BRASS_TINT, tilted, wood, wool } from "../render/materials";
import { fractal, noise, random, smooth } from "../render/noise";
import { createPlates, tracePlates } from "../render/picture";
import { type Lamp, type Scene, type Shape, type Vec } from "../render/scene";
import type { DemoShot } from "./shot";

/**
 * TL-050 Lamp room: the same world as the ticket window, where the line's hand lamps are kept; delivered log-encoded
 * and flat.
 */

const TUNGSTEN: Vec = [1, 0.68, 0.39];
const scaled = ([r, g, b]: Vec, s: number): Vec => [r * s, g * s, b * s];
const WARM = 0;
const GREEN = 1;
const RED = 2;

const WALL = 0;
const SHELF = 1;
const BRASS = 2;
const BENCH = 3;
const CLOTH = 4;
const DUSK = 5;
const TIN = 6;
/** Lit glass: one material a colour and group. */
const GLASS = 10;

/** Lamps of a group flicker together. */
const GROUPS = 4;
const COLOURS: Vec[] = [
  [1, 0.66, 0.36],
  [0.16, 0.85, 0.42],
  [0.95, 0.09, 0.05],
];

const WALL_Z = 3.2;
const SHELVES = [1.22, 1.56, 1.9];

interface HandLamp {
  x: number;
  y: number;
  z: number;
  size: number;
  colour: number;
  group: number;
  lit: boolean;
}

const handLamps: HandLamp[] = SHELVES.slice(0, 2).flatMap((y, row) =>
  Array.from({ length: 9 }, (_, i): HandLamp => {
    const r = (k: number) => random(70 + k, row * 20 + i);
    return {
      x: -1.02 + i * 0.235 + 0.03 * (r(0) - 0.5),
      y,
      z: 3.02 + 0.05 * (r(1) - 0.5),
      size: 0.9 + 0.2 * r(2),
      colour: r(3) < 0.62 ? WARM : r(3) < 0.82 ? RED : GREEN,
      group: 1 + (i % 3),
      lit: r(4) < 0.7,
    };
  }),
);

/** A hand lamp: a foot, a glass between brass rings, a chimney with a cap. */
const handLamp = ({ x, y, z, size, colour, group, lit }: HandLamp): Shape => {
  const at = (bottom: number, top: number, radius: number, tip: number, material: number): Shape => ({
    kind: "column",
    x,
    z,
    bottom: y + bottom * size,
    top: y + top * size,
    radius: radius * size,
    tip: tip * size,
    material,
  });
  const glass = lit ? GLASS + colour * GROUPS + group : TIN;
  return {
    kind: "group",
    low: [x - 0.075 * size, y, z - 0.075 * size],
    high: [x + 0.075 * size, y + 0.27 * size, z + 0.075 * size],
    shapes: [
      at(0, 0.02, 0.066, 0.066, BRASS),
      at(0.02, 0.06, 0.06, 0.05, BRASS),
      at(0.06, 0.15, 0.042, 0.042, glass),
      at(0.15, 0.162, 0.056, 0.056, BRASS),
      at(0.162, 0.2, 0.05, 0.026, BRASS),
      at(0.2, 0.235, 0.026, 0.026, BRASS),
      at(0.235, 0.25, 0.038, 0.012, BRASS),
    ],
  };
};

const shapes: Shape[] = [
  { kind: "box", low: [-4, -1, WALL_Z], high: [4, 5, WALL_Z + 0.1], material: WALL },
  ...SHELVES.map((y): Shape => ({
    kind: "box",
    low: [-1.3, y - 0.025, 2.86],
    high: [1.18, y, WALL_Z],
    material: SHELF,
  })),
  ...[-1.3, -0.06, 1.155].map((x): Shape => ({
    kind: "box",
    low: [x, 0.9, 2.9],
    high: [x + 0.025, 2.4, WALL_Z],
    material: SHELF,
  })),
  { kind: "group", low: [-1.3, 1.2, 2.85], high: [1.2, 2.1, WALL_Z], shapes: handLamps.map(handLamp) },
  // The bench in front, a lamp on it, a can, and a folded cloth.
  { kind: "box", low: [-4, -1, 1.7], high: [4, 1.0, 2.5], material: BENCH },
  handLamp({ x: -0.34, y: 1.0, z: 2.05, size: 1.25, colour: WARM, group: 0, lit: true }),
  { kind: "column", x: 0.36, z: 2.12, bottom: 1.0, top: 1.13, radius: 0.052, tip: 0.052, material: TIN },
  { kind: "column", x: 0.36, z: 2.12, bottom: 1.13, top: 1.17, radius: 0.05, tip: 0.014, material: TIN },
  { kind: "column", x: 0.36, z: 2.12, bottom: 1.17, top: 1.24, radius: 0.012, tip: 0.006, material: BRASS },
  { kind: "box", low: [0.0, 1.0, 1.9], high: [0.24, 1.022, 2.06], material: CLOTH },
  { kind: "box", low: [0.02, 1.022, 1.92], high: [0.23, 1.04, 2.05], material: CLOTH },
  // A small window onto dusk.
  { kind: "box", low: [1.3, 1.3, WALL_Z - 0.01], high: [1.62, 1.95, WALL_Z], material: DUSK },
  ...[1.3, 1.45, 1.6].map((x): Shape => ({
    kind: "box",
    low: [x, 1.28, WALL_Z - 0.04],
    high: [x + 0.02, 1.97, WALL_Z],
    material: SHELF,
  })),
  ...[1.28, 1.6, 1.95].map((y): Shape => ({
    kind: "box",
    low: [1.28, y, WALL_Z - 0.04],
    high: [1.64, y + 0.02, WALL_Z],
    material: SHELF,
  })),
];

const glow = (lamp: HandLamp, power: number): Lamp => ({
  at: [lamp.x, lamp.y + 0.105 * lamp.size, lamp.z - 0.085],
  power: scaled(COLOURS[lamp.colour]!, power),
  radius: 0.05,
  group: lamp.group,
  unseen: true,
});

const lamps: Lamp[] = [
  { at: [-0.34, 1.15, 1.93], power: scaled(TUNGSTEN, 0.3), radius: 0.06, group: 0, unseen: true },
  { at: [0.7, 2.7, 1.2], power: scaled(TUNGSTEN, 2.3), radius: 0.25, group: 0 },
  { at: [1.45, 1.65, 2.9], power: [0.1, 0.14, 0.22], radius: 0.3, group: 0, unseen: true },
  ...handLamps.filter(({ lit }, i) => lit && i % 2 === 0).map((lamp) => glow(lamp, lamp.colour === WARM ? 0.09 : 0.05)),
];

const scene: Scene = {
  eye: [0.05, 1.42, 0],
  pitch: 0.012,
  focal: 35 / 24.9,
  shapes,
  lamps,
  groups: GROUPS,
  ambient: [0.055, 0.046, 0.04],
  haze: 0.0006,
  extinction: 0.004,
  solid: () => true,
  sky: () => [0.01, 0.008, 0.006],
  shade(material, p, s) {
    s.emission = [0, 0, 0];
    if (material >= GLASS) {
      const colour = COLOURS[Math.floor((material - GLASS) / GROUPS)]!;
      // A flame seen through ribbed glass: brightest half way up.
      const rib = 0.75 + 0.25 * Math.sin(Math.atan2(p[0] - Math.round(p[0] / 0.235) * 0.235, p[2] - 3) * 14);
      const nearest = handLamps.reduce(
        (best, lamp) =>
          Math.hypot(lamp.x - p[0], lamp.z - p[2]) < Math.hypot(best.x - p[0], best.z - p[2]) &&
          Math.abs(p[1] - lamp.y - 0.1) < 0.1
            ? lamp
            : best,
        { x: -0.34, y: 1.0, z: 2.05, size: 1.25 } as HandLamp,
      );
      const up = (p[1] - nearest.y) / nearest.size - 0.1;
      const middle = Math.exp(-((up / 0.028) ** 2));
      s.albedo = [0.02, 0.02, 0.02];
      s.specular = 0.04;
      s.roughness = 0.1;
      s.emission = scaled(colour, rib * (0.45 + 9 * middle));
    } else if (material === WALL) wood(s, p[1], p[0] + 10, 0.12, [0.2, 0.112, 0.06], 1);
    else if (material === SHELF) wood(s, p[0], p[1] * 2 + p[2], 0.3, [0.14, 0.072, 0.037], 9);
    else if (material === BENCH) {
      wood(s, p[0], s.normal[1] > 0.5 ? p[2] : p[1], 0.2, [0.155, 0.075, 0.036], 5);
      s.roughness = 0.34 + 0.25 * fractal(p[0] * 20, 1, p[2] * 20, 3);
    } else if (material === BRASS) {
      brass(s, p, 0.6);
      s.albedo = s.albedo.map((value, c) => value * BRASS_TINT[c]!) as Vec;
    } else if (material === CLOTH) {
      wool(s, p[0] * 1.3, p[2] + p[1], [0.26, 0.075, 0.05], [0.1, 0.03, 0.026]);
      tilted(
        s,
        [1, 0, 0],
        0.3 * (noise(p[0] * 40, 1, p[2] * 40) - 0.5),
        [0, 0, 1],
        0.3 * (noise(p[0] * 40, 6, p[2] * 40) - 0.5),
      );
    } else if (material === DUSK) {
      const frost = fractal(p[0] * 26, p[1] * 26, 3, 5);
      const rim =
        smooth(0.16, 0.02, Math.min(((p[0] - 1.32) % 0.15) + 0, 0.15 - ((p[0] - 1.32) % 0.15))) *
        smooth(0.45, 0.6, frost);
      s.albedo = [0.02, 0.02, 0.02];
      s.emission = scaled([0.3, 0.42, 0.68], 0.75 + 0.5 * frost + 0.5 * rim);
    } else {
      const worn = fractal(p[0] * 40, p[1] * 40, p[2] * 40, 4);
      s.albedo = [0.1 + 0.05 * worn, 0.1 + 0.05 * worn, 0.098 + 0.05 * worn];
      s.specular = 0.25 - 0.15 * smooth(0.5, 0.7, worn);
      s.roughness = 0.35;
    }
  },
};

const flicker = (frame: number, group: number) =>
  group === 0
    ? 1
    : 1 +
      0.05 * Math.sin(frame * 0.8 + group * 2.1) * Math.sin(frame * 0.31 + group) +
      0.05 * (noise(frame * 0.7, group * 5.1, 0) - 0.5);

export const lampRoom: DemoShot = {
  id: "TL-050",
  name: "Lamp room",
  frames: 12,
  sensor: { width: 24.9, height: 14 },
  delivered: "log",
  plates: (width, height) => createPlates(width, height, GROUPS),
  trace: (plates, y0, y1) => tracePlates(scene, plates, { samples: 4, pupil: 0.003, focus: 2.4 }, y0, y1),
  frame({ width, height, light, depth: far }, number, picture, depth) {
    depth.set(far);
    const weights = Array.from({ length: GROUPS }, (_, group) => flicker(number, group));
    for (let pixel = 0; pixel < width * height; pixel++) {
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let g = 0; g < GROUPS; g++) sum += light[(pixel * GROUPS + g) * 3 + c]! * weights[g]!;
        picture[pixel * 4 + c] = sum;
      }
      picture[pixel * 4 + 3] = 1;
    }
  },
};
