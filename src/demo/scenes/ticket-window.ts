import { brass, BRASS_TINT, folds, paper, tilted, wood, wool } from "../render/materials";
import { fractal, noise, random, smooth } from "../render/noise";
import { createPlates, tracePlates } from "../render/picture";
import { type Lamp, project, rayOf, type Scene, type Shape, type Vec } from "../render/scene";
import { FIGURE, figureBrass, marchFigure } from "./clockwork";
import { textDistance, textWidth } from "./lettering";
import type { DemoShot } from "./shot";

/**
 * TL-020 Ticket window: a warm interior of fine textures, and a brass clockwork figure that turns and drifts across it.
 */

const TUNGSTEN: Vec = [1, 0.68, 0.39];
const scaled = ([r, g, b]: Vec, s: number): Vec => [r * s, g * s, b * s];

const WALL = 0;
const COUNTER = 1;
const BRASS = 2;
const COAT = 3;
const TIMETABLE = 4;
const OFFICE = 5;
const GLOBE = 6;
const PAPER = 7;
const FRAME = 8;

const WALL_Z = 2.62;
const WINDOW = { left: -0.27, right: 0.27, low: 1.235, high: 1.7 };
const BOARD = { left: 0.345, right: 0.625, low: 1.3, high: 1.735 };
const HANGING = { left: -0.63, right: -0.36, low: 1.21, high: 1.84 };
const TOP = 1.2;

const bars = Array.from(
  { length: 16 },
  (_, i) => WINDOW.left + 0.018 + (i * (WINDOW.right - WINDOW.left - 0.036)) / 15,
);

const frame = (
  box: { left: number; right: number; low: number; high: number },
  width: number,
  depth: number,
  material: number,
): Shape[] => [
  {
    kind: "box",
    low: [box.left - width, box.low - width, WALL_Z - depth],
    high: [box.left, box.high + width, WALL_Z + 0.02],
    material,
  },
  {
    kind: "box",
    low: [box.right, box.low - width, WALL_Z - depth],
    high: [box.right + width, box.high + width, WALL_Z + 0.02],
    material,
  },
  {
    kind: "box",
    low: [box.left, box.high, WALL_Z - depth],
    high: [box.right, box.high + width, WALL_Z + 0.02],
    material,
  },
  {
    kind: "box",
    low: [box.left, box.low - width, WALL_Z - depth],
    high: [box.right, box.low, WALL_Z + 0.02],
    material,
  },
];

const office: Shape[] = [
  { kind: "box", low: [-2, 0, 4.3], high: [2, 4, 4.4], material: OFFICE },
  { kind: "box", low: [-1.2, 0, 3.6], high: [1.2, 1.26, 4.3], material: COUNTER },
  ...Array.from({ length: 9 }, (_, i): Shape => ({
    kind: "box",
    low: [-0.9 + i * 0.21, 1.26, 4.12],
    high: [-0.88 + i * 0.21, 2.3, 4.3],
    material: FRAME,
  })),
  ...Array.from({ length: 6 }, (_, i): Shape => ({
    kind: "box",
    low: [-0.9, 1.4 + i * 0.17, 4.12],
    high: [0.9, 1.415 + i * 0.17, 4.3],
    material: FRAME,
  })),
  ...Array.from({ length: 26 }, (_, i): Shape => {
    const [column, row] = [i % 8, Math.floor(i / 8)];
    const left = -0.87 + column * 0.21 + 0.03 * random(8, i);
    return {
      kind: "box",
      low: [left, 1.415 + row * 0.17, 4.14],
      high: [left + 0.05 + 0.1 * random(9, i), 1.44 + row * 0.17 + 0.1 * random(10, i), 4.28],
      material: PAPER,
    };
  }),
  { kind: "column", x: 0.16, z: 3.8, bottom: 1.26, top: 1.5, radius: 0.012, tip: 0.012, material: BRASS },
  ...Array.from({ length: 10 }, (_, i): Shape => {
    const at = (k: number) => 0.075 * Math.sin((Math.PI * (k + 0.35)) / 10.7);
    const height = (k: number) => 1.565 - 0.075 * Math.cos((Math.PI * (k + 0.35)) / 10.7);
    return {
      kind: "column",
      x: 0.16,
      z: 3.8,
      bottom: height(i),
      top: height(i + 1),
      radius: at(i),
      tip: at(i + 1),
      material: GLOBE,
    };
  }),
];

