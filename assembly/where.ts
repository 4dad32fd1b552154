// Mattes of an area: shapes, keys on light and colour, ranges of depth, combined one after another.

import { add, mul, pow, splat, sub } from "./simd";
import {
  COMBINE_INTERSECTION,
  COMBINE_UNION,
  DEPTH_MATTE_COMBINE,
  DEPTH_MATTE_FAR,
  DEPTH_MATTE_INVERTED,
  DEPTH_MATTE_NEAR,
  DEPTH_MATTE_SOFT,
  DEPTH_MATTE_STRENGTH,
  JOIN_MATTE_COMBINE,
  JOIN_MATTE_INVERTED,
  JOIN_MATTE_STRENGTH,
  KEY_MATTE_BLACK,
  KEY_MATTE_BLUE_SHARE,
  KEY_MATTE_COLOURED,
  KEY_MATTE_COLOUR_SOFT,
  KEY_MATTE_COMBINE,
  KEY_MATTE_HIGH,
  KEY_MATTE_INVERTED,
  KEY_MATTE_LOW,
  KEY_MATTE_LUMINANCE,
  KEY_MATTE_RED_SHARE,
  KEY_MATTE_SOFT,
  KEY_MATTE_STRENGTH,
  KEY_MATTE_WHITE,
  KEY_MATTE_WIDTH,
  OVERLAY_AMOUNT,
  POLYGON_MATTE_COMBINE,
  POLYGON_MATTE_COUNT,
  POLYGON_MATTE_INVERTED,
  POLYGON_MATTE_POINTS,
  POLYGON_MATTE_ROUNDING,
  POLYGON_MATTE_SOFT,
  POLYGON_MATTE_STRENGTH,
  SHAPE_MATTE_ACROSS_X,
  SHAPE_MATTE_ACROSS_Y,
  SHAPE_MATTE_CENTRE_X,
  SHAPE_MATTE_CENTRE_Y,
  SHAPE_MATTE_COMBINE,
  SHAPE_MATTE_DOWN_X,
  SHAPE_MATTE_DOWN_Y,
  SHAPE_MATTE_INVERTED,
  SHAPE_MATTE_OUTER,
  SHAPE_MATTE_POWER,
  SHAPE_MATTE_STRENGTH,
  MID_GREY,
} from "./records";

// @ts-ignore: decorator
@inline function quintic(t: f32): f32 {
  const u = min(max(t, 0), 1);
  return u * u * u * (u * (6 * u - 15) + 10);
}

/** Joins a value with the matte so far. */
// @ts-ignore: decorator
@inline function joined(before: f32, value: f32, how: i32, inverted: i32, strength: f32): f32 {
  let own = inverted ? <f32>1.0 - value : value;
  own *= strength;
  if (how == COMBINE_UNION) return max(before, own);
  if (how == COMBINE_INTERSECTION) return min(before, own);
  return min(before, <f32>1.0 - own);
}

