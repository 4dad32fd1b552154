import { branches, type Conifer, coniferShape, shadeConifer } from "../render/conifer";
import { fractal, noise, random, smooth } from "../render/noise";
import { createPlates, tracePlates } from "../render/picture";
import { type Lamp, project, type Scene, type Shape, type Vec } from "../render/scene";
import { drawSnow, type Snowfall } from "../render/snow";
import type { DemoShot } from "./shot";

/** TL-040 Tunnel mouth: out of the dark into bright snow; wires and railings against the sky. */

const STONE = 0;
const BED = 1;
const RAIL = 2;
const SNOW = 3;
const TIMBER = 5;
/** The first tree's; the others follow. */
const PINE = 100;

const MOUTH = 11.5;
const TRACK_X = 0.35;
const conifers = Array.from({ length: 50 }, (_, i): Conifer => {
  const side = random(61, i) < 0.42 ? -1 : 1;
  const z = 26 + random(62, i) * 70;
  const x = side * (5.5 + random(63, i) * (4 + z * 0.32));
  const ground = rise(x, z);
  return {
    x,
    z,
    ground: ground - 0.3,
    height: 5.5 + random(64, i) * 6.5,
    radius: 1.35 + random(65, i) * 0.8,
    seed: 600 + 3 * i,
  };
});
const trees: Shape[] = conifers.map((tree, i) => coniferShape(tree, PINE + i));

/** Height of the snow beside the line, m. */
function rise(x: number, z: number): number {
  const away = Math.max(0, Math.abs(x - TRACK_X) - 1.9);
  return -0.6 + away * (x > 0 ? 0.34 : 0.16) + 0.012 * Math.max(0, z - 20) * smooth(0, 4, away);
}

/** The bank as steps too fine to be seen: boxes along the line. */
const banks: Shape[] = [-1, 1].flatMap((side) =>
  Array.from({ length: 46 }, (_, i): Shape => {
    const inner = 1.9 + i * 0.32;
    const high = rise(TRACK_X + side * (inner + 0.16), 30);
    const [a, b] = [TRACK_X + side * inner, TRACK_X + side * (inner + 0.34)];
    return { kind: "box", low: [Math.min(a, b), -2, MOUTH], high: [Math.max(a, b), high, 130], material: SNOW };
  }),
);

const shapes: Shape[] = [
  { kind: "vault", x: 0, spring: 1.5, half: 2.35, near: -6, far: MOUTH, material: STONE },
  { kind: "box", low: [-4, -2, -6], high: [4, -0.6, 130], material: BED },
  ...[-0.72, 0.72].map((x): Shape => ({
    kind: "box",
    low: [TRACK_X + x - 0.035, -0.6, -6],
    high: [TRACK_X + x + 0.035, -0.46, 130],
    material: RAIL,
  })),
  { kind: "group", low: [-20, -2, MOUTH], high: [20, 6, 130], shapes: banks },
  { kind: "group", low: [-45, -1, 24], high: [45, 24, 100], shapes: trees },
  // Masts beside the line.
  ...[14, 26, 40, 58].map((z): Shape => ({
    kind: "column",
    x: -2.15,
    z,
    bottom: -0.7,
    top: 5.1,
    radius: 0.09,
    tip: 0.07,
    material: TIMBER,
  })),
  ...[14, 26, 40, 58].map((z): Shape => ({
    kind: "box",
    low: [-2.15, 4.55, z - 0.03],
    high: [0.6, 4.63, z + 0.03],
    material: TIMBER,
  })),
  // The signal hut.
  { kind: "box", low: [3.3, 0, 21], high: [5.1, 2.3, 23], material: TIMBER },
  { kind: "box", low: [3.1, 2.3, 20.8], high: [5.3, 2.5, 23.2], material: SNOW },
];

/** Daylight: an overcast sky, brightest above. Snow is some three stops above mid-grey. */
const SKY: Vec = [1.32, 1.46, 1.66];

/** The mouth lights the tunnel: a grid of lamps on its opening, unseen. */
const lamps: Lamp[] = [-1.4, 0, 1.4].flatMap((x) =>
  [0.2, 1.4, 2.6].map((y): Lamp => ({
    at: [x, y, MOUTH + 1.2],
    power: [0.36, 0.4, 0.46],
    radius: 1.2,
    group: 0,
    unseen: true,
  })),
);