const shapes: Shape[] = [
  // The wall around the window.
  { kind: "box", low: [-3, -1, WALL_Z], high: [WINDOW.left, 4, WALL_Z + 0.06], material: WALL },
  { kind: "box", low: [WINDOW.right, -1, WALL_Z], high: [3, 4, WALL_Z + 0.06], material: WALL },
  { kind: "box", low: [WINDOW.left, WINDOW.high, WALL_Z], high: [WINDOW.right, 4, WALL_Z + 0.06], material: WALL },
  { kind: "box", low: [WINDOW.left, -1, WALL_Z], high: [WINDOW.right, WINDOW.low, WALL_Z + 0.06], material: WALL },
  ...frame(WINDOW, 0.028, 0.022, FRAME),
  // The grille.
  {
    kind: "group",
    low: [WINDOW.left, WINDOW.low, WALL_Z],
    high: [WINDOW.right, WINDOW.high, WALL_Z + 0.03],
    shapes: [
      ...bars.map((x): Shape => ({
        kind: "column",
        x,
        z: WALL_Z + 0.02,
        bottom: WINDOW.low + 0.07,
        top: WINDOW.high,
        radius: 0.0038,
        tip: 0.0038,
        material: BRASS,
      })),
      ...[WINDOW.low + 0.07, WINDOW.low + 0.2, WINDOW.high - 0.06].map((y): Shape => ({
        kind: "box",
        low: [WINDOW.left, y, WALL_Z + 0.012],
        high: [WINDOW.right, y + 0.009, WALL_Z + 0.028],
        material: BRASS,
      })),
    ],
  },
  // The counter, its edge, and what lies on it.
  { kind: "box", low: [-3, 0, 1.86], high: [3, TOP, WALL_Z + 0.3], material: COUNTER },
  { kind: "box", low: [-3, TOP - 0.03, 1.845], high: [3, TOP + 0.002, 1.86], material: BRASS },
  { kind: "column", x: -0.47, z: 2.2, bottom: TOP, top: TOP + 0.012, radius: 0.048, tip: 0.046, material: BRASS },
  { kind: "column", x: -0.47, z: 2.2, bottom: TOP + 0.012, top: TOP + 0.04, radius: 0.04, tip: 0.026, material: BRASS },
  {
    kind: "column",
    x: -0.47,
    z: 2.2,
    bottom: TOP + 0.04,
    top: TOP + 0.056,
    radius: 0.026,
    tip: 0.005,
    material: BRASS,
  },
  {
    kind: "column",
    x: -0.47,
    z: 2.2,
    bottom: TOP + 0.056,
    top: TOP + 0.068,
    radius: 0.005,
    tip: 0.007,
    material: BRASS,
  },
  ...Array.from({ length: 7 }, (_, i): Shape => ({
    kind: "box",
    low: [0.395 + 0.004 * random(3, i), TOP + i * 0.0045, 2.13 + 0.005 * random(4, i)],
    high: [0.482 + 0.004 * random(3, i), TOP + 0.0042 + i * 0.0045, 2.175 + 0.005 * random(4, i)],
    material: PAPER,
  })),
  { kind: "box", low: [0.12, TOP, 2.36], high: [0.27, TOP + 0.008, 2.47], material: PAPER },
  // The coat on its peg, and the timetable.
  {
    kind: "box",
    low: [HANGING.left, HANGING.low, WALL_Z - 0.1],
    high: [HANGING.right, HANGING.high, WALL_Z - 0.02],
    material: COAT,
  },
  {
    kind: "box",
    low: [BOARD.left, BOARD.low, WALL_Z - 0.006],
    high: [BOARD.right, BOARD.high, WALL_Z],
    material: TIMETABLE,
  },
  ...frame(BOARD, 0.014, 0.014, FRAME),
  // The office behind: pigeonholes, a desk lamp's globe.
  { kind: "group", low: [-2, 0, 3.6], high: [2, 4, 4.4], shapes: office },
];
const lamps: Lamp[] = [
  { at: [-0.55, 2.25, 1.35], power: scaled(TUNGSTEN, 3.4), radius: 0.16, group: 0 },
  { at: [0.16, 1.56, 3.68], power: scaled(TUNGSTEN, 0.85), radius: 0.12, group: 0, unseen: true },
  { at: [0.16, 1.9, 4.0], power: scaled(TUNGSTEN, 0.25), radius: 0.3, group: 0, unseen: true },
  // Dusk through a window behind the camera, to the right.
  { at: [2.4, 1.9, -0.6], power: [0.8, 1.05, 1.5], radius: 0.9, group: 0, unseen: true },
];

