// Geometry: a coarse map of where each output pixel's light comes from, per channel, and the one resampling that uses it;
// and the change of size by area.

import { add, mirror, mul, splat, sub, withAlpha } from "./simd";

/**
 * Fills a map of source positions (px) at nodes `spacing` px apart. Each node holds two vectors: x for R, G, B, then y.
 * The map's record, in doubles: focal length (mm), pitch x, pitch y (mm/px), axis x, axis y (px), the distortion's coefficients
 * (x20, x02, x40, x22, x04, y20, y02, y40, y22, y04, k3, p1, p2; strength in them), largest invertible radius (in focal
 * lengths), zoom, heights per mm of the lateral table, its last entry. `lateral`: pairs of floats (red, blue), displacement in
 * mm by image height.
 */
export function geometryMap(
  map: usize, columns: i32, spacing: i32, record: usize, lateral: usize, scratch: usize, j0: i32, j1: i32,
): void {
  const focal = load<f64>(record), pitchX = load<f64>(record, 8), pitchY = load<f64>(record, 16);
  const axisX = load<f64>(record, 24), axisY = load<f64>(record, 32);
  const x20 = load<f64>(record, 40), x02 = load<f64>(record, 48), x40 = load<f64>(record, 56), x22 = load<f64>(record, 64), x04 = load<f64>(record, 72);
  const y20 = load<f64>(record, 80), y02 = load<f64>(record, 88), y40 = load<f64>(record, 96), y22 = load<f64>(record, 104), y04 = load<f64>(record, 112);
  const k3 = load<f64>(record, 120), p1 = load<f64>(record, 128), p2 = load<f64>(record, 136);
  const rMax = load<f64>(record, 144), zoom = load<f64>(record, 152);
  const perMm = load<f64>(record, 160), last = load<f64>(record, 168);
  for (let j = j0; j < j1; j++) {
    for (let i = 0; i < columns; i++) {
      const outX = (<f64>(i * spacing) - axisX) * pitchX * zoom;
      const outY = (<f64>(j * spacing) - axisY) * pitchY * zoom;
      const node = map + (<usize>(j * columns + i) << 5);
      for (let c = 0; c < 3; c++) {
        let px = outX, py = outY;
        if (c != 1) {
          // The channel's light lands displaced by delta(h); undo it where it came from (two fixed-point steps).
          const h = sqrt(px * px + py * py);
          let source = h;
          for (let step = 0; step < 3; step++) {
            const place = min(source * perMm, last);
            const cell = min(floor(place), last - 1);
            const entry = lateral + (<usize><i32>cell << 3) + (c == 2 ? 4 : 0);
            const here = <f64>load<f32>(entry);
            source = h - (here + (<f64>load<f32>(entry, 8) - here) * (place - cell));
          }
          const ratio = h > 1e-9 ? source / h : 1;
          px *= ratio;
          py *= ratio;
        }
        // Newton's method on distorted(u, v) = p, coordinates in focal lengths.
        const tx = px / focal, ty = py / focal;
        let u = tx, v = ty;
        for (let step = 0; step < 8; step++) {
          const u2 = u * u, v2 = v * v, r2 = u2 + v2;
          const sixth = k3 * r2 * r2 * r2, sixthSlope = 6 * k3 * r2 * r2;
          const alongX = 1 + u2 * (x20 + x40 * u2 + x22 * v2) + v2 * (x02 + x04 * v2) + sixth;
          const alongY = 1 + u2 * (y20 + y40 * u2 + y22 * v2) + v2 * (y02 + y04 * v2) + sixth;
          const ex = u * alongX + 2 * p1 * u * v + p2 * (r2 + 2 * u2) - tx;
          const ey = v * alongY + p1 * (r2 + 2 * v2) + 2 * p2 * u * v - ty;
          const tangential = 2 * p1 * u + 2 * p2 * v;
          const a = alongX + u2 * (2 * x20 + 4 * x40 * u2 + 2 * x22 * v2 + sixthSlope) + 2 * p1 * v + 6 * p2 * u;
          const b = u * v * (2 * x02 + 2 * x22 * u2 + 4 * x04 * v2 + sixthSlope) + tangential;
          const d = u * v * (2 * y20 + 4 * y40 * u2 + 2 * y22 * v2 + sixthSlope) + tangential;
          const e = alongY + v2 * (2 * y02 + 2 * y22 * u2 + 4 * y04 * v2 + sixthSlope) + 6 * p1 * v + 2 * p2 * u;
          const det = a * e - b * d;
          const du = (e * ex - b * ey) / det;
          const dv = (a * ey - d * ex) / det;
          u -= du;
          v -= dv;
          const r = sqrt(u * u + v * v);
          if (!(r <= rMax)) {
            // Past the place where the lens folds the picture over: hold at that radius, in the direction looked in.
            const t = sqrt(tx * tx + ty * ty);
            u = (tx / t) * rMax;
            v = (ty / t) * rMax;
          } else if (abs(du) + abs(dv) < 1e-10) break; // a millionth of a pixel
        }
        store<f32>(node + (<usize>c << 2), <f32>((u * focal) / pitchX + axisX));
        store<f32>(node + (<usize>c << 2), <f32>((v * focal) / pitchY + axisY), 16);
      }
      store<f32>(node, load<f32>(node, 4), 12);
      store<f32>(node, load<f32>(node, 20), 28);
    }
  }
}

