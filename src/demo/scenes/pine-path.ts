import { airlight } from "../render/light";
import { fractal, noise, random, smooth } from "../render/noise";
import { createPlates, type Plates, tracePlates } from "../render/picture";
import { type Hit, type Lamp, project, rayOf, type Scene, type Shape, trace, type Vec } from "../render/scene";
import { drawSnow, type Snowfall } from "../render/snow";
import { textDistance, textWidth } from "./lettering";
import type { DemoShot } from "./shot";

/** TL-030 Pine path: dozens of small lanterns near and far around an enamel sign in focus. */

const FLAME: Vec = [1, 0.6, 0.27];
const scaled = ([r, g, b]: Vec, s: number): Vec => [r * s, g * s, b * s];

const GROUND = 0;
const TRUNK = 1;
const NEEDLES = 2;

/** Groups of lanterns that flicker together. */
const GROUPS = 4;
const PUPIL = 0.018; // 50 mm at T1.4
const FOCUS = 3.4;

const pathX = (z: number) => 0.5 * Math.sin(z * 0.19 + 0.4) + 0.015 * z;

const trees: Shape[] = Array.from({ length: 64 }, (_, i) => {
  const side = i % 2 ? 1 : -1;
  const z = 4.5 + random(11, i) ** 1.2 * 38;
  const x = pathX(z) + side * (1.5 + random(12, i) * (2.5 + z * 0.33));
  return { x, z, i };
}).flatMap(({ x, z, i }): Shape[] => {
  const radius = 0.1 + random(13, i) * 0.14;
  const skirt = 0.9 + random(14, i) * 1.1;
  return [
    { kind: "column", x, z, bottom: -0.2, top: 9, radius, tip: radius * 0.7, material: TRUNK },
    {
      kind: "column",
      x,
      z,
      bottom: 1.5 + random(15, i) * 1.2,
      top: 4 + random(16, i) * 2,
      radius: skirt,
      tip: 0.25,
      material: NEEDLES,
      leafy: true,
    },
  ];
});

interface Lantern {
  at: Vec;
  group: number;
  phase: number;
}

const lanterns: Lantern[] = Array.from({ length: 52 }, (_, i) => {
  const z = 4.4 + (i / 52) ** 1.35 * 33 + random(21, i) * 0.5;
  const side = random(22, i) < 0.5 ? -1 : 1;
  const hung = random(23, i) < 0.55;
  const x = pathX(z) + side * (hung ? 0.75 + random(24, i) * (0.9 + z * 0.12) : 0.75 + random(24, i) * 0.35);
  const y = hung ? 1.15 + random(25, i) * 1.25 : 0.2 + random(25, i) * 0.15;
  return { at: [x, y, z] as Vec, group: i % GROUPS, phase: random(26, i) * 6.28 };
});

const key: Lamp = { at: [-1.0, 2.2, 2.2], power: scaled([1, 0.72, 0.44], 3.4), radius: 0.08, group: 0 };
const lamps: Lamp[] = [
  key,
  ...lanterns.map(({ at, group }): Lamp => ({ at, power: scaled(FLAME, 0.62), radius: 0.06, group })),
];