const TIMES = Array.from({ length: 15 }, (_, i) => {
  const minutes = 370 + i * 41;
  const two = (value: number) => String(value).padStart(2, "0");
  return [0, 14, 27].map((later) => `${two(Math.floor((minutes + later) / 60))} ${two((minutes + later) % 60)}`);
});

/** Ink of the timetable, 0 to 1, at a place on its sheet (m from its left and from its top). */
function ink(x: number, y: number): number {
  const edge = (d: number, half: number) => smooth(half + 0.0004, half - 0.0002, d);
  const write = (text: string, left: number, top: number, height: number, weight: number) => {
    const grid = height / 6;
    const [u, v] = [(x - left) / grid, 6 - (y - top) / grid];
    return v < -1 || v > 7 || u < -1 || u > textWidth(text) + 1 ? 0 : edge(textDistance(text, u, v) * grid, weight);
  };
  const sheet = BOARD.right - BOARD.left;
  const title = "TARN LINE";
  let most = write(title, sheet / 2 - (textWidth(title) * 0.026) / 12, 0.022, 0.026, 0.0021);
  const under = "WINTER SEASON";
  most = Math.max(most, write(under, sheet / 2 - (textWidth(under) * 0.012) / 12, 0.06, 0.012, 0.0008));
  most = Math.max(most, edge(Math.abs(y - 0.082), 0.0007), edge(Math.abs(y - 0.108), 0.0004));
  const row = Math.floor((y - 0.116) / 0.0198);
  const times = TIMES[row];
  if (times) {
    const column = Math.min(2, Math.max(0, Math.floor((x - 0.02) / 0.083)));
    most = Math.max(most, write(times[column]!, 0.034 + column * 0.083, 0.116 + row * 0.0198 + 0.003, 0.0118, 0.00075));
  }
  for (const [column, word] of ["TARN", "INN", "WEST"].entries())
    most = Math.max(most, write(word, 0.034 + column * 0.083, 0.09, 0.0105, 0.0007));
  for (let c = 1; c < 3; c++)
    most = Math.max(most, y > 0.085 && y < 0.42 ? edge(Math.abs(x - 0.02 - c * 0.083), 0.0003) : 0);
  return most;
}

const scene: Scene = {
  eye: [0, 1.46, 0],
  pitch: 0.004,
  focal: 50 / 24.9,
  shapes,
  lamps,
  groups: 1,
  ambient: [0.085, 0.07, 0.058],
  haze: 0.0006,
  extinction: 0.004,
  solid: () => true,
  sky: () => [0.01, 0.008, 0.006],
  shade(material, p, s) {
    s.emission = [0, 0, 0];
    const facing = s.normal[2] < -0.5;
    if (material === WALL) {
      wood(s, p[1], p[0] + 10, 0.094, [0.2, 0.112, 0.06], 1);
      const groove = Math.abs((((p[0] + 10) / 0.094) % 1) - 0.5);
      if (groove > 0.47 && facing)
        tilted(s, [1, 0, 0], (groove - 0.47) * 22 * Math.sign((((p[0] + 10) / 0.094) % 1) - 0.5), [0, 1, 0], 0);
    } else if (material === COUNTER) {
      const up = s.normal[1] > 0.5;
      wood(s, p[0], up ? p[2] : p[1], 0.16, [0.155, 0.075, 0.036], 5);
      s.specular = 0.06;
      s.roughness = 0.2 + 0.16 * fractal(p[0] * 30, 1, p[2] * 30, 3);
      // Rubbed dull where coins have slid for years.
      if (up) s.roughness += 0.2 * smooth(0.16, 0.02, Math.abs(p[0] - 0.02)) * smooth(0.22, 0.05, Math.abs(p[2] - 2.4));
    } else if (material === FRAME) wood(s, p[1] + p[0], p[0] * 3 + p[2], 0.5, [0.12, 0.062, 0.032], 9);
    else if (material === BRASS) {
      brass(s, p, 0.75);
      s.albedo = s.albedo.map((value, c) => value * BRASS_TINT[c]!) as Vec;
    } else if (material === COAT) {
      const [u, v] = [p[0] - HANGING.left, HANGING.high - p[1]];
      wool(s, u + 0.02 * Math.sin(v * 9), v, [0.3, 0.285, 0.26], [0.07, 0.085, 0.115]);
      if (facing) {
        const { tilt, open } = folds(u, v, 3);
        tilted(s, [1, 0, 0], tilt, [0, 1, 0], 0.05 * Math.sin(v * 30));
        s.albedo = scaled(s.albedo, open);
      }
    } else if (material === TIMETABLE) {
      const [x, y] = [p[0] - BOARD.left, BOARD.high - p[1]];
      paper(s, x, y, 2);
      const black = facing ? ink(x, y) * (0.82 + 0.18 * noise(x * 1500, y * 1500, 3)) : 0;
      s.albedo = s.albedo.map((value) => value * (1 - black) + 0.02 * black) as Vec;
      if (facing)
        tilted(s, [1, 0, 0], 0.05 * (noise(x * 9, y * 9, 5) - 0.5), [0, 1, 0], 0.05 * (noise(x * 9, y * 9, 8) - 0.5));
    } else if (material === PAPER) {
      paper(s, p[0] + p[2], p[1] + p[2] * 0.3, 6 + (Math.floor(p[1] * 300) % 5));
      const hue = noise(Math.floor(p[0] * 9), Math.floor(p[1] * 40), 4);
      s.albedo = [s.albedo[0] * (0.75 + 0.25 * hue), s.albedo[1] * 0.8, s.albedo[2] * (0.95 - 0.35 * hue)];
    } else if (material === GLOBE) {
      // A frosted globe around a filament: brightest in its middle.
      const middle = smooth(0.075, 0.01, Math.hypot(p[0] - 0.16, (p[1] - 1.565) * 0.9));
      s.albedo = [0.1, 0.1, 0.1];
      s.emission = scaled(TUNGSTEN, 2.6 + 13 * middle * middle);
    } else if (material === OFFICE) wood(s, p[1], p[0] + 20, 0.2, [0.17, 0.11, 0.07], 12);
  },
};

