// Mattes of an area: shapes, keys on light and colour, ranges of depth, combined one after another.

import { add, mul, pow, splat, sub } from "./simd";

const UNION: i32 = 0;
const INTERSECTION: i32 = 1;

// @ts-ignore: decorator
@inline function quintic(t: f32): f32 {
  const u = min(max(t, 0), 1);
  return u * u * u * (u * (6 * u - 15) + 10);
}

/**
 * Joins a value with the matte so far. Words of every record: how (0 union, 1 intersection, 2 difference), whether
 * inverted, strength.
 */
// @ts-ignore: decorator
@inline function joined(before: f32, value: f32, how: i32, inverted: i32, strength: f32): f32 {
  let own = inverted ? <f32>1.0 - value : value;
  own *= strength;
  if (how == UNION) return max(before, own);
  if (how == INTERSECTION) return min(before, own);
  return min(before, <f32>1.0 - own);
}

/**
 * Superellipse: after the common words, centre x, y (px), 2x2 from px to its axes (1 at the inner line), power, outer
 * line on that scale.
 */
export function shapeMatte(matte: usize, width: i32, y: i32, p: usize): void {
  const how = load<i32>(p);
  const inverted = load<i32>(p, 4);
  const strength = load<f32>(p, 8);
  const cx = load<f32>(p, 16);
  const dy = <f32>y - load<f32>(p, 20);
  const a = load<f32>(p, 24);
  const b = load<f32>(p, 28);
  const c = load<f32>(p, 32);
  const d = load<f32>(p, 36);
  const power = load<f32>(p, 40);
  const reach = <f32>1.0 / max(load<f32>(p, 44) - 1, 1e-6);
  for (let x = 0; x < width; x++) {
    const dx = <f32>x - cx;
    const u = abs(dx * a + dy * b);
    const v = abs(dx * c + dy * d);
    let rho: f32;
    if (power == 2) rho = sqrt(u * u + v * v);
    else {
      const q = f32x4(u, v, 0, 0);
      const raised = pow(q, splat(power));
      rho = f32x4.extract_lane(
        pow(splat(f32x4.extract_lane(raised, 0) + f32x4.extract_lane(raised, 1)), splat(<f32>1.0 / power)),
        0,
      );
    }
    const value = <f32>1.0 - quintic((rho - 1) * reach);
    const at = matte + ((<usize>x) << 4);
    v128.store(at, splat(joined(load<f32>(at), value, how, inverted, strength)));
  }
}

/**
 * Polygon: after the common words, points, rounding of its corners (px), distance from the inner to the outer line
 * (px); then x, y of each point.
 */
export function polygonMatte(matte: usize, width: i32, y: i32, p: usize): void {
  const how = load<i32>(p);
  const inverted = load<i32>(p, 4);
  const count = load<i32>(p, 16);
  const strength = load<f32>(p, 8);
  const rounding = load<f32>(p, 20);
  const soft = max(load<f32>(p, 24), 0.5);
  const points = p + 32;
  const py = <f32>y;
  for (let x = 0; x < width; x++) {
    const px = <f32>x;
    let best: f32 = 1e18;
    let inside = false;
    for (let i = 0; i < count; i++) {
      const j = i == 0 ? count - 1 : i - 1;
      const ax = load<f32>(points + ((<usize>j) << 3));
      const ay = load<f32>(points + ((<usize>j) << 3), 4);
      const bx = load<f32>(points + ((<usize>i) << 3));
      const by = load<f32>(points + ((<usize>i) << 3), 4);
      const ex = bx - ax;
      const ey = by - ay;
      const wx = px - ax;
      const wy = py - ay;
      const t = min(max((wx * ex + wy * ey) / max(ex * ex + ey * ey, 1e-9), 0), 1);
      const qx = wx - ex * t;
      const qy = wy - ey * t;
      best = min(best, qx * qx + qy * qy);
      if (ay > py != by > py && px < ax + ((py - ay) / (by - ay)) * ex) inside = !inside;
    }
    const distance = <f32>(inside ? -1.0 : 1.0) * sqrt(best) - rounding;
    const at = matte + ((<usize>x) << 4);
    v128.store(at, splat(joined(load<f32>(at), <f32>1.0 - quintic(distance / soft), how, inverted, strength)));
  }
}

