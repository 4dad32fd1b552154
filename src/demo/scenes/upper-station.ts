import { addLamp, airlight } from "../render/light";
import { branches, type Conifer, coniferShape, shadeConifer } from "../render/conifer";
import { fractal, noise, random, smooth } from "../render/noise";
import { createPlates, type Plates, splat, SURFACE_FLOATS, tracePlates } from "../render/picture";
import { type Lamp, project, rayOf, type Scene, type Shape, type Surface, type Vec } from "../render/scene";
import { drawSnow, type Snowfall } from "../render/snow";
import type { DemoShot } from "./shot";

/** TL-010 Upper station: night, falling snow, a car arriving with two headlamps, platform lamps in a row. */

const SODIUM: Vec = [1, 0.62, 0.3];
const TUNGSTEN: Vec = [1, 0.66, 0.36];
const scaled = ([r, g, b]: Vec, s: number): Vec => [r * s, g * s, b * s];

const PLATFORM = 0;
const BED = 1;
const RAIL = 2;
const WALL = 3;
const ROOF = 4;
const IRON = 5;
const HILL = 6;
const WINDOW = 7;
const BENCH = 8;
/** The first tree's; the others follow. */
const TREE = 100;

const WALL_X = -4.2;
const lampPosts = Array.from({ length: 8 }, (_, i) => ({ x: 4.1, z: 7.5 + i * 6.5 }));

const trees = Array.from({ length: 52 }, (_, i): Conifer => {
  const side = random(31, i) < 0.3 ? -1 : 1;
  const z = 20 + random(33, i) * 52;
  return {
    x: side * (7.5 + random(32, i) * (6 + z * 0.34)) + (side < 0 ? -4 : 0),
    z,
    ground: 0,
    height: 6.5 + random(34, i) * 7,
    radius: 1.5 + random(35, i) * 0.9,
    seed: 300 + 3 * i,
  };
});

const shapes: Shape[] = [
  { kind: "box", low: [-30, -1, -2], high: [-1.6, 0, 80], material: PLATFORM },
  { kind: "box", low: [3.1, -1, -2], high: [30, 0, 80], material: PLATFORM },
  { kind: "box", low: [-1.6, -1.2, -2], high: [3.1, -0.62, 120], material: BED },
  { kind: "box", low: [-0.05, -0.62, -2], high: [0.03, -0.46, 120], material: RAIL },
  { kind: "box", low: [1.47, -0.62, -2], high: [1.55, -0.46, 120], material: RAIL },
  { kind: "box", low: [WALL_X - 4, 0, 9], high: [WALL_X, 3.5, 38], material: WALL },
  { kind: "box", low: [WALL_X - 4, 3.5, 8.2], high: [WALL_X + 1.9, 3.72, 38.8], material: ROOF },
  ...Array.from({ length: 6 }, (_, i): Shape => ({
    kind: "column",
    x: WALL_X + 1.6,
    z: 9 + i * 5.6,
    bottom: 0,
    top: 3.5,
    radius: 0.075,
    tip: 0.06,
    material: IRON,
  })),
  ...lampPosts.flatMap(({ x, z }): Shape[] => [
    { kind: "column", x, z, bottom: 0, top: 3.5, radius: 0.065, tip: 0.04, material: IRON },
    { kind: "box", low: [x - 0.62, 3.46, z - 0.02], high: [x, 3.5, z + 0.02], material: IRON },
    { kind: "box", low: [x - 0.78, 3.3, z - 0.16], high: [x - 0.46, 3.46, z + 0.16], material: IRON },
  ]),
  { kind: "box", low: [5.2, 0.42, 11], high: [5.65, 0.5, 13.2], material: BENCH },
  { kind: "box", low: [5.6, 0.5, 11], high: [5.66, 0.95, 13.2], material: BENCH },
  { kind: "box", low: [5.2, 0, 11.1], high: [5.6, 0.42, 11.2], material: IRON },
  { kind: "box", low: [5.2, 0, 13.0], high: [5.6, 0.42, 13.1], material: IRON },
  { kind: "box", low: [-30, -1, 80], high: [30, 2.4, 90], material: HILL },
  ...trees.map((tree, i) => coniferShape(tree, TREE + i)),
];

const windows = [10.8, 14.6, 18.4, 24, 28, 32];

