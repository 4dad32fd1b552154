import { addLamp, airlight } from "./light";
import { random } from "./noise";
import { type Hit, rayOf, type Scene, type Surface, trace, type Vec } from "./scene";

/** What is traced once a shot: light per group, and what a frame needs to add moving lamps. Shared between workers. */
export interface Plates {
  width: number;
  height: number;
  /** RGB per group, `groups * 3` floats a pixel. */
  light: Float32Array;
  /** Distance along the axis, m. */
  depth: Float32Array;
  /** A layer drawn once at full size, over the rest: RGB and coverage. */
  layer?: Float32Array;
  /** Position, normal, albedo, specular, roughness at the pixel's centre: 11 floats a pixel. */
  surface: Float32Array;
}

export const SURFACE_FLOATS = 11;

export function createPlates(width: number, height: number, groups: number, layerPixels = 0): Plates {
  const floats = (count: number) => new Float32Array(new SharedArrayBuffer(count * 4));
  const pixels = width * height;
  return {
    width,
    height,
    light: floats(pixels * groups * 3),
    depth: floats(pixels),
    surface: floats(pixels * SURFACE_FLOATS),
    ...(layerPixels ? { layer: floats(layerPixels * 4) } : {}),
  };
}

export interface Sampling {
  samples: number;
  /** Radius of the pupil, m, and distance in focus, m; 0 for a pinhole. */
  pupil: number;
  focus: number;
}

/** Distance taken as the depth of the sky, m. */
const SKY_DEPTH = 500;

/** Lamps shade without a shadow ray where their light is this weak. */
const SHADOWED_ABOVE = 0.02;
/** Lamps that give less than this are left out: the darkest of the picture is a hundred times brighter. */
const WORTH_ADDING = 4e-4;

const point: Vec = [0, 0, 0];
const jittered: Vec = [0, 0, 0];

function shadeRay(
  scene: Scene,
  origin: Vec,
  d: Vec,
  hit: Hit,
  surface: Surface,
  seed: number,
  out: Float64Array,
  lit: Float64Array,
): number {
  const found = trace(scene, origin, d, SKY_DEPTH, hit);
  const reach = found ? hit.t : SKY_DEPTH;
  if (!found) {
    const sky = scene.sky(d);
    for (let c = 0; c < 3; c++) out[c]! += sky[c]!;
    return reach;
  }
  const clear = Math.exp(-scene.extinction * reach);
  for (let c = 0; c < 3; c++) point[c] = origin[c]! + d[c]! * reach;
  surface.normal[0] = hit.nx;
  surface.normal[1] = hit.ny;
  surface.normal[2] = hit.nz;
  scene.shade(hit.material, point, surface);
  lit.fill(0);
  const dome = 0.5 + 0.5 * surface.normal[1];
  for (let c = 0; c < 3; c++) lit[c] = surface.albedo[c]! * scene.ambient[c]! * dome + surface.emission[c]!;
  for (let i = 0; i < scene.lamps.length; i++) {
    const lamp = scene.lamps[i]!;
    const d2 = (lamp.at[0] - point[0]) ** 2 + (lamp.at[1] - point[1]) ** 2 + (lamp.at[2] - point[2]) ** 2;
    if (lamp.power[1] / d2 < WORTH_ADDING) continue;
    const j = seed * 7919 + i * 31;
    for (let c = 0; c < 3; c++) jittered[c] = lamp.at[c]! + (random(j, c) - 0.5) * lamp.radius;
    addLamp(
      scene,
      point,
      d,
      surface,
      jittered,
      lamp.power,
      1,
      lamp.power[1] / d2 > SHADOWED_ABOVE,
      lit,
      lamp.group * 3,
    );
  }
  for (let c = 0; c < lit.length; c++) out[c]! += lit[c]! * clear;
  return reach;
}