/**
 * Key on light or colour: after the common words, kind (0 luminance, 1 colour); vector of luminance weights; low and
 * high of what is taken and the softness beyond them (stops from mid-grey); the colour's two coordinates, its radius
 * and softness; black and white of the clean-up.
 */
export function keyMatte(matte: usize, picture: usize, width: i32, p: usize): void {
  const how = load<i32>(p);
  const inverted = load<i32>(p, 4);
  const kind = load<i32>(p, 16);
  const strength = load<f32>(p, 8);
  const wr = load<f32>(p, 32);
  const wg = load<f32>(p, 36);
  const wb = load<f32>(p, 40);
  const low = load<f32>(p, 48);
  const high = load<f32>(p, 52);
  const soft = max(load<f32>(p, 56), 1e-3);
  const cu = load<f32>(p, 64);
  const cv = load<f32>(p, 68);
  const radius = load<f32>(p, 72);
  const edge = max(load<f32>(p, 76), 1e-4);
  const black = load<f32>(p, 80);
  const range = <f32>1.0 / max(load<f32>(p, 84) - load<f32>(p, 80), 1e-4);
  for (let x = 0; x < width; x++) {
    const from = picture + ((<usize>x) << 4);
    const r = load<f32>(from);
    const g = load<f32>(from, 4);
    const b = load<f32>(from, 8);
    const light = max(r * wr + g * wg + b * wb, 1e-6);
    const stops = Mathf.log2(light / 0.18);
    let value: f32 = min(quintic((stops - low) / soft + 1), <f32>1.0 - quintic((stops - high) / soft));
    if (kind == 1) {
      const sum = max(r + g + b, 1e-6);
      const u = r / sum - cu;
      const v = b / sum - cv;
      value = min(value, <f32>1.0 - quintic((sqrt(u * u + v * v) - radius) / edge));
    }
    value = min(max((value - black) * range, 0), 1);
    const at = matte + ((<usize>x) << 4);
    v128.store(at, splat(joined(load<f32>(at), value, how, inverted, strength)));
  }
}

/**
 * Range of depth: after the common words, near and far (m), and the softness beyond them, as a share of the distance.
 */
export function depthMatte(matte: usize, depth: usize, width: i32, p: usize): void {
  const how = load<i32>(p);
  const inverted = load<i32>(p, 4);
  const strength = load<f32>(p, 8);
  const near = load<f32>(p, 16);
  const far = load<f32>(p, 20);
  const soft = max(load<f32>(p, 24), 1e-3);
  for (let x = 0; x < width; x++) {
    const z = load<f32>(depth + ((<usize>x) << 4));
    const value = min(
      quintic((z / max(near, 1e-3) - 1) / soft + 1),
      <f32>1.0 - quintic((z / max(far, 1e-3) - 1) / soft),
    );
    const at = matte + ((<usize>x) << 4);
    v128.store(at, splat(joined(load<f32>(at), value, how, inverted, strength)));
  }
}

/** A matte made by itself, in every lane of another frame, joined after the common words. */
export function joinMatte(matte: usize, other: usize, width: i32, p: usize): void {
  const how = load<i32>(p);
  const inverted = load<i32>(p, 4);
  const strength = load<f32>(p, 8);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16)
    v128.store(matte + o, splat(joined(load<f32>(matte + o), load<f32>(other + o), how, inverted, strength)));
}

/** The matte laid over the picture, tinted: word: amount. */
export function overlayRow(row: usize, picture: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p);
  const tint = f32x4(1.0, 0.55, 0.1, 0);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const m = mul(v128.load(row + o), amount);
    const v = v128.load(picture + o);
    v128.store(row + o, add(v, mul(sub(tint, v), m)));
  }
}