const scene: Scene = {
  eye: [0, 1.5, 0],
  pitch: 0.0,
  focal: 50 / 24.9,
  shapes: [{ kind: "box", low: [-60, -3, -5], high: [60, 0, 120], material: GROUND }, ...trees],
  lamps,
  groups: GROUPS,
  // The last of the day: blue from above, against the flames.
  ambient: [0.014, 0.03, 0.072],
  haze: 0.0016,
  extinction: 0.014,
  solid: (p) => fractal(p[0] * 3.2, p[1] * 5.5, p[2] * 3.2, 3) > 0.46,
  sky(d) {
    const cloud = fractal(d[0] * 5, d[1] * 8, 1, 3);
    return [0.008 + 0.004 * cloud, 0.017 + 0.008 * cloud, 0.042 + 0.016 * cloud];
  },
  shade(material, p, s) {
    s.emission = [0, 0, 0];
    s.specular = 0.01;
    s.roughness = 0.85;
    if (material === GROUND) {
      const off = Math.abs(p[0] - pathX(p[2]));
      const trodden = smooth(0.8, 0.35, off + 0.25 * (fractal(p[0] * 2, 0, p[2] * 2, 3) - 0.5));
      const fine = fractal(p[0] * 6, 1, p[2] * 6, 3);
      const v = (0.8 - 0.38 * trodden) * (0.82 + 0.3 * fine);
      s.albedo = [v, v * 0.985, v * 0.97];
      const g = (x: number, z: number) => fractal(x * 2.2, 4, z * 2.2, 3);
      const n: Vec = [(g(p[0], p[2]) - g(p[0] + 0.06, p[2])) * 5, 1, (g(p[0], p[2]) - g(p[0], p[2] + 0.06)) * 5];
      const l = Math.hypot(...n);
      s.normal = [n[0] / l, n[1] / l, n[2] / l];
    } else if (material === TRUNK) {
      const bark = fractal(p[0] * 14 + p[2] * 9, p[1] * 2.6, p[2] * 14, 4);
      const snow = smooth(0.58, 0.7, fractal(p[0] * 5, p[1] * 5, p[2] * 5 + 9, 3) - 0.25 * s.normal[2]);
      const v = 0.05 + 0.12 * bark;
      s.albedo = [v * 1.2 + 0.6 * snow, v * 0.95 + 0.6 * snow, v * 0.75 + 0.6 * snow];
    } else if (material === NEEDLES) {
      const n = fractal(p[0] * 4, p[1] * 5, p[2] * 4, 3);
      const snow = smooth(0.52, 0.64, n + 0.2 * s.normal[1]);
      s.albedo = [0.022 + 0.66 * snow, 0.036 + 0.65 * snow, 0.024 + 0.64 * snow];
    } else s.albedo = [0.1, 0.07, 0.05];
  },
};

const flicker = (frame: number, group: number) =>
  1 +
  0.09 * Math.sin(frame * 0.9 + group * 1.7) * Math.sin(frame * 0.37 + group) +
  0.06 * (noise(frame * 0.6, group * 7.3, 0) - 0.5);

/** Where a lantern hangs on a frame: those on branches sway. */
function swaying({ at, phase }: Lantern, frame: number): Vec {
  const swing = at[1] > 0.9 ? 0.014 * Math.sin(frame * 0.21 + phase) : 0;
  return [at[0] + swing, at[1] - swing * swing, at[2]];
}

// The sign: an enamel plate, 0.86 by 0.3 m, on a post.
const SIGN = { x: -0.22, y: 1.47, width: 0.86, height: 0.3 };
const TEXT = "TARN LINE";
const UNIT = 0.0172; // of lettering, m

function signSurface(u: number, v: number): { albedo: Vec; gloss: number } | null {
  const corner = Math.hypot(
    Math.max(0, Math.abs(u) - SIGN.width / 2 + 0.035),
    Math.max(0, Math.abs(v) - SIGN.height / 2 + 0.035),
  );
  if (corner > 0.035) return null;
  const inset = Math.min(SIGN.width / 2 - Math.abs(u), SIGN.height / 2 - Math.abs(v));
  const stroke = textDistance(TEXT, u / UNIT + textWidth(TEXT) / 2, (v - 0.014) / UNIT + 3) * UNIT;
  const rule = Math.abs(v + 0.082) < 0.0035 && Math.abs(u) < 0.33;
  const ink = stroke < 0.0092 || (inset > 0.014 && inset < 0.024) || rule;
  // Enamel chips off where it was hit, down to iron that has rusted; around it, stain runs down.
  const chips =
    fractal(u * 22 + 3, v * 22, 1, 5) +
    0.35 * smooth(0.05, 0, inset) +
    0.3 * smooth(0.05, 0.01, Math.min(Math.hypot(u - 0.395, v - 0.115), Math.hypot(u + 0.395, v - 0.115)));
  const rust = smooth(0.735, 0.77, chips);
  const stain = smooth(0.52, 0.8, fractal(u * 30, v * 2.2, 6, 4)) * 0.55 + 0.4 * smooth(0.6, 0.74, chips);
  const grime = 0.85 + 0.2 * fractal(u * 60, v * 60, 2, 3);
  const white: Vec = [0.74 * grime, 0.71 * grime, 0.63 * grime];
  const blue: Vec = [0.018, 0.035, 0.105];
  const paint = ink
    ? blue
    : ([white[0] * (1 - 0.35 * stain), white[1] * (1 - 0.55 * stain), white[2] * (1 - 0.75 * stain)] as Vec);
  const iron: Vec = [0.16 * grime, 0.065 * grime, 0.028 * grime];
  const mix = (i: number) => paint[i]! + (iron[i]! - paint[i]!) * rust;
  return { albedo: [mix(0), mix(1), mix(2)], gloss: 1 - rust };
}