const lamps: Lamp[] = [
  ...lampPosts.map(({ x, z }): Lamp => ({
    at: [x - 0.62, 3.2, z],
    power: scaled(SODIUM, 6.4),
    radius: 0.16,
    group: 0,
  })),
  ...windows.map((z): Lamp => ({
    at: [WALL_X + 0.35, 1.75, z + 0.7],
    power: scaled(TUNGSTEN, 1.1),
    radius: 0.9,
    group: 0,
    unseen: true,
  })),
  { at: [WALL_X + 1.1, 3.2, 11.8], power: scaled(TUNGSTEN, 2.4), radius: 0.2, group: 0 },
  { at: [WALL_X + 1.1, 3.2, 23], power: scaled(TUNGSTEN, 2.4), radius: 0.2, group: 0 },
];

const TRACK_X = 0.75;
const ridge = (x: number) => 0.085 + 0.07 * fractal(x * 3.1 + 7, 3, 1, 5) + 0.05 * Math.sin(x * 2.3 + 1);

/** Trodden and fallen snow over wet paving: a material that is both, by noise. */
function paving(p: Vec, s: Surface, snowiness: number): void {
  const drift = fractal(p[0] * 0.55, 0.3, p[2] * 0.4, 4);
  const fine = fractal(p[0] * 5.5, 1.7, p[2] * 5.5, 4);
  const snow = smooth(0.44, 0.58, drift * 0.72 + fine * 0.28 + snowiness);
  const joint = Math.min(Math.abs(((p[0] / 0.8) % 1) + (p[0] < 0 ? 1 : 0) - 0.5), Math.abs(((p[2] / 0.8) % 1) - 0.5));
  const stone = (0.05 + 0.05 * fine) * (joint > 0.47 ? 0.45 : 1);
  const puddle = smooth(0.55, 0.4, fractal(p[0] * 0.9 + 4, 2, p[2] * 0.7, 3));
  const white = 0.62 + 0.26 * fine;
  s.albedo = [
    stone + (white - stone) * snow,
    stone * 0.98 + (white * 0.985 - stone) * snow,
    stone * 0.94 + (white - stone) * snow,
  ];
  s.specular = 0.035 * (1 - snow) + 0.004;
  s.roughness = snow > 0.5 ? 0.9 : 0.2 + 0.3 * (1 - puddle) + 0.16 * fine;
  const bump = (0.035 + 0.3 * snow) * (1 - puddle * (1 - snow) * 0.9);
  const e = 0.03;
  const at = (x: number, z: number) => noise(x * 9, 3, z * 9) * 0.35 + noise(x * 3.1, 8, z * 3.1);
  const h = at(p[0], p[2]);
  s.normal = [(h - at(p[0] + e, p[2])) * bump * 5, 1, (h - at(p[0], p[2] + e)) * bump * 5];
  const l = Math.hypot(...s.normal);
  s.normal = [s.normal[0] / l, s.normal[1] / l, s.normal[2] / l];
}