/** Catmull-Rom weight at distance |d|, four lanes. */
// @ts-ignore: decorator
@inline function cubic(distance: v128): v128 {
  const d = f32x4.abs(distance);
  const near = add(splat(1), mul(mul(d, d), sub(mul(splat(1.5), d), splat(2.5))));
  const far = add(splat(2), mul(d, add(splat(-4), mul(d, sub(splat(2.5), mul(splat(0.5), d))))));
  const inside = v128.bitselect(near, far, f32x4.lt(d, splat(1)));
  return v128.and(inside, f32x4.lt(d, splat(2)));
}

/**
 * The general fetch, any place and any shrinkage (`scaleX`, `scaleY` >= 1 source px an output px): the cubic is widened where
 * the picture shrinks, so that nothing aliases, and the surround is mirrored or black.
 */
function fetchWide(src: usize, width: i32, height: i32, px: v128, py: v128, scaleX: f32, scaleY: f32, black: i32): v128 {
  const minX = min(min(f32x4.extract_lane(px, 0), f32x4.extract_lane(px, 1)), f32x4.extract_lane(px, 2));
  const maxX = max(max(f32x4.extract_lane(px, 0), f32x4.extract_lane(px, 1)), f32x4.extract_lane(px, 2));
  const minY = min(min(f32x4.extract_lane(py, 0), f32x4.extract_lane(py, 1)), f32x4.extract_lane(py, 2));
  const maxY = max(max(f32x4.extract_lane(py, 0), f32x4.extract_lane(py, 1)), f32x4.extract_lane(py, 2));
  const x0 = <i32>ceil(minX - 2 * scaleX), x1 = <i32>floor(maxX + 2 * scaleX);
  const y0 = <i32>ceil(minY - 2 * scaleY), y1 = <i32>floor(maxY + 2 * scaleY);
  const inverseX = splat(1 / scaleX), inverseY = splat(1 / scaleY);
  let sum = splat(0), weightX = splat(0), weightY = splat(0);
  let floorLight = splat(Infinity);
  const nearX = splat(scaleX), nearY = splat(scaleY);
  for (let x = x0; x <= x1; x++) weightX = add(weightX, cubic(mul(sub(splat(<f32>x), px), inverseX)));
  for (let y = y0; y <= y1; y++) {
    const dy = sub(splat(<f32>y), py);
    const wy = cubic(mul(dy, inverseY));
    weightY = add(weightY, wy);
    if (black && (y < 0 || y >= height)) {
      floorLight = splat(0);
      continue;
    }
    const row = src + (<usize>(mirror(y, height) * width) << 4);
    let line = splat(0);
    const closeY = f32x4.lt(f32x4.abs(dy), nearY);
    for (let x = x0; x <= x1; x++) {
      if (black && (x < 0 || x >= width)) {
        floorLight = splat(0);
        continue;
      }
      const v = v128.load(row + (<usize>mirror(x, width) << 4));
      const dx = sub(splat(<f32>x), px);
      line = add(line, mul(v, cubic(mul(dx, inverseX))));
      const close = v128.and(closeY, f32x4.lt(f32x4.abs(dx), nearX));
      floorLight = f32x4.pmin(floorLight, v128.bitselect(v, splat(Infinity), close));
    }
    sum = add(sum, mul(line, wy));
  }
  return limitUndershoot(f32x4.div(sum, mul(weightX, weightY)), floorLight);
}