/** Paints the post and the sign, in focus, into rows [y0, y1) of the plates' layer. */
function paintSign(plates: Plates, y0: number, y1: number): void {
  const width = plates.width * 2;
  const height = plates.height * 2;
  const layer = plates.layer!;
  const low = project(scene, [SIGN.x - SIGN.width / 2, SIGN.y - 1.6, FOCUS], width, height);
  const high = project(scene, [SIGN.x + SIGN.width / 2, SIGN.y + SIGN.height / 2 + 0.06, FOCUS], width, height);
  const grid = 2;
  const near = [key, ...lamps.slice(1, 9)];
  for (let y = Math.max(y0, Math.floor(high.y)); y < Math.min(y1, Math.ceil(low.y)); y++) {
    for (let x = Math.max(0, Math.floor(low.x)); x <= Math.min(width - 1, Math.ceil(high.x)); x++) {
      const sum: Vec = [0, 0, 0];
      let covered = 0;
      for (let k = 0; k < grid * grid; k++) {
        const ray = rayOf(scene, x + ((k % grid) + 0.5) / grid, y + (Math.floor(k / grid) + 0.5) / grid, width, height);
        const px = ray[0] * FOCUS;
        const py = scene.eye[1] + ray[1] * FOCUS;
        const [u, v] = [px - SIGN.x, py - SIGN.y];
        const cap = 0.15 + 0.024 * fractal(u * 9, 2, 1, 3) + 0.006;
        const snowCap = Math.abs(u) < SIGN.width / 2 - 0.01 && v > SIGN.height / 2 - 0.004 && v < cap;
        const sign = snowCap ? null : signSurface(u, v);
        const post = !sign && !snowCap && Math.abs(u + 0.012 * Math.sin(v * 3)) < 0.042 && v < SIGN.height / 2;
        if (!sign && !snowCap && !post) continue;
        covered++;
        const point: Vec = [px, py, FOCUS];
        let albedo: Vec = [0.8, 0.8, 0.81];
        let normal: Vec = [0, 0.5, -0.86];
        let gloss = 0;
        if (sign) {
          albedo = sign.albedo;
          gloss = sign.gloss;
          // A pressed plate is not quite flat.
          normal = [
            0.05 * (noise(u * 7, v * 7, 1) - 0.5) + 0.1 * u,
            0.06 * (noise(u * 7, v * 7, 4) - 0.5) + 0.15 * v,
            -1,
          ];
        } else if (post) {
          const grain = fractal(u * 40, v * 3, 3, 4);
          albedo = [0.13 * (0.5 + grain), 0.095 * (0.5 + grain), 0.065 * (0.5 + grain)];
          normal = [u / 0.05, 0, -Math.sqrt(Math.max(0.05, 1 - (u / 0.05) ** 2))];
        } else normal = [0.4 * (noise(u * 30, v * 30, 1) - 0.5), 0.45 + 0.5 * smooth(SIGN.height / 2, cap, v), -0.8];
        const l = Math.hypot(...normal);
        for (let c = 0; c < 3; c++) sum[c]! += albedo[c]! * scene.ambient[c]! * 0.6;
        for (const lamp of near) {
          const to: Vec = [lamp.at[0] - point[0], lamp.at[1] - point[1], lamp.at[2] - point[2]];
          const d2 = to[0] ** 2 + to[1] ** 2 + to[2] ** 2;
          const d = Math.sqrt(d2);
          const cosine = (to[0] * normal[0] + to[1] * normal[1] + to[2] * normal[2]) / (d * l);
          // Lanterns behind the plate still rim the snow on it.
          const wrapped = snowCap ? Math.max(0, (cosine + 0.5) / 1.5) : Math.max(0, cosine);
          const half: Vec = [to[0] / d - ray[0], to[1] / d - ray[1], to[2] / d - 1];
          const hl = Math.hypot(...half);
          const nh = Math.max(0, (half[0] * normal[0] + half[1] * normal[1] + half[2] * normal[2]) / (hl * l));
          const shine = cosine > 0 ? gloss * (0.03 * nh ** 60 * 10 + 0.04 * nh ** 900 * 160) : 0;
          for (let c = 0; c < 3; c++) sum[c]! += (lamp.power[c]! / d2) * ((albedo[c]! / Math.PI) * wrapped + shine);
        }
      }
      if (!covered) continue;
      const ray = rayOf(scene, x + 0.5, y + 0.5, width, height);
      const l = Math.hypot(...ray);
      const glow = scene.haze * airlight(scene.eye, [ray[0] / l, ray[1] / l, ray[2] / l], FOCUS, key.at);
      const share = covered / (grid * grid);
      const at = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) layer[at + c] = sum[c]! / (grid * grid) + glow * key.power[c]! * share;
      layer[at + 3] = share;
    }
  }
}

