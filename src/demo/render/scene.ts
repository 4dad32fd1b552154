/** A scene of few analytic shapes, in metres: x right, y up, z away from the camera. Light is scene-linear, AP1. */
export type Vec = [number, number, number];

export interface Box {
  kind: "box";
  low: Vec;
  high: Vec;
  material: number;
}
/** A vertical cylinder, or a cone where `tip` is another radius. */
export interface Column {
  kind: "column";
  x: number;
  z: number;
  bottom: number;
  top: number;
  radius: number;
  tip: number;
  material: number;
  leafy?: boolean;
}
/** Shapes inside a box of their own: a ray that misses the box misses them all. */
export interface Group {
  kind: "group";
  low: Vec;
  high: Vec;
  shapes: Shape[];
}
/**
 * A tunnel seen from inside: upright walls `half` apart from its axis, a round vault on them, from `near` to `far`
 * along z.
 */
export interface Vault {
  kind: "vault";
  x: number;
  spring: number;
  half: number;
  near: number;
  far: number;
  material: number;
}
export type Shape = Box | Column | Group | Vault;

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

export interface Hit {
  t: number;
  material: number;
  nx: number;
  ny: number;
  nz: number;
}

const FAR = 1e4;

function hitBox({ low, high, material }: Box, o: Vec, d: Vec, hit: Hit): void {
  let near = 1e-4;
  let far = hit.t;
  let axis = -1;
  for (let i = 0; i < 3; i++) {
    const inverse = 1 / d[i]!;
    let a = (low[i]! - o[i]!) * inverse;
    let b = (high[i]! - o[i]!) * inverse;
    if (a > b) {
      const swap = a;
      a = b;
      b = swap;
    }
    if (a > near) {
      near = a;
      axis = i;
    }
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

/** Whether a ray meets a box within `reach`. */
function meets(low: Vec, high: Vec, o: Vec, d: Vec, reach: number): boolean {
  let near = 0;
  let far = reach;
  for (let i = 0; i < 3; i++) {
    const inverse = 1 / d[i]!;
    const a = (low[i]! - o[i]!) * inverse;
    const b = (high[i]! - o[i]!) * inverse;
    near = Math.max(near, Math.min(a, b));
    far = Math.min(far, Math.max(a, b));
  }
  return near <= far;
}

function hitVault({ x, spring, half, near, far, material }: Vault, o: Vec, d: Vec, hit: Hit): void {
  const within = (t: number) => {
    const z = o[2] + d[2] * t;
    return t > 1e-3 && t < hit.t && z > near && z < far;
  };
  // The walls, up to where the vault springs; then the vault, from inside.
  const side = Math.sign(d[0]) || 1;
  const t = (x + side * half - o[0]) / d[0];
  if (within(t) && o[1] + d[1] * t <= spring) {
    hit.t = t;
    hit.material = material;
    [hit.nx, hit.ny, hit.nz] = [-side, 0, 0];
  }
  const [ox, oy] = [o[0] - x, o[1] - spring];
  const a = d[0] * d[0] + d[1] * d[1];
  const b = ox * d[0] + oy * d[1];
  const root = b * b - a * (ox * ox + oy * oy - half * half);
  if (root <= 0) return;
  const out = (Math.sqrt(root) - b) / a;
  const y = oy + d[1] * out;
  if (!within(out) || y < 0) return;
  hit.t = out;
  hit.material = material;
  [hit.nx, hit.ny, hit.nz] = [-(ox + d[0] * out) / half, -y / half, 0];
}

function hitShapes(shapes: Shape[], o: Vec, d: Vec, hit: Hit, solid: (p: Vec) => boolean): void {
  for (let i = 0; i < shapes.length; i++) {
    const shape = shapes[i]!;
    if (shape.kind === "box") hitBox(shape, o, d, hit);
    else if (shape.kind === "column") hitColumn(shape, o, d, hit, solid);
    else if (shape.kind === "vault") hitVault(shape, o, d, hit);
    else if (meets(shape.low, shape.high, o, d, hit.t)) hitShapes(shape.shapes, o, d, hit, solid);
  }
}

/** Stops at the first shape but foliage. */
function anyHit(shapes: Shape[], o: Vec, d: Vec, hit: Hit, solid: (p: Vec) => boolean): boolean {
  for (let i = 0; i < shapes.length; i++) {
    const shape = shapes[i]!;
    if (shape.kind === "box") hitBox(shape, o, d, hit);
    else if (shape.kind === "vault") hitVault(shape, o, d, hit);
    else if (shape.kind === "group") {
      if (meets(shape.low, shape.high, o, d, hit.t) && anyHit(shape.shapes, o, d, hit, solid)) return true;
    } else if (!shape.leafy) hitColumn(shape, o, d, hit, solid);
    if (hit.material >= 0) return true;
  }
  return false;
}

/** The nearest shape along a ray, up to `reach` m. */
export function trace(scene: Scene, origin: Vec, direction: Vec, reach: number, hit: Hit): boolean {
  hit.t = Math.min(reach, FAR);
  hit.material = -1;
  hitShapes(scene.shapes, origin, direction, hit, scene.solid);
  return hit.material >= 0;
}

/** Whether anything but foliage, which lets light through, stands within `reach` m. */
export function blocked(scene: Scene, origin: Vec, direction: Vec, reach: number, hit: Hit): boolean {
  hit.t = reach;
  hit.material = -1;
  return anyHit(scene.shapes, origin, direction, hit, scene.solid);
}

/**
 * Direction of a pixel's ray (px from the frame's top left, fractions allowed); not normalised: z is 1 before pitch.
 */
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
  return {
    x: width / 2 + (dx / depth) * width * scene.focal,
    y: height / 2 - (up / depth) * width * scene.focal,
    depth,
  };
}
