import { blocked, type Hit, type Lamp, type Scene, type Surface, type Vec } from "./scene";

/**
 * Light scattered towards the eye by air of `haze` per metre along a ray of unit direction, from an isotropic point
 * lamp: the closed form of the integral of 1/r².
 */
export function airlight(origin: Vec, direction: Vec, reach: number, lamp: Vec): number {
  const lx = lamp[0] - origin[0];
  const ly = lamp[1] - origin[1];
  const lz = lamp[2] - origin[2];
  const along = lx * direction[0] + ly * direction[1] + lz * direction[2];
  const away = Math.sqrt(Math.max(lx * lx + ly * ly + lz * lz - along * along, 0.0025));
  return (Math.atan((reach - along) / away) + Math.atan(along / away)) / away;
}

const square = (x: number) => x * x;
const fifth = (x: number) => square(square(x)) * x;
const shadow: Hit = { t: 0, material: -1, nx: 0, ny: 0, nz: 0 };
const toward: Vec = [0, 0, 0];
const start: Vec = [0, 0, 0];

/**
 * Adds what a lamp at `at` gives a surface seen along `view` (unit, from the eye). GGX (Walter et al., 2007) over
 * Lambert.
 */
export function addLamp(
  scene: Scene,
  point: Vec,
  view: Vec,
  surface: Surface,
  at: Vec,
  power: Vec,
  weight: number,
  shadowed: boolean,
  out: Float64Array,
  offset: number,
): void {
  const lx = at[0] - point[0];
  const ly = at[1] - point[1];
  const lz = at[2] - point[2];
  const d2 = lx * lx + ly * ly + lz * lz;
  const d = Math.sqrt(d2);
  const [nx, ny, nz] = surface.normal;
  const cosine = (lx * nx + ly * ny + lz * nz) / d;
  if (cosine <= 0) return;
  const falloff = weight * (cosine / Math.max(d2, 0.01)) * Math.exp(-scene.extinction * d);
  if (falloff * power[1] < 2e-5) return;
  if (shadowed) {
    toward[0] = lx / d;
    toward[1] = ly / d;
    toward[2] = lz / d;
    start[0] = point[0] + nx * 0.01;
    start[1] = point[1] + ny * 0.01;
    start[2] = point[2] + nz * 0.01;
    if (blocked(scene, start, toward, d - 0.35, shadow)) return;
  }
  let gloss = 0;
  if (surface.specular > 0) {
    let hx = lx / d - view[0];
    let hy = ly / d - view[1];
    let hz = lz / d - view[2];
    const hl = Math.hypot(hx, hy, hz) || 1;
    hx /= hl;
    hy /= hl;
    hz /= hl;
    const nh = Math.max(0, nx * hx + ny * hy + nz * hz);
    const nv = Math.max(0.03, -(nx * view[0] + ny * view[1] + nz * view[2]));
    const vh = Math.max(0, -(view[0] * hx + view[1] * hy + view[2] * hz));
    const r2 = surface.roughness * surface.roughness;
    const a2 = r2 * r2;
    const distribution = a2 / (Math.PI * square(nh * nh * (a2 - 1) + 1));
    const fresnel = surface.specular + (1 - surface.specular) * fifth(1 - vh);
    const k = r2 / 2;
    const geometry = 1 / ((nv * (1 - k) + k) * (cosine * (1 - k) + k));
    gloss = Math.min((distribution * fresnel * geometry) / 4, 40);
  }
  for (let c = 0; c < 3; c++) out[offset + c]! += power[c]! * falloff * (surface.albedo[c]! / Math.PI + gloss);
}

/** Light at a point from a lamp, with the air's forward lobe: what a snowflake shows. `view`: unit, from the eye. */
export function flakeLight(point: Vec, view: Vec, lamp: Lamp): number {
  const lx = lamp.at[0] - point[0];
  const ly = lamp.at[1] - point[1];
  const lz = lamp.at[2] - point[2];
  const d2 = Math.max(lx * lx + ly * ly + lz * lz, 0.05);
  // Henyey-Greenstein, g = 0.5: snow scatters forwards.
  const cosine = (lx * view[0] + ly * view[1] + lz * view[2]) / Math.sqrt(d2);
  return 0.75 / (1.25 - cosine) ** 1.5 / d2 / 8;
}