/**
 * A cubic's negative lobe beside a lamp three hundred times brighter than what is around it would dig a black ring. The
 * result is held to three quarters of the darkest of the nearest samples; ordinary texture never reaches that.
 */
// @ts-ignore: decorator
@inline function limitUndershoot(value: v128, darkest: v128): v128 {
  return f32x4.pmax(value, f32x4.pmin(darkest, mul(darkest, splat(0.75))));
}

// Catmull-Rom weights of the four neighbours at an offset t in [0, 1), four lanes.
// @ts-ignore: decorator
@inline function weight0(t: v128): v128 { return mul(mul(t, splat(0.5)), sub(mul(t, sub(splat(2), t)), splat(1))); }
// @ts-ignore: decorator
@inline function weight1(t: v128): v128 { return add(splat(1), mul(mul(t, t), sub(mul(splat(1.5), t), splat(2.5)))); }
// @ts-ignore: decorator
@inline function weight2(t: v128): v128 { return mul(mul(t, splat(0.5)), add(splat(1), mul(t, sub(splat(4), mul(splat(3), t))))); }
// @ts-ignore: decorator
@inline function weight3(t: v128): v128 { return mul(mul(mul(t, t), splat(0.5)), sub(t, splat(1))); }

/** The least of the first three lanes, in all of them. */
// @ts-ignore: decorator
@inline function least(v: v128): v128 {
  return f32x4.pmin(f32x4.pmin(v128.shuffle<f32>(v, v, 0, 0, 0, 0), v128.shuffle<f32>(v, v, 1, 1, 1, 1)), v128.shuffle<f32>(v, v, 2, 2, 2, 2));
}

/** All channels at one place: four by four taps. `p` is the pixel up and left of the place. */
// @ts-ignore: decorator
@inline function fetchTogether(p: usize, stride: usize, tx: v128, ty: v128): v128 {
  const a0 = weight0(tx), a1 = weight1(tx), a2 = weight2(tx), a3 = weight3(tx);
  const below = p + stride;
  const m11 = v128.load(p), m12 = v128.load(p, 16), m21 = v128.load(below), m22 = v128.load(below, 16);
  const line1 = add(add(mul(v128.load(p - 16), a0), mul(m11, a1)), add(mul(m12, a2), mul(v128.load(p, 32), a3)));
  const line2 = add(add(mul(v128.load(below - 16), a0), mul(m21, a1)), add(mul(m22, a2), mul(v128.load(below, 32), a3)));
  const outer = add(mul(line4(p - stride, a0, a1, a2, a3), weight0(ty)), mul(line4(below + stride, a0, a1, a2, a3), weight3(ty)));
  const sum = add(outer, add(mul(line1, weight1(ty)), mul(line2, weight2(ty))));
  return limitUndershoot(sum, f32x4.pmin(f32x4.pmin(m11, m12), f32x4.pmin(m21, m22)));
}

