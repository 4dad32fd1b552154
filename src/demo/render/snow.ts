import { flakeLight } from "./light";
import { random } from "./noise";
import { splat } from "./picture";
import { type Lamp, project, type Scene, type Vec } from "./scene";

export interface Snowfall {
  flakes: number;
  /** Half the width of the volume, its height, its depth, m. */
  reach: Vec;
  /** m/s */
  fall: number;
  wind: Vec;
  /** Flake radius, m. */
  size: number;
  /** Pupil radius and focus distance, m: near and far flakes are out of focus. */
  pupil: number;
  focus: number;
  seed: number;
}

const FRAME_RATE = 24;
const SHUTTER = 0.5 / FRAME_RATE;
const ALBEDO = 0.8;

/**
 * Draws falling snow, lit by the lamps, hidden by what stands nearer; each flake a short streak of the shutter's
 * length.
 */
export function drawSnow(
  scene: Scene,
  snow: Snowfall,
  lamps: Lamp[],
  frame: number,
  picture: Float32Array,
  depth: Float32Array,
  width: number,
  height: number,
): void {
  const time = frame / FRAME_RATE;
  const wrap = (value: number, size: number) => ((value % size) + size) % size;
  for (let i = 0; i < snow.flakes; i++) {
    const r = (k: number) => random(snow.seed + k, i);
    const speed = snow.fall * (0.7 + 0.6 * r(1));
    const sway = 0.12 * Math.sin(time * 2.2 + r(2) * 6.28);
    const x = wrap(r(3) * 2 * snow.reach[0] + snow.wind[0] * time + sway, 2 * snow.reach[0]) - snow.reach[0];
    const y = wrap(r(4) * snow.reach[1] - speed * time, snow.reach[1]) - 0.5;
    const z = wrap(r(5) * snow.reach[2] + snow.wind[2] * time, snow.reach[2]) + 0.5;
    const here: Vec = [x, y, z];
    const start = project(scene, here, width, height);
    if (start.depth < 1 || start.x < -60 || start.x > width + 60 || start.y < -60 || start.y > height + 60) continue;
    const cell =
      Math.min(height - 1, Math.max(0, Math.floor(start.y))) * width +
      Math.min(width - 1, Math.max(0, Math.floor(start.x)));
    if (depth[cell]! < start.depth) continue;
    const end = project(scene, [x + snow.wind[0] * SHUTTER, y - speed * SHUTTER, z], width, height);
    const view: Vec = [here[0] - scene.eye[0], here[1] - scene.eye[1], here[2] - scene.eye[2]];
    const distance = Math.hypot(...view);
    for (let c = 0; c < 3; c++) view[c]! /= distance;
    const light: Vec = [scene.ambient[0] * 0.4, scene.ambient[1] * 0.4, scene.ambient[2] * 0.4];
    for (const lamp of lamps) {
      const amount = flakeLight(here, view, lamp) * ALBEDO * Math.exp(-scene.extinction * distance);
      for (let c = 0; c < 3; c++) light[c]! += lamp.power[c]! * amount;
    }
    const pixels = width * scene.focal;
    const radius = (snow.size * (0.6 + 0.8 * r(6)) * pixels) / start.depth;
    const blur = (snow.pupil * Math.abs(start.depth - snow.focus) * pixels) / (start.depth * snow.focus);
    const spread = Math.hypot(radius, blur) * 0.55;
    const streak = Math.hypot(end.x - start.x, end.y - start.y);
    const steps = Math.max(1, Math.min(10, Math.ceil(streak / Math.max(spread, 0.6))));
    const area = Math.PI * radius * radius;
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps;
      splat(
        picture,
        width,
        height,
        start.x + (end.x - start.x) * t,
        start.y + (end.y - start.y) * t,
        spread,
        light,
        area / steps,
      );
    }
  }
}