/** Flame luminance, working light: 270 times mid-grey; lantern half size, m. */
const FLAME_LIGHT = 48;
const LANTERN_HALF = [0.021, 0.028] as const;
/** Points across the pupil at which a lantern is looked for. */
const PUPIL_GRID = 16;

/**
 * How much of a lantern is seen from each point of a grid over the pupil: 0 where a trunk or twigs stand in the way.
 */
function pupilView(at: Vec): Float64Array {
  const hit: Hit = { t: 0, material: -1, nx: 0, ny: 0, nz: 0 };
  return Float64Array.from({ length: PUPIL_GRID ** 2 }, (_, i) => {
    const [u, v] = [i % PUPIL_GRID, Math.floor(i / PUPIL_GRID)].map((k) => ((k + 0.5) / PUPIL_GRID) * 2 - 1) as [
      number,
      number,
    ];
    const origin: Vec = [scene.eye[0] + u * PUPIL, scene.eye[1] + v * PUPIL, scene.eye[2]];
    const d: Vec = [at[0] - origin[0], at[1] - origin[1], at[2] - origin[2]];
    const length = Math.hypot(...d);
    return trace(scene, origin, [d[0] / length, d[1] / length, d[2] / length], length - 0.12, hit) ? 0 : 1;
  });
}

/**
 * Draws a lantern as the disc of the pupil, cut by what stands in front of it; its edge is as soft as the lantern is
 * large.
 */
function drawLantern(lantern: Lantern, frame: number, picture: Float32Array, width: number, height: number): void {
  const at = swaying(lantern, frame);
  const { x, y, depth } = project(scene, at, width, height);
  if (depth < 0.5 || x < -80 || x > width + 80 || y < -80 || y > height + 80) return;
  const pixels = width * scene.focal;
  const blur = (PUPIL * Math.abs(depth - FOCUS) * pixels) / (depth * FOCUS);
  const area = (4 * LANTERN_HALF[0] * LANTERN_HALF[1] * pixels * pixels) / (depth * depth);
  const light = scaled(FLAME, FLAME_LIGHT * flicker(frame, lantern.group) * Math.exp(-scene.extinction * depth));
  const soft = Math.max(0.8, (Math.hypot(...LANTERN_HALF) * pixels) / depth / 1.6);
  const radius = Math.max(blur, 0.7);
  const seen = pupilView(at);
  const out = new Float64Array(1);
  const disc = (px: number, py: number) => {
    const [u, v] = [(x - px) / radius, (py - y) / radius];
    const r = Math.hypot(u, v);
    const edge = smooth(radius + soft, radius - soft, r * radius);
    if (edge <= 0) return 0;
    sample(seen, PUPIL_GRID, PUPIL_GRID, 1, ((u + 1) / 2) * PUPIL_GRID - 0.5, ((v + 1) / 2) * PUPIL_GRID - 0.5, out);
    // Clean glass still has a slightly brighter rim.
    return edge * out[0]! * (0.9 + 0.2 * Math.min(1, r * r));
  };
  const share = area / (Math.PI * radius * radius);
  const reach = radius + soft;
  for (let j = Math.max(0, Math.floor(y - reach)); j <= Math.min(height - 1, y + reach); j++)
    for (let i = Math.max(0, Math.floor(x - reach)); i <= Math.min(width - 1, x + reach); i++) {
      const amount = share * disc(i + 0.5, j + 0.5);
      if (amount) for (let c = 0; c < 3; c++) picture[(j * width + i) * 4 + c]! += light[c]! * amount;
    }
}