const scene: Scene = {
  eye: [0.55, 1.62, 0],
  pitch: 0.012,
  focal: 35 / 24.9,
  shapes,
  lamps,
  groups: 1,
  // The last of the day: blue from above, against the lamps.
  ambient: [0.026, 0.05, 0.112],
  haze: 0.0015,
  extinction: 0.012,
  solid: branches,
  sky(d) {
    const up = d[1] / Math.hypot(d[0], d[2]);
    const x = d[0] / d[2];
    const crest = ridge(x);
    const cloud = fractal(x * 4, up * 9, 2, 4);
    const glow = Math.exp(-Math.max(0, up) * 7) * (0.8 + 0.35 * cloud);
    const dusk = Math.exp(-Math.max(0, up) * 3.2);
    const sky: Vec = [
      0.009 + 0.014 * dusk + 0.011 * glow,
      0.016 + 0.03 * dusk + 0.0095 * glow,
      0.034 + 0.062 * dusk + 0.0085 * glow,
    ];
    if (up > crest) return sky;
    const face = fractal(x * 14, up * 26, 5, 5);
    const snow = smooth(0.42, 0.62, face + (up - crest * 0.5) * 1.2);
    const base: Vec = [0.006 + 0.016 * snow, 0.011 + 0.028 * snow, 0.022 + 0.05 * snow];
    // A village, far down the valley.
    const cell = Math.floor(x * 90);
    const row = Math.floor(up * 120);
    const lit =
      random(cell * 57 + row, 77) > 0.985 &&
      up > 0.018 &&
      up < 0.07 &&
      Math.hypot(((x * 90) % 1) - 0.5, ((up * 120) % 1) - 0.5) < 0.28;
    return lit ? [0.5, 0.3, 0.12] : base;
  },
  shade(material, p, s) {
    s.emission = [0, 0, 0];
    s.specular = 0.02;
    s.roughness = 0.7;
    if (material === PLATFORM && s.normal[1] > 0.5) paving(p, s, p[0] > 3 ? 0.02 + 0.16 * smooth(5, 9, p[0]) : 0.015);
    else if (material === PLATFORM || material === BED) {
      const grit = fractal(p[0] * 7, p[1] * 7, p[2] * 7, 4);
      const rut = smooth(0.14, 0.5, Math.abs(p[0] - TRACK_X - 0.0)) * smooth(1.9, 1.3, Math.abs(p[0] - TRACK_X));
      const snow = s.normal[1] > 0.5 ? smooth(0.36, 0.6, grit + 0.16 - 0.1 * rut) : 0.1;
      const v = 0.045 + 0.6 * snow * (0.8 + 0.3 * grit);
      s.albedo = [v, v * 0.99, v * 0.99];
      s.roughness = 0.8;
      if (s.normal[1] > 0.5) {
        const g = (x: number, z: number) => noise(x * 7, 1, z * 7);
        const n: Vec = [(g(p[0], p[2]) - g(p[0] + 0.05, p[2])) * 1.6, 1, (g(p[0], p[2]) - g(p[0], p[2] + 0.05)) * 1.6];
        const l = Math.hypot(...n);
        s.normal = [n[0] / l, n[1] / l, n[2] / l];
      }
    } else if (material === RAIL) {
      s.albedo = [0.1, 0.08, 0.07];
      s.specular = s.normal[1] > 0.5 ? 0.5 : 0.06;
      s.roughness = 0.26 + 0.16 * noise(p[0] * 4, 0, p[2] * 2);
    } else if (material === WALL) {
      const window = windows.some((z) => p[2] > z && p[2] < z + 1.4) && p[1] > 1.05 && p[1] < 2.45 && s.normal[0] > 0.5;
      const board = Math.abs(((p[1] / 0.19) % 1) - 0.5);
      const vein = fractal(p[2] * 1.2, p[1] * 22, p[0], 4);
      const v = (0.13 + 0.12 * vein) * (board > 0.46 ? 0.4 : 1);
      s.albedo = [v * 1.15, v * 0.86, v * 0.62];
      if (window) {
        const z = windows.find((w) => p[2] > w && p[2] < w + 1.4)!;
        const [u, v2] = [(p[2] - z) / 1.4, (p[1] - 1.05) / 1.4];
        const bar = Math.min(Math.abs(u - 0.5), Math.abs(v2 - 0.55), u, 1 - u, v2, 1 - v2) < 0.035;
        const curtain = 0.45 + 0.55 * smooth(0.1, 0.45, Math.abs(u - 0.5)) * (0.8 + 0.4 * noise(p[2] * 14, 0, 0));
        const inside = (0.5 + 0.8 * v2) * (1.3 - curtain) * (0.75 + 0.5 * fractal(u * 3, v2 * 3, z, 3));
        s.albedo = bar ? [0.05, 0.045, 0.04] : [0.02, 0.02, 0.02];
        s.emission = bar ? [0, 0, 0] : scaled(TUNGSTEN, 1.5 * inside);
        s.specular = bar ? 0.02 : 0;
        s.roughness = 0.15;
      }
    } else if (material === ROOF) {
      const rafter = Math.abs(((p[2] / 0.7) % 1) - 0.5) > 0.42;
      const v = s.normal[1] > 0.5 ? 0.75 : rafter ? 0.16 : 0.09;
      s.albedo = s.normal[1] > 0.5 ? [v, v, v * 1.02] : [v * 1.1, v * 0.85, v * 0.65];
      if (s.normal[2] < -0.5 || s.normal[0] > 0.5) {
        const snow = smooth(3.62, 3.66, p[1] + 0.03 * noise(p[2] * 3, p[0] * 3, 0));
        s.albedo = [0.1 + 0.7 * snow, 0.08 + 0.72 * snow, 0.07 + 0.74 * snow];
      }
    } else if (material === HILL) {
      const n = fractal(p[0] * 3, p[1] * 4, p[2] * 3, 3);
      const snow = smooth(0.45, 0.62, n + 0.25 * s.normal[1]);
      s.albedo = [0.02 + 0.55 * snow, 0.026 + 0.55 * snow, 0.024 + 0.56 * snow];
      s.roughness = 0.9;
    } else if (material >= TREE) shadeConifer(trees[material - TREE]!, p, s, 0.9);
    else if (material === BENCH) {
      const v = 0.16 * (0.7 + 0.6 * fractal(p[0] * 20, p[1] * 20, p[2] * 2, 3));
      const snow = s.normal[1] > 0.5 ? 1 : 0;
      s.albedo = snow ? [0.8, 0.8, 0.8] : [v * 1.2, v * 0.8, v * 0.5];
    } else if (material === WINDOW) s.albedo = [0.03, 0.03, 0.03];
    else {
      s.albedo = [0.035, 0.036, 0.034];
      s.specular = 0.06;
      s.roughness = 0.35;
    }
  },
};