/** A superellipse, from its inner line to its outer one. */
export function shapeMatte(matte: usize, width: i32, y: i32, p: usize): void {
  const how = load<i32>(p, SHAPE_MATTE_COMBINE);
  const inverted = load<i32>(p, SHAPE_MATTE_INVERTED);
  const strength = load<f32>(p, SHAPE_MATTE_STRENGTH);
  const cx = load<f32>(p, SHAPE_MATTE_CENTRE_X);
  const dy = <f32>y - load<f32>(p, SHAPE_MATTE_CENTRE_Y);
  const a = load<f32>(p, SHAPE_MATTE_ACROSS_X);
  const b = load<f32>(p, SHAPE_MATTE_ACROSS_Y);
  const c = load<f32>(p, SHAPE_MATTE_DOWN_X);
  const d = load<f32>(p, SHAPE_MATTE_DOWN_Y);
  const power = load<f32>(p, SHAPE_MATTE_POWER);
  const reach = <f32>1.0 / max(load<f32>(p, SHAPE_MATTE_OUTER) - 1, 1e-6);
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

/** A polygon with rounded corners, from its line outward. */
export function polygonMatte(matte: usize, width: i32, y: i32, p: usize): void {
  const how = load<i32>(p, POLYGON_MATTE_COMBINE);
  const inverted = load<i32>(p, POLYGON_MATTE_INVERTED);
  const count = load<i32>(p, POLYGON_MATTE_COUNT);
  const strength = load<f32>(p, POLYGON_MATTE_STRENGTH);
  const rounding = load<f32>(p, POLYGON_MATTE_ROUNDING);
  const soft = max(load<f32>(p, POLYGON_MATTE_SOFT), 0.5);
  const points = p + <usize>load<i32>(p, POLYGON_MATTE_POINTS);
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

/** A key on light or colour: light of some stops and, where it is asked for, of some colour. */
export function keyMatte(matte: usize, picture: usize, width: i32, p: usize): void {
  const how = load<i32>(p, KEY_MATTE_COMBINE);
  const inverted = load<i32>(p, KEY_MATTE_INVERTED);
  const coloured = load<i32>(p, KEY_MATTE_COLOURED);
  const strength = load<f32>(p, KEY_MATTE_STRENGTH);
  const wr = load<f32>(p, KEY_MATTE_LUMINANCE);
  const wg = load<f32>(p + 4, KEY_MATTE_LUMINANCE);
  const wb = load<f32>(p + 8, KEY_MATTE_LUMINANCE);
  const low = load<f32>(p, KEY_MATTE_LOW);
  const high = load<f32>(p, KEY_MATTE_HIGH);
  const soft = max(load<f32>(p, KEY_MATTE_SOFT), 1e-3);
  const cu = load<f32>(p, KEY_MATTE_RED_SHARE);
  const cv = load<f32>(p, KEY_MATTE_BLUE_SHARE);
  const radius = load<f32>(p, KEY_MATTE_WIDTH);
  const edge = max(load<f32>(p, KEY_MATTE_COLOUR_SOFT), 1e-4);
  const black = load<f32>(p, KEY_MATTE_BLACK);
  const range = <f32>1.0 / max(load<f32>(p, KEY_MATTE_WHITE) - load<f32>(p, KEY_MATTE_BLACK), 1e-4);
  for (let x = 0; x < width; x++) {
    const from = picture + ((<usize>x) << 4);
    const r = load<f32>(from);
    const g = load<f32>(from, 4);
    const b = load<f32>(from, 8);
    const light = max(r * wr + g * wg + b * wb, 1e-6);
    const stops = Mathf.log2(light / MID_GREY);
    let value: f32 = min(quintic((stops - low) / soft + 1), <f32>1.0 - quintic((stops - high) / soft));
    if (coloured) {
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

/** A range of depth. */
export function depthMatte(matte: usize, depth: usize, width: i32, p: usize): void {
  const how = load<i32>(p, DEPTH_MATTE_COMBINE);
  const inverted = load<i32>(p, DEPTH_MATTE_INVERTED);
  const strength = load<f32>(p, DEPTH_MATTE_STRENGTH);
  const near = load<f32>(p, DEPTH_MATTE_NEAR);
  const far = load<f32>(p, DEPTH_MATTE_FAR);
  const soft = max(load<f32>(p, DEPTH_MATTE_SOFT), 1e-3);
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

/** A matte made by itself, in every lane of another frame, joined. */
export function joinMatte(matte: usize, other: usize, width: i32, p: usize): void {
  const how = load<i32>(p, JOIN_MATTE_COMBINE);
  const inverted = load<i32>(p, JOIN_MATTE_INVERTED);
  const strength = load<f32>(p, JOIN_MATTE_STRENGTH);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16)
    v128.store(matte + o, splat(joined(load<f32>(matte + o), load<f32>(other + o), how, inverted, strength)));
}

/** The matte laid over the picture, tinted. */
export function overlayRow(row: usize, picture: usize, width: i32, p: usize): void {
  const amount = v128.load32_splat(p, OVERLAY_AMOUNT);
  const tint = f32x4(1.0, 0.55, 0.1, 0);
  for (let o: usize = 0; o < (<usize>width) << 4; o += 16) {
    const m = mul(v128.load(row + o), amount);
    const v = v128.load(picture + o);
    v128.store(row + o, add(v, mul(sub(tint, v), m)));
  }
}