const snow: Snowfall = {
  flakes: 1500,
  reach: [5, 4.5, 16],
  fall: 0.75,
  wind: [0.22, 0, -0.1],
  size: 0.0034,
  pupil: PUPIL,
  focus: FOCUS,
  seed: 1700,
};

/** Bilinear look-up in a plate of half the size. */
function sample(
  plane: Float32Array | Float64Array,
  width: number,
  height: number,
  channels: number,
  x: number,
  y: number,
  out: Float64Array,
): void {
  const fx = Math.min(width - 1.001, Math.max(0, x));
  const fy = Math.min(height - 1.001, Math.max(0, y));
  const [i, j] = [Math.floor(fx), Math.floor(fy)];
  const [u, v] = [fx - i, fy - j];
  const at = (j * width + i) * channels;
  for (let c = 0; c < channels; c++) {
    const top = plane[at + c]! * (1 - u) + plane[at + channels + c]! * u;
    const below = plane[at + width * channels + c]! * (1 - u) + plane[at + (width + 1) * channels + c]! * u;
    out[c] = top * (1 - v) + below * v;
  }
}

/**
 * Weights of the neighbours on one side and of the middle: what is out of focus is smooth, and the samples' noise is
 * not.
 */
const SMOOTHING = [1, 4, 6, 4, 1].map((weight) => weight / 16);
const smoothedPlates = new WeakMap<Plates, Float32Array>();

/** The plates' light without the grain of its few samples. */
function smoothedLight(plates: Plates): Float32Array {
  const found = smoothedPlates.get(plates);
  if (found) return found;
  const { width, height, light } = plates;
  const channels = GROUPS * 3;
  const along = (from: Float32Array, count: number, stride: number, placeOf: (at: number) => number) =>
    from.map((_, at) => {
      const place = placeOf(at);
      return SMOOTHING.reduce(
        (sum, weight, k) =>
          sum + weight * from[at + (Math.min(count - 1, Math.max(0, place + k - 2)) - place) * stride]!,
        0,
      );
    });
  const across = along(light, width, channels, (at) => Math.floor(at / channels) % width);
  const smoothed = along(across, height, channels * width, (at) => Math.floor(at / channels / width));
  smoothedPlates.set(plates, smoothed);
  return smoothed;
}

export const pinePath: DemoShot = {
  id: "TL-030",
  name: "Pine path",
  frames: 24,
  sensor: { width: 24.9, height: 14 },
  // Everything but the sign is out of focus, and is traced at half size.
  plates: (width, height) => createPlates(width >> 1, height >> 1, GROUPS, width * height),
  trace(plates, y0, y1) {
    tracePlates(scene, plates, { samples: 8, pupil: PUPIL, focus: FOCUS }, y0, y1);
    paintSign(plates, y0 * 2, y1 * 2);
  },
  frame(plates: Plates, number, picture, depth) {
    const width = plates.width * 2;
    const height = plates.height * 2;
    const weights = Array.from({ length: GROUPS }, (_, group) => flicker(number, group));
    const light = new Float64Array(GROUPS * 3);
    const near = new Float64Array(1);
    const smoothed = smoothedLight(plates);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        sample(smoothed, plates.width, plates.height, GROUPS * 3, (x - 0.5) / 2, (y - 0.5) / 2, light);
        sample(plates.depth, plates.width, plates.height, 1, (x - 0.5) / 2, (y - 0.5) / 2, near);
        const at = (y * width + x) * 4;
        for (let c = 0; c < 3; c++) {
          let sum = 0;
          for (let g = 0; g < GROUPS; g++) sum += light[g * 3 + c]! * weights[g]!;
          picture[at + c] = sum;
        }
        picture[at + 3] = 1;
        depth[y * width + x] = near[0]!;
      }
    }
    for (const lantern of lanterns) drawLantern(lantern, number, picture, width, height);
    const layer = plates.layer!;
    for (let pixel = 0; pixel < width * height; pixel++) {
      const share = layer[pixel * 4 + 3]!;
      if (!share) continue;
      for (let c = 0; c < 3; c++)
        picture[pixel * 4 + c] = picture[pixel * 4 + c]! * (1 - share) + layer[pixel * 4 + c]! * weights[0]!;
      if (share > 0.5) depth[pixel] = FOCUS;
    }
    drawSnow(scene, snow, lamps.slice(0, 20), number, picture, depth, width, height);
  },
};