const carDistance = (frame: number) => 24.5 - frame * 0.19;
const snow: Snowfall = {
  flakes: 5200,
  reach: [9, 6.5, 34],
  fall: 1.15,
  wind: [0.5, 0, -0.25],
  size: 0.0042,
  pupil: 0.0055,
  focus: 14,
  seed: 900,
};

/** Light of a headlamp's face, working light: 240 times mid-grey. */
const HEADLAMP = 43;
const HEADLAMP_COLOUR: Vec = [1, 0.9, 0.72];

function headlamps(frame: number): Lamp[] {
  const z = carDistance(frame);
  const bob = 0.012 * Math.sin(frame * 1.1);
  return [-0.82, 0.82].map((x): Lamp => ({
    at: [TRACK_X + x, 0.52 + bob, z - 0.05],
    power: scaled(HEADLAMP_COLOUR, 12),
    radius: 0.1,
    group: 0,
  }));
}

/** The headlamps' beam: most light goes forwards and a little down. */
function beam(lamp: Lamp, point: Vec): number {
  const [dx, dy, dz] = [point[0] - lamp.at[0], point[1] - lamp.at[1], lamp.at[2] - point[2]];
  if (dz <= 0.02) return 0.04;
  const angle = Math.hypot(dx / dz, (dy / dz + 0.05) * 1.7);
  return 0.08 + 11 * Math.exp(-((angle / 0.2) ** 1.4)) + 1.1 * Math.exp(-angle / 0.5);
}

/** The front of the car: painted boards, two lamps, a lit windscreen with the driver behind it. */
function carSurface(u: number, v: number, lit: Vec): Vec {
  // u across (-1.25 to 1.25 m), v up (0 to 2.75 m).
  const edge = Math.min(1.25 - Math.abs(u), v, 2.75 - v);
  const glass = Math.abs(u) < 1.02 && v > 1.35 && v < 2.3;
  const pillar = Math.abs(Math.abs(u) - 0.34) < 0.035;
  if (glass && !pillar && Math.min(1.02 - Math.abs(u), v - 1.35, 2.3 - v) > 0.04) {
    const driver = Math.hypot((u + 0.1) / 0.85, v - 1.78) < 0.13 || (Math.abs(u + 0.1) < 0.24 && v < 1.62);
    const room = 0.24 + 0.5 * smooth(1.3, 2.3, v) + 0.25 * noise(u * 5, v * 5, 1);
    return scaled(TUNGSTEN, driver ? 0.035 : room * 0.8);
  }
  const worn = fractal(u * 5, v * 5, 2, 4);
  const band = v > 0.92 && v < 1.24;
  const paint: Vec = band ? [0.5, 0.47, 0.4] : [0.23 * (0.8 + 0.4 * worn), 0.035, 0.03];
  const snowEdge = smooth(0.1, 0.02, v) + smooth(2.66, 2.72, v + 0.02 * worn);
  const mix = (i: number) =>
    (paint[i]! * (1 - Math.min(1, snowEdge)) + 0.7 * Math.min(1, snowEdge)) * (edge < 0.035 ? 0.5 : 1);
  return [mix(0) * lit[0], mix(1) * lit[1], mix(2) * lit[2]];
}

function drawCar(frame: number, picture: Float32Array, depth: Float32Array, width: number, height: number): void {
  const z = carDistance(frame);
  const low = project(scene, [TRACK_X - 1.25, -0.35, z], width, height);
  const high = project(scene, [TRACK_X + 1.25, 2.4, z], width, height);
  const lit: Vec = [0.24, 0.19, 0.15];
  const grid = 4;
  for (let y = Math.max(0, Math.floor(high.y)); y <= Math.min(height - 1, Math.ceil(low.y)); y++) {
    for (let x = Math.max(0, Math.floor(low.x)); x <= Math.min(width - 1, Math.ceil(high.x)); x++) {
      const at = (y * width + x) * 4;
      if (depth[y * width + x]! < z) continue;
      const sum: Vec = [0, 0, 0];
      let covered = 0;
      for (let k = 0; k < grid * grid; k++) {
        const ray = rayOf(scene, x + ((k % grid) + 0.5) / grid, y + (Math.floor(k / grid) + 0.5) / grid, width, height);
        const t = (z - scene.eye[2]) / ray[2];
        const u = scene.eye[0] + ray[0] * t - TRACK_X;
        const v = scene.eye[1] + ray[1] * t + 0.35;
        const corner = Math.hypot(Math.max(0, Math.abs(u) - 1.07), Math.max(0, v - 2.57));
        if (Math.abs(u) > 1.25 || v < 0 || v > 2.75 || corner > 0.18) continue;
        covered++;
        const face = Math.min(Math.hypot(u - 0.82, v - 0.87), Math.hypot(u + 0.82, v - 0.87));
        const colour =
          face < 0.12
            ? scaled(HEADLAMP_COLOUR, HEADLAMP * (1 - 0.55 * (face / 0.12) ** 2))
            : face < 0.17
              ? ([0.2, 0.18, 0.15] as Vec)
              : carSurface(u, v, lit);
        for (let c = 0; c < 3; c++) sum[c]! += colour[c]!;
      }
      if (!covered) continue;
      const share = covered / (grid * grid);
      const clear = Math.exp(-scene.extinction * z);
      for (let c = 0; c < 3; c++) picture[at + c] = picture[at + c]! * (1 - share) + (sum[c]! / (grid * grid)) * clear;
      if (share > 0.5) depth[y * width + x] = z;
    }
  }
}