/** Traces rows [y0, y1) of the plates. */
export function tracePlates(
  scene: Scene,
  plates: Plates,
  { samples, pupil, focus }: Sampling,
  y0: number,
  y1: number,
): void {
  const { width, height, light, depth, surface: plane } = plates;
  const hit: Hit = { t: 0, material: -1, nx: 0, ny: 0, nz: 0 };
  const surface: Surface = { albedo: [0, 0, 0], specular: 0, roughness: 1, emission: [0, 0, 0], normal: [0, 0, 0] };
  const sum = new Float64Array(scene.groups * 3);
  const lit = new Float64Array(scene.groups * 3);
  const inAir = scene.lamps.filter(({ unseen }) => !unseen);
  for (let y = y0; y < y1; y++) {
    for (let x = 0; x < width; x++) {
      const pixel = y * width + x;
      sum.fill(0);
      let reached = 0;
      for (let s = 0; s < samples; s++) {
        const seed = pixel * 64 + s;
        // A rotated lattice over the pixel, and a spiral over the pupil turned from pixel to pixel.
        const jx = (s + 0.5) / samples;
        const jy = (s * 0.618034 + random(pixel, 5)) % 1;
        const ray = rayOf(scene, x + jx, y + jy, width, height);
        const origin: Vec = [...scene.eye];
        if (pupil > 0) {
          const r = pupil * Math.sqrt((s + 0.5) / samples);
          const angle = s * 2.399963 + random(pixel, 9) * 6.2832;
          const [px, py] = [r * Math.cos(angle), r * Math.sin(angle)];
          origin[0] += px;
          origin[1] += py;
          ray[0] -= px / focus;
          ray[1] -= py / focus;
        }
        const length = Math.hypot(...ray);
        const d: Vec = [ray[0] / length, ray[1] / length, ray[2] / length];
        const reach = shadeRay(scene, origin, d, hit, surface, seed, sum, lit);
        reached += reach;
        if (s === samples >> 1) {
          depth[pixel] = reach / length;
          const at = pixel * SURFACE_FLOATS;
          for (let c = 0; c < 3; c++) {
            plane[at + c] = origin[c]! + d[c]! * reach;
            plane[at + 3 + c] = hit.material < 0 ? 0 : surface.normal[c]!;
            plane[at + 6 + c] = hit.material < 0 ? 0 : surface.albedo[c]!;
          }
          plane[at + 9] = hit.material < 0 ? 0 : surface.specular;
          plane[at + 10] = surface.roughness;
        }
      }
      // The air is smooth: one look along the middle of the pixel is enough.
      const ray = rayOf(scene, x + 0.5, y + 0.5, width, height);
      const length = Math.hypot(...ray);
      const d: Vec = [ray[0] / length, ray[1] / length, ray[2] / length];
      for (const lamp of inAir) {
        const glow = scene.haze * airlight(scene.eye, d, reached / samples, lamp.at) * samples;
        for (let c = 0; c < 3; c++) sum[lamp.group * 3 + c]! += glow * lamp.power[c]!;
      }
      for (let c = 0; c < sum.length; c++) light[pixel * sum.length + c] = sum[c]! / samples;
    }
  }
}

/** Adds light to a pixel of an RGBA picture. */
export function splat(
  picture: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  radius: number,
  colour: Vec,
  weight: number,
): void {
  const sigma = Math.max(radius, 0.45);
  const reach = Math.ceil(sigma * 2.6);
  const scale = weight / (2 * Math.PI * sigma * sigma);
  const cx = Math.floor(x);
  const cy = Math.floor(y);
  for (let j = Math.max(0, cy - reach); j <= Math.min(height - 1, cy + reach); j++) {
    for (let i = Math.max(0, cx - reach); i <= Math.min(width - 1, cx + reach); i++) {
      const d2 = ((i + 0.5 - x) ** 2 + (j + 0.5 - y) ** 2) / (sigma * sigma);
      const amount = scale * Math.exp(-d2 / 2);
      const at = (j * width + i) * 4;
      picture[at]! += colour[0] * amount;
      picture[at + 1]! += colour[1] * amount;
      picture[at + 2]! += colour[2] * amount;
    }
  }
}