/** Channels less than a pixel apart: five by five taps, each lane's four weights set at its own offset. */
// @ts-ignore: decorator
@inline function fetchNear(p1: usize, stride: usize, tx: v128, ty: v128, mx: v128, my: v128): v128 {
  const a0 = weight0(tx), a1 = weight1(tx), a2 = weight2(tx), a3 = weight3(tx);
  const w0 = v128.andnot(a0, mx), w1 = v128.bitselect(a0, a1, mx), w2 = v128.bitselect(a1, a2, mx);
  const w3 = v128.bitselect(a2, a3, mx), w4 = v128.and(a3, mx);
  const b0 = weight0(ty), b1 = weight1(ty), b2 = weight2(ty), b3 = weight3(ty);
  const p2 = p1 + stride, p3 = p2 + stride;
  let sum = mul(line5(p1 - stride, w0, w1, w2, w3, w4), v128.andnot(b0, my));
  sum = add(sum, mul(line5(p1, w0, w1, w2, w3, w4), v128.bitselect(b0, b1, my)));
  sum = add(sum, mul(line5(p2, w0, w1, w2, w3, w4), v128.bitselect(b1, b2, my)));
  sum = add(sum, mul(line5(p3, w0, w1, w2, w3, w4), v128.bitselect(b2, b3, my)));
  sum = add(sum, mul(line5(p3 + stride, w0, w1, w2, w3, w4), v128.and(b3, my)));
  const darkest = f32x4.pmin(pair(p2, mx), v128.bitselect(pair(p3, mx), pair(p1, mx), my));
  return limitUndershoot(sum, darkest);
}

/** The picture's channels as planes of their own, one after another: for channels that are fetched far apart. */
export function split(src: usize, planes: usize, width: i32, height: i32, scratch: usize, y0: i32, y1: i32): void {
  const plane = <usize>(width * height) << 2;
  for (let y = y0; y < y1; y++) {
    let at = src + (<usize>(y * width) << 4);
    let to = planes + (<usize>(y * width) << 2);
    let x = 0;
    for (; x + 4 <= width; x += 4, at += 64, to += 16) {
      const a = v128.load(at), b = v128.load(at, 16), c = v128.load(at, 32), d = v128.load(at, 48);
      const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
      v128.store(to, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
      v128.store(to + plane, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
      v128.store(to + 2 * plane, v128.shuffle<f32>(v128.shuffle<f32>(a, b, 2, 6, 2, 6), v128.shuffle<f32>(c, d, 2, 6, 2, 6), 0, 1, 4, 5));
    }
    for (; x < width; x++, at += 16, to += 4) {
      store<f32>(to, load<f32>(at));
      store<f32>(to + plane, load<f32>(at, 4));
      store<f32>(to + 2 * plane, load<f32>(at, 8));
    }
  }
}

/** Catmull-Rom weights of the four neighbours, one a lane. */
// @ts-ignore: decorator
@inline function weights(t: v128): v128 {
  let w = add(f32x4(1, -2.5, 2, -0.5), mul(t, f32x4(-0.5, 1.5, -1.5, 0.5)));
  w = add(f32x4(-0.5, 0, 0.5, 0), mul(t, w));
  return add(f32x4(0, 1, 0, 0), mul(t, w));
}

/** Four taps along x of a plane, each weighed, rows summed. `p` is the sample up and left of the four in the middle. */
// @ts-ignore: decorator
@inline function lines(p: usize, pitch: usize, wx: v128, wy: v128): v128 {
  const upper = add(mul(v128.load(p), v128.shuffle<f32>(wy, wy, 0, 0, 0, 0)), mul(v128.load(p + pitch), v128.shuffle<f32>(wy, wy, 1, 1, 1, 1)));
  const lower = add(mul(v128.load(p + 2 * pitch), v128.shuffle<f32>(wy, wy, 2, 2, 2, 2)), mul(v128.load(p + 3 * pitch), v128.shuffle<f32>(wy, wy, 3, 3, 3, 3)));
  return mul(add(upper, lower), wx);
}

/** Channels at places of their own, each from its plane. */
// @ts-ignore: decorator
@inline function fetchApart(planes: usize, width: i32, height: i32, floorX: v128, floorY: v128, tx: v128, ty: v128): v128 {
  const pitch = <usize>width << 2, plane = <usize>height * pitch;
  const at = i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(floorY), i32x4.splat(width)), i32x4.trunc_sat_f32x4_s(floorX));
  const before = pitch + 4; // a row up and a sample left
  const red = planes + (<usize>i32x4.extract_lane(at, 0) << 2) - before;
  const green = planes + plane + (<usize>i32x4.extract_lane(at, 1) << 2) - before;
  const blue = planes + 2 * plane + (<usize>i32x4.extract_lane(at, 2) << 2) - before;
  const r = lines(red, pitch, weights(lane0(tx)), weights(lane0(ty)));
  const g = lines(green, pitch, weights(lane1(tx)), weights(lane1(ty)));
  const b = lines(blue, pitch, weights(lane2(tx)), weights(lane2(ty)));
  const rg = add(v128.shuffle<f32>(r, g, 0, 4, 1, 5), v128.shuffle<f32>(r, g, 2, 6, 3, 7));
  const bb = add(v128.shuffle<f32>(b, b, 0, 0, 1, 1), v128.shuffle<f32>(b, b, 2, 2, 3, 3));
  const sum = add(v128.shuffle<f32>(rg, bb, 0, 1, 4, 5), v128.shuffle<f32>(rg, bb, 2, 3, 6, 7));
  const mr = f32x4.pmin(v128.load(red + pitch), v128.load(red + 2 * pitch));
  const mg = f32x4.pmin(v128.load(green + pitch), v128.load(green + 2 * pitch));
  const mb = f32x4.pmin(v128.load(blue + pitch), v128.load(blue + 2 * pitch));
  const left = v128.shuffle<f32>(v128.shuffle<f32>(mr, mg, 1, 5, 1, 5), mb, 0, 1, 5, 5), right = v128.shuffle<f32>(v128.shuffle<f32>(mr, mg, 2, 6, 2, 6), mb, 0, 1, 6, 6);
  return limitUndershoot(sum, f32x4.pmin(left, right));
}