export const upperStation: DemoShot = {
  id: "TL-010",
  name: "Upper station",
  frames: 24,
  sensor: { width: 24.9, height: 14 },
  plates: (width, height) => createPlates(width, height, 1),
  trace: (plates, y0, y1) => tracePlates(scene, plates, { samples: 3, pupil: 0, focus: 1 }, y0, y1),
  frame(plates: Plates, number, picture, depth) {
    const { width, height, light, surface: plane } = plates;
    const moving = headlamps(number);
    depth.set(plates.depth);
    const extra = new Float64Array(3);
    const surface: Surface = { albedo: [0, 0, 0], specular: 0, roughness: 1, emission: [0, 0, 0], normal: [0, 0, 0] };
    const carZ = carDistance(number);
    const point: Vec = [0, 0, 0];
    const view: Vec = [0, 0, 0];
    for (let pixel = 0; pixel < width * height; pixel++) {
      const s = pixel * SURFACE_FLOATS;
      for (let c = 0; c < 3; c++) {
        point[c] = plane[s + c]!;
        view[c] = point[c]! - scene.eye[c]!;
      }
      const reach = Math.sqrt(view[0] * view[0] + view[1] * view[1] + view[2] * view[2]);
      for (let c = 0; c < 3; c++) view[c]! /= reach;
      extra.fill(0);
      if (plane[s + 3]! || plane[s + 4]! || plane[s + 5]!) {
        for (let c = 0; c < 3; c++) {
          surface.normal[c] = plane[s + 3 + c]!;
          surface.albedo[c] = plane[s + 6 + c]!;
        }
        surface.specular = plane[s + 9]!;
        surface.roughness = plane[s + 10]!;
        // The car throws its own shadow behind itself.
        const behind = point[2] > carZ;
        if (!behind)
          for (const lamp of moving)
            addLamp(scene, point, view, surface, lamp.at, lamp.power, beam(lamp, point), false, extra, 0);
      }
      const clear = Math.exp(-scene.extinction * reach);
      for (const lamp of moving) {
        const glow = scene.haze * airlight(scene.eye, view, Math.min(reach, carZ / Math.max(view[2], 0.1)), lamp.at);
        for (let c = 0; c < 3; c++) extra[c] = extra[c]! + (glow * lamp.power[c]!) / clear;
      }
      for (let c = 0; c < 3; c++) picture[pixel * 4 + c] = light[pixel * 3 + c]! + extra[c]! * clear;
      picture[pixel * 4 + 3] = 1;
    }
    drawCar(number, picture, depth, width, height);
    // The lamps themselves: small, far brighter than anything they light.
    for (const lamp of lamps.slice(0, lampPosts.length)) {
      const { x, y, depth: z } = project(scene, lamp.at, width, height);
      if (
        z >
        depth[
          Math.min(height - 1, Math.max(0, Math.round(y))) * width + Math.min(width - 1, Math.max(0, Math.round(x)))
        ]! +
          1
      )
        continue;
      const radius = (0.085 * width * scene.focal) / z;
      splat(
        picture,
        width,
        height,
        x,
        y,
        Math.max(0.5, radius * 0.6),
        scaled([1, 0.68, 0.34], 16),
        Math.PI * radius * radius,
      );
    }
    drawSnow(
      scene,
      snow,
      [...lamps, ...moving.map((lamp) => ({ ...lamp, power: scaled(lamp.power, 2.2) }))],
      number,
      picture,
      depth,
      width,
      height,
    );
  },
};