const scene: Scene = {
  eye: [-0.35, 1.15, 0],
  pitch: -0.03,
  focal: 35 / 24.9,
  shapes,
  lamps,
  groups: 1,
  ambient: [0.0016, 0.0018, 0.0022],
  haze: 0,
  extinction: 0,
  solid: branches,
  sky(d) {
    const up = d[1] / Math.hypot(d[0], d[2]);
    const x = d[0] / d[2];
    const cloud = fractal(x * 2.2 + 3, up * 5, 4, 5);
    const crest = 0.16 + 0.12 * fractal(x * 2.1 + 2, 1, 9, 5) + 0.05 * Math.sin(x * 4 + 2);
    const light = 0.72 + 0.5 * smooth(0, 0.7, up) + 0.5 * (cloud - 0.5);
    const sky: Vec = [SKY[0] * light, SKY[1] * light, SKY[2] * light];
    if (up > crest) return sky;
    // The far side of the valley, paled by air.
    const rock = smooth(0.5, 0.62, fractal(x * 13, up * 17, 3, 5) + 0.15 * (up - crest));
    const far: Vec = [0.6 - 0.36 * rock, 0.68 - 0.39 * rock, 0.82 - 0.42 * rock];
    const air = 0.3 + 0.3 * smooth(0.12, 0, up);
    return [0, 1, 2].map((c) => far[c]! * (1 - air) + SKY[c]! * 0.8 * air) as Vec;
  },
  shade(material, p, s) {
    s.emission = [0, 0, 0];
    s.specular = 0.02;
    s.roughness = 0.8;
    const outside = p[2] > MOUTH;
    // Daylight falls on what is outside from all of the sky.
    const day = (albedo: Vec, open: number) => {
      const irradiance = open * (0.45 + 0.55 * s.normal[1]);
      s.albedo = [0, 0, 0];
      s.specular = 0;
      s.emission = [0, 1, 2].map((c) => albedo[c]! * SKY[c]! * irradiance) as Vec;
    };
    const air = (distance: number) => {
      const t = 1 - Math.exp(-distance / 260);
      s.emission = [0, 1, 2].map((c) => s.emission[c]! * (1 - t) + SKY[c]! * 0.8 * t) as Vec;
    };
    if (material === STONE) {
      const around = Math.atan2(p[0], p[1] - 1.5) * 2.35;
      const course = Math.floor(around / 0.36);
      const along = p[2] / 0.62 + (course & 1 ? 0.5 : 0);
      const [u, v] = [along - Math.floor(along), around / 0.36 - course];
      const joint = smooth(0.06, 0.015, Math.min(u, 1 - u) * 0.62) + smooth(0.06, 0.015, Math.min(v, 1 - v) * 0.36);
      const own = noise(course * 3.1, Math.floor(along) * 5.7, 2);
      const rough = fractal(p[0] * 6, p[1] * 6, p[2] * 6, 4);
      const wet = smooth(0.5, 0.66, fractal(around * 0.7, 2, p[2] * 0.5, 4));
      const tone = (0.1 + 0.1 * own + 0.13 * rough) * (1 - 0.55 * Math.min(1, joint)) * (1 - 0.45 * wet);
      const frost = smooth(MOUTH - 2.6, MOUTH, p[2]) * smooth(0.42, 0.6, rough + 0.2);
      s.albedo = [tone * 1.03 + 0.4 * frost, tone + 0.41 * frost, tone * 0.95 + 0.43 * frost];
      s.specular = 0.012 + 0.02 * wet;
      s.roughness = 0.8 - 0.35 * wet;
      const e = 0.02;
      const bump = (q: Vec) => fractal(q[0] * 5, q[1] * 5, q[2] * 5, 3) * 0.06 - Math.min(1, joint) * 0.02;
      const h = bump(p);
      const slope = [0, 1, 2].map((c) => (bump(p.map((value, k) => (k === c ? value + e : value)) as Vec) - h) / e);
      const n = s.normal.map((value, c) => value - 0.8 * slope[c]!) as Vec;
      const l = Math.hypot(...n);
      s.normal = [n[0] / l, n[1] / l, n[2] / l];
    } else if (material === BED) {
      const grit = fractal(p[0] * 8, 1, p[2] * 8, 4);
      const sleeper = Math.abs(((p[2] / 0.62) % 1) - 0.5) < 0.2 && Math.abs(p[0] - TRACK_X) < 1.15;
      if (outside) {
        const trodden = smooth(0.42, 0.7, grit + (sleeper ? 0.12 : -0.06));
        const v = 0.86 - 0.34 * trodden;
        day([v, v * 1.0, v * 1.01], 0.75 + 0.25 * smooth(MOUTH, MOUTH + 4, p[2]));
        air(p[2]);
      } else {
        const blown = smooth(MOUTH - 4.5, MOUTH, p[2] + 1.5 * (fractal(p[0] * 1.3, 3, p[2] * 0.8, 3) - 0.5));
        const v = (sleeper ? 0.06 : 0.1) * (0.5 + grit);
        s.albedo = [v + 0.7 * blown, v * 0.97 + 0.71 * blown, v * 0.94 + 0.72 * blown];
        const g = (x: number, z: number) => noise(x * 9, 1, z * 9);
        const n: Vec = [(g(p[0], p[2]) - g(p[0] + 0.04, p[2])) * 1.6, 1, (g(p[0], p[2]) - g(p[0], p[2] + 0.04)) * 1.6];
        const l = Math.hypot(...n);
        s.normal = [n[0] / l, n[1] / l, n[2] / l];
        s.roughness = 0.5;
      }
    } else if (material === RAIL) {
      s.albedo = [0.1, 0.08, 0.065];
      s.specular = s.normal[1] > 0.5 ? 0.5 : 0.05;
      s.roughness = 0.3 + 0.1 * noise(p[0] * 40, 0, p[2] * 3);
      if (outside) {
        day(s.normal[1] > 0.5 ? [0.42, 0.42, 0.42] : [0.1, 0.085, 0.07], 0.9);
        air(p[2]);
      }
    } else if (material === SNOW) {
      const drift = fractal(p[0] * 1.1, 2, p[2] * 0.5, 4);
      const g = (x: number, z: number) => fractal(x * 0.9, 4, z * 0.45, 3);
      const slope = [(g(p[0], p[2]) - g(p[0] + 0.1, p[2])) * 4, (g(p[0], p[2]) - g(p[0], p[2] + 0.1)) * 4];
      const bank = p[0] > TRACK_X ? 0.34 : -0.16;
      const n: Vec = [slope[0]! - bank * 0.8, 1, slope[1]!];
      const l = Math.hypot(...n);
      s.normal = [n[0] / l, n[1] / l, n[2] / l];
      const v = 0.84 + 0.06 * (drift - 0.5);
      day([v, v * 1.005, v * 1.02], 0.8 + 0.6 * (drift - 0.5));
      air(p[2]);
    } else if (material >= PINE) {
      shadeConifer(conifers[material - PINE]!, p, s, 0.95);
      day([s.albedo[0], s.albedo[1], s.albedo[2]], 0.85);
      air(p[2]);
    } else {
      const grain = fractal(p[0] * 30, p[1] * 3, p[2] * 30, 4);
      const boards = Math.abs(((p[0] / 0.16) % 1) - 0.5) > 0.46 ? 0.5 : 1;
      day([0.16 * (0.5 + grain) * boards, 0.125 * (0.5 + grain) * boards, 0.095 * (0.5 + grain) * boards], 0.7);
      air(p[2] * 0.7);
    }
  },
};

