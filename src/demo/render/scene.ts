/** A scene of few analytic shapes, in metres: x right, y up, z away from the camera. Light is scene-linear, AP1. */
export type Vec = [number, number, number];

export interface Box { kind: "box"; low: Vec; high: Vec; material: number }
/** A vertical cylinder, or a cone where `tip` is another radius. */
export interface Column { kind: "column"; x: number; z: number; bottom: number; top: number; radius: number; tip: number; material: number; leafy?: boolean }
export type Shape = Box | Column;

export interface Lamp {
  at: Vec;
  /** Luminous intensity per channel: irradiance at one metre. */
  power: Vec;
  radius: number;
  /** Light groups can be re-weighted after tracing. */
  group: number;
  /** Lights surfaces but is not seen in the air: light through a window. */
  unseen?: true;
}

export interface Surface {
  albedo: Vec;
  /** Reflectance at normal incidence, and GGX roughness. */
  specular: number;
  roughness: number;
  emission: Vec;
  normal: Vec;
}

export interface Scene {
  eye: Vec;
  /** Downward pitch, radians. */
  pitch: number;
  /** Focal length over sensor width. */
  focal: number;
  shapes: Shape[];
  lamps: Lamp[];
  groups: number;
  ambient: Vec;
  /** Scattering coefficient of the air, 1/m, and how quickly distance swallows light. */
  haze: number;
  extinction: number;
  sky(direction: Vec): Vec;
  /** Fills in the surface at a point; `surface.normal` holds the geometric normal on entry. */
  shade(material: number, point: Vec, surface: Surface): void;
  /** Whether a leafy shape is solid at a point. */
  solid(point: Vec): boolean;
}

export interface Hit { t: number; material: number; nx: number; ny: number; nz: number }

const FAR = 1e4;

function hitBox({ low, high, material }: Box, o: Vec, d: Vec, hit: Hit): void {
  let near = 1e-4;
  let far = hit.t;
  let axis = -1;
  for (let i = 0; i < 3; i++) {
    const inverse = 1 / d[i]!;
    let a = (low[i]! - o[i]!) * inverse;
    let b = (high[i]! - o[i]!) * inverse;
    if (a > b) { const swap = a; a = b; b = swap; }
    if (a > near) { near = a; axis = i; }
    if (b < far) far = b;
    if (near > far) return;
  }
  if (axis < 0) return;
  hit.t = near;
  hit.material = material;
  hit.nx = axis === 0 ? -Math.sign(d[0]) : 0;
  hit.ny = axis === 1 ? -Math.sign(d[1]) : 0;
  hit.nz = axis === 2 ? -Math.sign(d[2]) : 0;
}

function hitColumn(c: Column, o: Vec, d: Vec, hit: Hit, solid: (p: Vec) => boolean): void {
  // Radius at height y is r0 + k (y - bottom).
  const k = (c.tip - c.radius) / (c.top - c.bottom);
  const ox = o[0] - c.x;
  const oz = o[2] - c.z;
  const r0 = c.radius + k * (o[1] - c.bottom);
  const slope = k * d[1];
  const qa = d[0] * d[0] + d[2] * d[2] - slope * slope;
  const qb = ox * d[0] + oz * d[2] - r0 * slope;
  const qc = ox * ox + oz * oz - r0 * r0;
  const root = qb * qb - qa * qc;
  if (root <= 0 || Math.abs(qa) < 1e-9) return;
  const s = Math.sqrt(root);
  for (let i = 0; i < (c.leafy ? 2 : 1); i++) {
    const t = ((i ? s : -s) - qb) / qa;
    if (t < 1e-3 || t >= hit.t) continue;
    const y = o[1] + d[1] * t;
    if (y < c.bottom || y > c.top) continue;
    const px = ox + d[0] * t;
    const pz = oz + d[2] * t;
    if (c.leafy) {
      probe[0] = px + c.x;
      probe[1] = y;
      probe[2] = pz + c.z;
      if (!solid(probe)) continue;
    }
    const length = Math.hypot(px, pz) || 1;
    const up = -k / Math.hypot(1, k);
    const side = Math.sqrt(1 - up * up);
    hit.t = t;
    hit.material = c.material;
    hit.nx = (px / length) * side;
    hit.ny = up;
    hit.nz = (pz / length) * side;
    return;
  }
}

const probe: Vec = [0, 0, 0];

/** The nearest shape along a ray, up to `reach` m. */
export function trace(scene: Scene, origin: Vec, direction: Vec, reach: number, hit: Hit): boolean {
  hit.t = Math.min(reach, FAR);
  hit.material = -1;
  const { shapes, solid } = scene;
  for (let i = 0; i < shapes.length; i++) {
    const shape = shapes[i]!;
    if (shape.kind === "box") hitBox(shape, origin, direction, hit);
    else hitColumn(shape, origin, direction, hit, solid);
  }
  return hit.material >= 0;
}

/** Whether anything but foliage, which lets light through, stands within `reach` m. */
export function blocked(scene: Scene, origin: Vec, direction: Vec, reach: number, hit: Hit): boolean {
  hit.t = reach;
  hit.material = -1;
  const { shapes, solid } = scene;
  for (let i = 0; i < shapes.length; i++) {
    const shape = shapes[i]!;
    if (shape.kind === "box") hitBox(shape, origin, direction, hit);
    else if (!shape.leafy) hitColumn(shape, origin, direction, hit, solid);
    if (hit.material >= 0) return true;
  }
  return false;
}

/** Direction of a pixel's ray (px from the frame's top left, fractions allowed); not normalised: z is 1 before pitch. */
export function rayOf(scene: Scene, x: number, y: number, width: number, height: number): Vec {
  const u = (x - width / 2) / (width * scene.focal);
  const v = -(y - height / 2) / (width * scene.focal);
  const c = Math.cos(scene.pitch);
  const s = Math.sin(scene.pitch);
  return [u, v * c - s, c + v * s];
}

/** Where a point falls on the frame, px, and its depth along the axis, m. */
export function project(scene: Scene, p: Vec, width: number, height: number): { x: number; y: number; depth: number } {
  const c = Math.cos(scene.pitch);
  const s = Math.sin(scene.pitch);
  const [dx, dy, dz] = [p[0] - scene.eye[0], p[1] - scene.eye[1], p[2] - scene.eye[2]];
  const depth = dz * c - dy * s;
  const up = dy * c + dz * s;
  return { x: width / 2 + (dx / depth) * width * scene.focal, y: height / 2 - (up / depth) * width * scene.focal, depth };
}