/** All channels, each at a place of its own, inside the frame. */
// @ts-ignore: decorator
@inline function fetchInner(src: usize, planes: usize, width: i32, height: i32, stride: usize, px: v128, py: v128): v128 {
  const floorX = f32x4.floor(px), floorY = f32x4.floor(py);
  const baseX = least(floorX), baseY = least(floorY);
  const offX = sub(floorX, baseX), offY = sub(floorY, baseY);
  const tx = sub(px, floorX), ty = sub(py, floorY);
  const p = src + (<usize>(<i32>f32x4.extract_lane(baseY, 0) * width + <i32>f32x4.extract_lane(baseX, 0)) << 4);
  const apart = v128.or(offX, offY);
  if (!v128.any_true(apart)) return withAlpha(fetchTogether(p, stride, tx, ty), v128.load(p));
  if (!v128.any_true(f32x4.gt(f32x4.pmax(offX, offY), splat(1)))) {
    const mx = f32x4.gt(offX, splat(0)), my = f32x4.gt(offY, splat(0));
    return withAlpha(fetchNear(p, stride, tx, ty, mx, my), v128.load(p));
  }
  return withAlpha(fetchApart(planes, width, height, floorX, floorY, tx, ty), v128.load(p));
}

/** A place outside the frame or shrunk: alpha comes from the nearest pixel. */
function fetchOuter(src: usize, width: i32, height: i32, px: v128, py: v128, sx: f32, sy: f32, black: i32): v128 {
  const x = <i32>floor(f32x4.extract_lane(px, 1)), y = <i32>floor(f32x4.extract_lane(py, 1));
  const alpha = v128.load(src + (<usize>(mirror(y, height) * width + mirror(x, width)) << 4));
  return withAlpha(fetchWide(src, width, height, px, py, sx, sy, black), alpha);
}

/** Fringes (red to blue, px) narrower than the first are the three channels alone; from the second on the whole spectrum is sampled. */
const FRINGE_BEGINS: f32 = 2;
const FRINGE_FULL: f32 = 4;

/** Red, green and blue on the spectrum: +1, 0, -1. */
// @ts-ignore: decorator
@inline function middles(): v128 { return f32x4(1, 0, -1, 0); }

/**
 * One pixel with each channel's part of the spectrum spread along the parabola through the three channels' places. `spectrum`:
 * count of taps, their variance, then offset and weight of each; the channels' centroids stay as far apart as their places.
 */