const FRAMES = 24;
/** The figure is this many times as tall as its drawing. */
const SIZE = 1.5;
const FOCUS = 2.32;
const PUPIL = 0.0045; // 50 mm at T5.6

/** Where the figure stands, which way it faces, and how its arm swings. */
function pose(number: number) {
  const t = (number - 1) / (FRAMES - 1);
  return { foot: [-0.3 + 0.5 * t, TOP + 0.0005, 2.17] as Vec, turn: -0.9 + 2.5 * t, swing: Math.sin(number * 0.55) };
}

/** The room as the brass sees it: lamps, the bright window, the dark behind the camera. */
function room(d: Vec): Vec {
  const out: Vec = [
    0.05 + 0.07 * smooth(-0.2, 0.9, d[1]),
    0.034 + 0.045 * smooth(-0.2, 0.9, d[1]),
    0.022 + 0.028 * smooth(-0.2, 0.9, d[1]),
  ];
  const add = (towards: Vec, sharp: number, light: Vec) => {
    const l = Math.hypot(...towards);
    const cosine = (d[0] * towards[0] + d[1] * towards[1] + d[2] * towards[2]) / l;
    const w = Math.exp((cosine - 1) * sharp);
    for (let c = 0; c < 3; c++) out[c]! += light[c]! * w;
  };
  add([-0.5, 1.05, -0.85], 26, scaled(TUNGSTEN, 5));
  add([0.16, 0.35, 1.5], 30, scaled(TUNGSTEN, 2.2));
  add([2.4, 0.65, -2.7], 16, [0.16, 0.23, 0.36]);
  // The counter below.
  const below = smooth(0.05, -0.25, d[1]);
  const wooden: Vec = [0.07, 0.036, 0.018];
  for (let c = 0; c < 3; c++) out[c] = out[c]! * (1 - below) + wooden[c]! * below;
  return out;
}

function figureLight(hit: NonNullable<ReturnType<typeof marchFigure>>, view: Vec, turn: number): Vec {
  const { reflectance, roughness } = figureBrass(hit);
  const n = hit.normal;
  const dot = n[0] * view[0] + n[1] * view[1] + n[2] * view[2];
  const mirrored: Vec = [view[0] - 2 * dot * n[0], view[1] - 2 * dot * n[1], view[2] - 2 * dot * n[2]];
  // Back to the room's directions, spread over a few for the roughness.
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const sum: Vec = [0, 0, 0];
  const looks = 5;
  for (let i = 0; i < looks; i++) {
    const spread = (k: number) => (random(40 + k, i) - 0.5) * roughness * 2.2;
    const d: Vec = [mirrored[0] + spread(0), mirrored[1] + spread(1), mirrored[2] + spread(2)];
    const l = Math.hypot(...d);
    const seen = room([(c * d[0] - s * d[2]) / l, d[1] / l, (s * d[0] + c * d[2]) / l]);
    for (let k = 0; k < 3; k++) sum[k]! += seen[k]! / looks;
  }
  const fresnel = (1 + Math.min(0, dot)) ** 5;
  const shade = 0.55 + 0.45 * smooth(0, 0.03, hit.point[1]);
  return [0, 1, 2].map((k) => sum[k]! * (reflectance[k]! + (1 - reflectance[k]!) * fresnel) * shade) as Vec;
}