const snow: Snowfall = {
  flakes: 3800,
  reach: [9, 7, 40],
  fall: 1.0,
  wind: [0.7, 0, -0.5],
  size: 0.0045,
  pupil: 0.0022,
  focus: 14,
  seed: 2300,
};
const flakeLamps: Lamp[] = [];

interface Line {
  from: Vec;
  to: Vec;
  sag: number;
  radius: number;
  sway: number;
  tone: number;
}

/**
 * Wires from mast to mast, and the railing along the bank: thinner than a pixel, so they are drawn by how much of it
 * they cover.
 */
const lines: Line[] = [
  ...[
    [-2.05, 5.0],
    [-1.55, 4.68],
    [-0.6, 4.66],
    [0.35, 4.66],
  ].flatMap(([x, y]) =>
    [
      [MOUTH + 0.05, 14],
      [14, 26],
      [26, 40],
      [40, 58],
      [58, 90],
    ].map(([a, b]): Line => ({
      from: [x!, a === MOUTH + 0.05 ? 3.3 + (y! - 4.6) * 0.4 : y!, a!],
      to: [x!, y!, b!],
      sag: 0.012 * (b! - a!),
      radius: 0.011,
      sway: 0.03,
      tone: 0.05,
    })),
  ),
  ...[0.62, 1.0].map((height): Line => ({
    from: [2.75, rise(2.75, 30) + height, MOUTH + 0.6],
    to: [2.75, rise(2.75, 30) + height, 60],
    sag: 0,
    radius: 0.019,
    sway: 0,
    tone: 0.07,
  })),
  ...Array.from({ length: 34 }, (_, i): Line => ({
    from: [2.75, rise(2.75, 30) - 0.2, MOUTH + 0.6 + i * 1.5],
    to: [2.75, rise(2.75, 30) + 1.06, MOUTH + 0.6 + i * 1.5],
    sag: 0,
    radius: 0.024,
    sway: 0,
    tone: 0.07,
  })),
];
const SEGMENTS = 24;