function fetchSpectrum(src: usize, planes: usize, width: i32, height: i32, px: v128, py: v128, sx: f32, sy: f32, black: i32, inner: bool, spectrum: usize): v128 {
  const rx = f32x4.extract_lane(px, 0), gx = f32x4.extract_lane(px, 1), bx = f32x4.extract_lane(px, 2);
  const ry = f32x4.extract_lane(py, 0), gy = f32x4.extract_lane(py, 1), by = f32x4.extract_lane(py, 2);
  const share = min(max((fringe(px, py) - FRINGE_BEGINS) / (FRINGE_FULL - FRINGE_BEGINS), 0), 1);
  const curveX = splat((rx + bx) * 0.5 - gx), curveY = splat((ry + by) * 0.5 - gy);
  const slopeX = splat((rx - bx) * 0.5), slopeY = splat((ry - by) * 0.5);
  const variance = splat(load<f32>(spectrum, 4) * share * share);
  const stride = <usize>width << 4;
  const taps = <i32>load<f32>(spectrum);
  let sum = splat(0), light = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = spectrum + 8 + (<usize>k << 3);
    const u = add(middles(), splat(load<f32>(tap) * share));
    const bend = sub(mul(u, u), variance);
    const x = add(splat(gx), add(mul(curveX, bend), mul(slopeX, u)));
    const y = add(splat(gy), add(mul(curveY, bend), mul(slopeY, u)));
    light = inner ? fetchInner(src, planes, width, height, stride, x, y) : fetchOuter(src, width, height, x, y, sx, sy, black);
    sum = add(sum, mul(light, splat(load<f32>(tap, 4))));
  }
  return withAlpha(sum, light);
}

/**
 * One resampling of all channels through the map. Bicubic (Catmull-Rom), each channel at its own place, or, where fringes are
 * wide, at several along the `spectrum`. `planes`: src as `split` leaves it. `outWidth`: width of dst; width and height are src's.
 */
export function warp(
  src: usize, planes: usize, dst: usize, width: i32, height: i32, outWidth: i32, map: usize, columns: i32, spacing: i32, black: i32, spectrum: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const stride = <usize>width << 4;
  const unit = splat(1 / <f32>spacing);
  const spectral = load<f32>(spectrum) > 1;
  for (let y = y0; y < y1; y++) {
    const j = y / spacing;
    const fy = splat(<f32>(y - j * spacing) / <f32>spacing);
    const upper = map + (<usize>(j * columns) << 5);
    const lower = upper + (<usize>columns << 5);
    const to = dst + <usize>y * (<usize>outWidth << 4);
    for (let i = 0; i * spacing < outWidth; i++) {
      const a = upper + (<usize>i << 5), b = lower + (<usize>i << 5);
      const x0 = add(v128.load(a), mul(sub(v128.load(b), v128.load(a)), fy));
      const v0 = add(v128.load(a, 16), mul(sub(v128.load(b, 16), v128.load(a, 16)), fy));
      const x1 = add(v128.load(a, 32), mul(sub(v128.load(b, 32), v128.load(a, 32)), fy));
      const v1 = add(v128.load(a, 48), mul(sub(v128.load(b, 48), v128.load(a, 48)), fy));
      const stepX = mul(sub(x1, x0), unit), stepY = mul(sub(v1, v0), unit);
      const growX = abs(f32x4.extract_lane(stepX, 1));
      const growY = abs(f32x4.extract_lane(v128.load(b, 16), 1) - f32x4.extract_lane(v128.load(a, 16), 1)) / <f32>spacing;
      const shrinks = growX > SHRINKS || growY > SHRINKS;
      // How far apart red and blue are at either end of the cell, at most; the spectrum reaches half as far again on both sides.
      const apart = spectral ? max(fringe(x0, v0), fringe(x1, v1)) : 0;
      const wide = apart > FRINGE_BEGINS;
      const margin = wide ? ceil(apart * 2) : 0;
      // The places of a cell lie on a line, so what holds at its ends holds in it.
      const low = least(f32x4.pmin(x0, x1)), top = least(f32x4.pmin(v0, v1));
      const high = least(f32x4.neg(f32x4.pmax(x0, x1))), bottom = least(f32x4.neg(f32x4.pmax(v0, v1)));
      const inner = !shrinks && f32x4.extract_lane(low, 0) >= 1 + margin && f32x4.extract_lane(top, 0) >= 1 + margin &&
        -f32x4.extract_lane(high, 0) < <f32>(width - 4) - margin && -f32x4.extract_lane(bottom, 0) < <f32>(height - 4) - margin;
      const end = min(spacing, outWidth - i * spacing);
      const sx = shrinks ? max(growX, 1) : 1, sy = shrinks ? max(growY, 1) : 1;
      let at = to + (<usize>(i * spacing) << 4);
      for (let k = 0; k < end; k++, at += 16) {
        const px = add(x0, mul(stepX, splat(<f32>k))), py = add(v0, mul(stepY, splat(<f32>k)));
        if (wide) v128.store(at, fetchSpectrum(src, planes, width, height, px, py, sx, sy, black, inner, spectrum));
        else if (inner) v128.store(at, fetchInner(src, planes, width, height, stride, px, py));
        else v128.store(at, fetchOuter(src, width, height, px, py, sx, sy, black));
      }
    }
  }
}