function drawFigure(number: number, picture: Float32Array, depth: Float32Array, width: number, height: number): void {
  const { foot, turn, swing } = pose(number);
  const corners = [-1, 1].flatMap((x) =>
    [0, 1].map((y) =>
      project(
        scene,
        [foot[0] + x * SIZE * FIGURE.radius, foot[1] + y * SIZE * FIGURE.height, foot[2] - SIZE * FIGURE.radius],
        width,
        height,
      ),
    ),
  );
  const [x0, x1] = [Math.min(...corners.map(({ x }) => x)), Math.max(...corners.map(({ x }) => x))];
  const [y0, y1] = [Math.min(...corners.map(({ y }) => y)), Math.max(...corners.map(({ y }) => y))];
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const into = (v: Vec): Vec => [c * v[0] + s * v[2], v[1], -s * v[0] + c * v[2]];
  const grid = 2;
  for (let y = Math.max(0, Math.floor(y0) - 2); y <= Math.min(height - 1, Math.ceil(y1) + 2); y++) {
    for (let x = Math.max(0, Math.floor(x0) - 2); x <= Math.min(width - 1, Math.ceil(x1) + 2); x++) {
      const sum: Vec = [0, 0, 0];
      let covered = 0;
      let far = 0;
      for (let k = 0; k < grid * grid; k++) {
        const ray = rayOf(scene, x + ((k % grid) + 0.5) / grid, y + (Math.floor(k / grid) + 0.5) / grid, width, height);
        const l = Math.hypot(...ray);
        const d = into([ray[0] / l, ray[1] / l, ray[2] / l]);
        const o = into([
          (scene.eye[0] - foot[0]) / SIZE,
          (scene.eye[1] - foot[1]) / SIZE,
          (scene.eye[2] - foot[2]) / SIZE,
        ]);
        const hit = marchFigure(o, d, (foot[2] - 0.2) / SIZE, (foot[2] + 0.25) / SIZE, swing);
        if (!hit) continue;
        covered++;
        far += (hit.t * SIZE) / l;
        const light = figureLight(hit, d, turn);
        for (let i = 0; i < 3; i++) sum[i]! += light[i]!;
      }
      const pixel = y * width + x;
      if (!covered) {
        // A soft shadow on the counter around the foot.
        const ray = rayOf(scene, x + 0.5, y + 0.5, width, height);
        const t = ray[1] < -1e-4 ? (TOP - scene.eye[1]) / ray[1] : 0;
        const away = Math.hypot(ray[0] * t - foot[0] - 0.012, ray[2] * t - foot[2] - 0.01);
        if (t > 0 && Math.abs(depth[pixel]! - t) < 0.05)
          for (let i = 0; i < 3; i++) picture[pixel * 4 + i]! *= 1 - 0.6 * smooth(0.075 * SIZE, 0.03 * SIZE, away);
        continue;
      }
      const share = covered / (grid * grid);
      for (let i = 0; i < 3; i++)
        picture[pixel * 4 + i] = picture[pixel * 4 + i]! * (1 - share) + sum[i]! / (grid * grid);
      if (share > 0.5) depth[pixel] = far / covered;
    }
  }
}

/** Where a place of the figure's axis, a share of its height up, is seen on a frame, px from the frame's corner. */
export function figurePlace(number: number, up: number, width: number, height: number): { x: number; y: number } {
  const { foot } = pose(number);
  const { x, y } = project(scene, [foot[0], foot[1] + up * SIZE * FIGURE.height, foot[2]], width, height);
  return { x, y };
}

export const ticketWindow: DemoShot = {
  id: "TL-020",
  name: "Ticket window",
  frames: FRAMES,
  sensor: { width: 24.9, height: 14 },
  plates: (width, height) => createPlates(width, height, 1),
  trace: (plates, y0, y1) => tracePlates(scene, plates, { samples: 6, pupil: PUPIL, focus: FOCUS }, y0, y1),
  frame({ width, height, light, depth: far }, number, picture, depth) {
    depth.set(far);
    for (let pixel = 0; pixel < width * height; pixel++) {
      for (let c = 0; c < 3; c++) picture[pixel * 4 + c] = light[pixel * 3 + c]!;
      picture[pixel * 4 + 3] = 1;
    }
    drawFigure(number, picture, depth, width, height);
  },
};