function drawLines(number: number, picture: Float32Array, depth: Float32Array, width: number, height: number): void {
  for (const [index, { from, to, sag, radius, sway, tone }] of lines.entries()) {
    const at = (t: number): Vec => {
      const hang = 4 * t * (1 - t);
      const swung = sway * hang * Math.sin(number * 0.33 + index * 1.7);
      return [
        from[0] + (to[0] - from[0]) * t + swung,
        from[1] + (to[1] - from[1]) * t - sag * hang,
        from[2] + (to[2] - from[2]) * t,
      ];
    };
    for (let k = 0; k < SEGMENTS; k++) {
      const a = project(scene, at(k / SEGMENTS), width, height);
      const b = project(scene, at((k + 1) / SEGMENTS), width, height);
      drawSegment(a, b, radius, tone, picture, depth, width, height);
    }
  }
}

type Placed = ReturnType<typeof project>;

/** Darkens the pixels along a segment by how much of each it covers. The segment's far end belongs to the next one. */
function drawSegment(
  a: Placed,
  b: Placed,
  radius: number,
  tone: number,
  picture: Float32Array,
  depth: Float32Array,
  width: number,
  height: number,
): void {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length2 = dx * dx + dy * dy;
  if (!length2) return;
  const reach = (radius * width * scene.focal) / Math.min(a.depth, b.depth) + 1;
  for (
    let y = Math.max(0, Math.floor(Math.min(a.y, b.y) - reach));
    y <= Math.min(height - 1, Math.ceil(Math.max(a.y, b.y) + reach));
    y++
  )
    for (
      let x = Math.max(0, Math.floor(Math.min(a.x, b.x) - reach));
      x <= Math.min(width - 1, Math.ceil(Math.max(a.x, b.x) + reach));
      x++
    ) {
      const t = ((x + 0.5 - a.x) * dx + (y + 0.5 - a.y) * dy) / length2;
      if (t < 0 || t >= 1) continue;
      const z = a.depth + (b.depth - a.depth) * t;
      const pixel = y * width + x;
      if (depth[pixel]! < z - 0.1) continue;
      const thick = (radius * width * scene.focal) / z;
      const away = Math.abs((x + 0.5 - a.x) * dy - (y + 0.5 - a.y) * dx) / Math.sqrt(length2);
      const cover = Math.min(1, Math.max(0, thick + 0.5 - away)) * Math.min(1, 2 * thick);
      if (cover <= 0) continue;
      const air = 1 - Math.exp(-z / 260);
      for (let c = 0; c < 3; c++) {
        const light = tone * SKY[c]! * (1 - air) + SKY[c]! * 0.8 * air;
        picture[pixel * 4 + c] = picture[pixel * 4 + c]! * (1 - cover) + light * cover;
      }
      if (cover > 0.6) depth[pixel] = z;
    }
}

export const tunnelMouth: DemoShot = {
  id: "TL-040",
  name: "Tunnel mouth",
  frames: 24,
  sensor: { width: 24.9, height: 14 },
  plates: (width, height) => createPlates(width, height, 1),
  trace: (plates, y0, y1) => tracePlates(scene, plates, { samples: 3, pupil: 0, focus: 1 }, y0, y1),
  frame({ width, height, light, depth: far }, number, picture, depth) {
    depth.set(far);
    for (let pixel = 0; pixel < width * height; pixel++) {
      for (let c = 0; c < 3; c++) picture[pixel * 4 + c] = light[pixel * 3 + c]!;
      picture[pixel * 4 + 3] = 1;
    }
    drawLines(number, picture, depth, width, height);
    drawSnow({ ...scene, ambient: [3.1, 3.4, 3.8] }, snow, flakeLamps, number, picture, depth, width, height);
  },
};