/** Distance between red's place and blue's, px. */
// @ts-ignore: decorator
@inline function fringe(x: v128, y: v128): f32 {
  const dx = f32x4.extract_lane(x, 0) - f32x4.extract_lane(x, 2), dy = f32x4.extract_lane(y, 0) - f32x4.extract_lane(y, 2);
  return sqrt(dx * dx + dy * dy);
}

/** Source pixels an output pixel above which the cubic is widened against aliasing. */
const SHRINKS: f32 = 1.15;

// @ts-ignore: decorator
@inline function lane0(v: v128): v128 { return v128.shuffle<f32>(v, v, 0, 0, 0, 0); }
// @ts-ignore: decorator
@inline function lane1(v: v128): v128 { return v128.shuffle<f32>(v, v, 1, 1, 1, 1); }
// @ts-ignore: decorator
@inline function lane2(v: v128): v128 { return v128.shuffle<f32>(v, v, 2, 2, 2, 2); }

// @ts-ignore: decorator
@inline function line4(p: usize, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return add(add(mul(v128.load(p - 16), w0), mul(v128.load(p), w1)), add(mul(v128.load(p, 16), w2), mul(v128.load(p, 32), w3)));
}

// @ts-ignore: decorator
@inline function line5(p: usize, w0: v128, w1: v128, w2: v128, w3: v128, w4: v128): v128 {
  return add(line4(p, w0, w1, w2, w3), mul(v128.load(p, 48), w4));
}

/** The darker of the two samples nearest each lane's place on one row. */
// @ts-ignore: decorator
@inline function pair(p: usize, mask: v128): v128 {
  return f32x4.pmin(v128.load(p, 16), v128.bitselect(v128.load(p, 32), v128.load(p), mask));
}

/** Changes a frame's size by area: each output pixel is the mean of the source under it. */
export function resize(
  src: usize, dst: usize, width: i32, height: i32, outWidth: i32, outHeight: i32, scratch: usize, y0: i32, y1: i32,
): void {
  const scaleX = <f64>width / <f64>outWidth, scaleY = <f64>height / <f64>outHeight;
  const inverse = splat(<f32>(1 / (scaleX * scaleY)));
  const stride = <usize>width << 4;
  for (let y = y0; y < y1; y++) {
    const top = <f64>y * scaleY, bottom = min(<f64>(y + 1) * scaleY, <f64>height);
    for (let x = 0; x < outWidth; x++) {
      const left = <f64>x * scaleX, right = min(<f64>(x + 1) * scaleX, <f64>width);
      let sum = splat(0);
      for (let sy = <i32>top; <f64>sy < bottom; sy++) {
        const part = min(bottom, <f64>(sy + 1)) - max(top, <f64>sy);
        const row = src + <usize>sy * stride;
        for (let sx = <i32>left; <f64>sx < right; sx++) {
          const share = part * (min(right, <f64>(sx + 1)) - max(left, <f64>sx));
          sum = add(sum, mul(v128.load(row + (<usize>sx << 4)), splat(<f32>share)));
        }
      }
      v128.store(dst + (<usize>(y * outWidth + x) << 4), mul(sum, inverse));
    }
  }
}
