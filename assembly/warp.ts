// The one resampling through a map (geometry.ts): bicubic, each channel at its own place. Inside the frame four pixels of a channel
// are made at a time from planes; near its edges, and where the picture shrinks, a pixel at a time from the picture itself.

import { add, copy, integers, mirror, mul, splat, sub, withAlpha } from "./simd";

/** Stores four vectors turned: the first lanes of all at `to`, the second lanes `step` bytes on, and so forth. */
// @ts-ignore: decorator
@inline function storeTurned(to: usize, step: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7), cdHigh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(ab, cd, 0, 1, 4, 5));
  v128.store(to + step, v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
  v128.store(to + 2 * step, v128.shuffle<f32>(abHigh, cdHigh, 0, 1, 4, 5));
  v128.store(to + 3 * step, v128.shuffle<f32>(abHigh, cdHigh, 2, 3, 6, 7));
}

/** The picture's channels and its alpha as planes of their own, one after another. */
export function split(src: usize, planes: usize, width: i32, height: i32, scratch: usize, y0: i32, y1: i32): void {
  const plane = <usize>(width * height) << 2;
  for (let y = y0; y < y1; y++) {
    let at = src + (<usize>(y * width) << 4);
    let to = planes + (<usize>(y * width) << 2);
    let x = 0;
    for (; x + 4 <= width; x += 4, at += 64, to += 16) {
      storeTurned(to, plane, v128.load(at), v128.load(at, 16), v128.load(at, 32), v128.load(at, 48));
    }
    for (; x < width; x++, at += 16, to += 4) {
      for (let c: usize = 0; c < 4; c++) store<f32>(to + c * plane, load<f32>(at + (c << 2)));
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
 * The general fetch of one pixel, lanes R, G, B: any place and any shrinkage (`scaleX`, `scaleY` >= 1 source px an output px). The
 * cubic is widened where the picture shrinks, so that nothing aliases, and the surround is mirrored or black.
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

/** The same with the alpha of the nearest pixel up and left of green's place. */
function fetchOuter(src: usize, width: i32, height: i32, px: v128, py: v128, sx: f32, sy: f32, black: i32): v128 {
  const x = <i32>floor(f32x4.extract_lane(px, 1)), y = <i32>floor(f32x4.extract_lane(py, 1));
  const alpha = v128.load(src + (<usize>(mirror(y, height) * width + mirror(x, width)) << 4));
  return withAlpha(fetchWide(src, width, height, px, py, sx, sy, black), alpha);
}

/**
 * A cubic's negative lobe beside a lamp three hundred times brighter than what is around it would dig a black ring. The
 * result is held to three quarters of the darkest of the nearest samples; ordinary texture never reaches that.
 */
// @ts-ignore: decorator
@inline function limitUndershoot(value: v128, darkest: v128): v128 {
  return f32x4.pmax(value, f32x4.pmin(darkest, mul(darkest, splat(0.75))));
}

// Catmull-Rom weights at an offset t in [0, 1), with u = t (1 - t) / 2: -u (1 - t), 1 - t + u (2 - 3 t), t + u (3 t - 1), -u t; the two
// outer ones without their sign.
// @ts-ignore: decorator
@inline function outer0(t: v128): v128 { return mul(half(t), sub(splat(1), t)); }
// @ts-ignore: decorator
@inline function outer3(t: v128): v128 { return mul(half(t), t); }
// @ts-ignore: decorator
@inline function half(t: v128): v128 { return mul(mul(t, splat(0.5)), sub(splat(1), t)); }
// @ts-ignore: decorator
@inline function inner1(t: v128, w0: v128, w3: v128): v128 { return sub(add(sub(splat(1), t), add(w0, w0)), w3); }
// @ts-ignore: decorator
@inline function inner2(t: v128, w0: v128, w3: v128): v128 { return sub(add(t, add(w3, w3)), w0); }

/** Four taps weighed; the weights of the outer ones are taken off. */
// @ts-ignore: decorator
@inline function line(a: v128, b: v128, c: v128, d: v128, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return sub(add(mul(b, w1), mul(c, w2)), add(mul(a, w0), mul(d, w3)));
}

// @ts-ignore: decorator
@inline function darker(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
}

/** Four neighbouring pixels of a plane whose upper left taps are the four samples from `p` on, at offsets tx, ty. */
function weighFour(p: usize, pitch: usize, tx: v128, ty: v128): v128 {
  const a0 = outer0(tx), a3 = outer3(tx), a1 = inner1(tx, a0, a3), a2 = inner2(tx, a0, a3);
  const b0 = outer0(ty), b3 = outer3(ty);
  const p1 = p + pitch, p2 = p1 + pitch, p3 = p2 + pitch;
  const edges = add(mul(line(v128.load(p), v128.load(p, 4), v128.load(p, 8), v128.load(p, 12), a0, a1, a2, a3), b0), mul(line(v128.load(p3), v128.load(p3, 4), v128.load(p3, 8), v128.load(p3, 12), a0, a1, a2, a3), b3));
  const m11 = v128.load(p1, 4), m12 = v128.load(p1, 8), m21 = v128.load(p2, 4), m22 = v128.load(p2, 8);
  const upper = mul(line(v128.load(p1), m11, m12, v128.load(p1, 12), a0, a1, a2, a3), inner1(ty, b0, b3));
  const lower = mul(line(v128.load(p2), m21, m22, v128.load(p2, 12), a0, a1, a2, a3), inner2(ty, b0, b3));
  return limitUndershoot(sub(add(upper, lower), edges), darker(m11, m12, m21, m22));
}

/** Samples of row `j`, 0 to 3, around four places: tap 0 to 3 of each stored as a vector in `out`. `p`: byte offsets of their upper left taps. */
// @ts-ignore: decorator
@inline function gatherRow(row: usize, p: v128, out: usize): void {
  const a = v128.load(row + <usize>i32x4.extract_lane(p, 0)), b = v128.load(row + <usize>i32x4.extract_lane(p, 1));
  const c = v128.load(row + <usize>i32x4.extract_lane(p, 2)), d = v128.load(row + <usize>i32x4.extract_lane(p, 3));
  storeTurned(out, 16, a, b, c, d);
}

/** Four pixels of one channel, inside the frame, each at its own place: `x`, `y` px. `scratch`: 256 bytes. */
function fetchFour(plane: usize, width: i32, x: v128, y: v128, scratch: usize): v128 {
  const floorX = f32x4.floor(x), floorY = f32x4.floor(y);
  const tx = sub(x, floorX), ty = sub(y, floorY);
  const cells = i32x4.add(i32x4.mul(integers(floorY), i32x4.splat(width)), integers(floorX));
  const first = i32x4.extract_lane(cells, 0);
  const pitch = <usize>width << 2;
  const corner = plane - pitch - 4;
  // Where the picture is neither stretched nor squeezed within the four, they are neighbours, and so are their taps.
  if (i32x4.all_true(i32x4.eq(cells, i32x4.add(i32x4.splat(first), i32x4(0, 1, 2, 3))))) return weighFour(corner + (<usize>first << 2), pitch, tx, ty);
  const places = i32x4.shl(cells, 2);
  const a0 = outer0(tx), a3 = outer3(tx), a1 = inner1(tx, a0, a3), a2 = inner2(tx, a0, a3);
  const b0 = outer0(ty), b3 = outer3(ty);
  for (let j: usize = 0; j < 4; j++) gatherRow(corner + j * pitch, places, scratch + (j << 6));
  const m11 = v128.load(scratch, 80), m12 = v128.load(scratch, 96), m21 = v128.load(scratch, 144), m22 = v128.load(scratch, 160);
  const edges = add(
    mul(line(v128.load(scratch), v128.load(scratch, 16), v128.load(scratch, 32), v128.load(scratch, 48), a0, a1, a2, a3), b0),
    mul(line(v128.load(scratch, 192), v128.load(scratch, 208), v128.load(scratch, 224), v128.load(scratch, 240), a0, a1, a2, a3), b3),
  );
  const upper = mul(line(v128.load(scratch, 64), m11, m12, v128.load(scratch, 112), a0, a1, a2, a3), inner1(ty, b0, b3));
  const lower = mul(line(v128.load(scratch, 128), m21, m22, v128.load(scratch, 176), a0, a1, a2, a3), inner2(ty, b0, b3));
  return limitUndershoot(sub(add(upper, lower), edges), darker(m11, m12, m21, m22));
}

/** Four pixels of alpha: of the nearest pixel up and left of each place. */
// @ts-ignore: decorator
@inline function alphaOfFour(plane: usize, width: i32, x: v128, y: v128): v128 {
  const cells = i32x4.add(i32x4.mul(integers(f32x4.floor(y)), i32x4.splat(width)), integers(f32x4.floor(x)));
  return f32x4(
    load<f32>(plane + (<usize>i32x4.extract_lane(cells, 0) << 2)), load<f32>(plane + (<usize>i32x4.extract_lane(cells, 1) << 2)),
    load<f32>(plane + (<usize>i32x4.extract_lane(cells, 2) << 2)), load<f32>(plane + (<usize>i32x4.extract_lane(cells, 3) << 2)),
  );
}

/** Fringes (red to blue, px) narrower than the first are the three channels alone; from the second on the whole spectrum is sampled. */
const FRINGE_BEGINS: f32 = 2;
const FRINGE_FULL: f32 = 4;

/** How much of its width the spectrum is spread to, of the distance between red and blue, px: four lanes. */
// @ts-ignore: decorator
@inline function spreadOf(dx: v128, dy: v128): v128 {
  const fringe = f32x4.sqrt(add(mul(dx, dx), mul(dy, dy)));
  return f32x4.pmin(splat(1), f32x4.pmax(splat(0), mul(sub(fringe, splat(FRINGE_BEGINS)), splat(1 / (FRINGE_FULL - FRINGE_BEGINS)))));
}

/**
 * One pixel near the edge with each channel's part of the spectrum spread along the parabola through the three channels' places. `spectrum`:
 * count of taps, their variance, then offset and weight of each; the channels' centroids stay as far apart as their places.
 */
function fetchSpectrum(src: usize, width: i32, height: i32, px: v128, py: v128, sx: f32, sy: f32, black: i32, spectrum: usize): v128 {
  const rx = lane0(px), gx = lane1(px), bx = lane2(px), ry = lane0(py), gy = lane1(py), by = lane2(py);
  const half = splat(0.5);
  const share = spreadOf(sub(rx, bx), sub(ry, by));
  const curveX = sub(mul(add(rx, bx), half), gx), curveY = sub(mul(add(ry, by), half), gy);
  const slopeX = mul(sub(rx, bx), half), slopeY = mul(sub(ry, by), half);
  const variance = mul(splat(load<f32>(spectrum, 4)), mul(share, share));
  const taps = <i32>load<f32>(spectrum);
  let sum = splat(0), light = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = spectrum + 8 + (<usize>k << 3);
    // Red, green and blue stand at +1, 0 and -1 of the spectrum.
    const u = add(f32x4(1, 0, -1, 0), mul(splat(load<f32>(tap)), share));
    const bend = sub(mul(u, u), variance);
    const x = add(gx, add(mul(curveX, bend), mul(slopeX, u))), y = add(gy, add(mul(curveY, bend), mul(slopeY, u)));
    light = fetchOuter(src, width, height, x, y, sx, sy, black);
    sum = add(sum, mul(light, splat(load<f32>(tap, 4))));
  }
  return withAlpha(sum, light);
}

/** The same of four pixels of one channel inside the frame: `middle` is its place on the spectrum; red's, green's and blue's places follow. */
function fetchSpectrumFour(plane: usize, width: i32, middle: f32, rx: v128, gx: v128, bx: v128, ry: v128, gy: v128, by: v128, spectrum: usize, scratch: usize): v128 {
  const half = splat(0.5);
  const share = spreadOf(sub(rx, bx), sub(ry, by));
  const curveX = sub(mul(add(rx, bx), half), gx), curveY = sub(mul(add(ry, by), half), gy);
  const slopeX = mul(sub(rx, bx), half), slopeY = mul(sub(ry, by), half);
  const variance = mul(splat(load<f32>(spectrum, 4)), mul(share, share));
  const taps = <i32>load<f32>(spectrum);
  let sum = splat(0);
  for (let k = 0; k < taps; k++) {
    const tap = spectrum + 8 + (<usize>k << 3);
    const u = add(splat(middle), mul(splat(load<f32>(tap)), share));
    const bend = sub(mul(u, u), variance);
    const x = add(gx, add(mul(curveX, bend), mul(slopeX, u))), y = add(gy, add(mul(curveY, bend), mul(slopeY, u)));
    sum = add(sum, mul(fetchFour(plane, width, x, y, scratch), splat(load<f32>(tap, 4))));
  }
  return sum;
}

/** Pixels from node to node of the maps that are fetched a whole cell at a time. */
const CELL: i32 = 8;

/** Bytes of scratch: the samples around four pixels, and four pixels that reach past the row's end. */
const GATHERED: usize = 256;

/**
 * One resampling of all channels through the map. Bicubic (Catmull-Rom), each channel at its own place, or, where fringes are
 * wide, at several along the `spectrum`. `planes`: src as `split` leaves it. `outWidth`: width of dst; width and height are src's.
 */
export function warp(
  src: usize, planes: usize, dst: usize, width: i32, height: i32, outWidth: i32, map: usize, columns: i32, spacing: i32, black: i32, spectrum: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const plane = <usize>(width * height) << 2, pitch = <usize>width << 2;
  const corner = planes - pitch - 4;
  const unit = splat(1 / <f32>spacing);
  const spectral = load<f32>(spectrum) > 1;
  const beyond = scratch + GATHERED;
  const most = SHRINKS * <f32>spacing;
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
      const alongX = sub(x1, x0), alongY = sub(v128.load(b, 16), v128.load(a, 16));
      const shrinks = abs(f32x4.extract_lane(alongX, 1)) > most || abs(f32x4.extract_lane(alongY, 1)) > most;
      // How far apart red and blue are at either end of the cell, at most; the spectrum reaches half as far again on both sides.
      const apart = spectral ? max(fringeSquared(x0, v0), fringeSquared(x1, v1)) : 0;
      const wide = apart > FRINGE_BEGINS * FRINGE_BEGINS;
      const margin = splat(wide ? ceil(<f32>2.0 * sqrt(apart)) : <f32>0.0);
      // The places of a cell lie on a line, so what holds at its ends holds in it.
      const first = add(margin, splat(1));
      const left = f32x4.ge(f32x4.pmin(x0, x1), first), top = f32x4.ge(f32x4.pmin(v0, v1), first);
      const right = f32x4.lt(f32x4.pmax(x0, x1), sub(splat(<f32>(width - 4)), margin)), bottom = f32x4.lt(f32x4.pmax(v0, v1), sub(splat(<f32>(height - 4)), margin));
      const inner = !shrinks && i32x4.all_true(v128.and(v128.and(left, top), v128.and(right, bottom)));
      const end = min(spacing, outWidth - i * spacing);
      const at = to + (<usize>(i * spacing) << 4);
      if (inner && !wide && end == CELL && spacing == CELL) {
        // What is neither stretched nor squeezed by a pixel from end to end of the cell is so nowhere in it.
        const floorX = f32x4.floor(x0), floorY = f32x4.floor(v0);
        const lastX = f32x4.floor(add(x0, mul(stepX, splat(<f32>(CELL - 1))))), lastY = f32x4.floor(add(v0, mul(stepY, splat(<f32>(CELL - 1)))));
        const uneven = v128.or(sub(sub(lastX, floorX), splat(<f32>(CELL - 1))), sub(lastY, floorY));
        if (!v128.any_true(uneven)) {
          const cells = i32x4.add(i32x4.mul(integers(floorY), i32x4.splat(width)), integers(floorX));
          const tx = sub(x0, floorX), ty = sub(v0, floorY), growth = sub(stepX, splat(1));
          const r = corner + (<usize>i32x4.extract_lane(cells, 0) << 2);
          const g = corner + plane + (<usize>i32x4.extract_lane(cells, 1) << 2);
          const b = corner + 2 * plane + (<usize>i32x4.extract_lane(cells, 2) << 2);
          for (let k: usize = 0; k < <usize>CELL; k += 4) {
            const along = add(splat(<f32>k), f32x4(0, 1, 2, 3));
            const red = weighFour(r + (k << 2), pitch, add(lane0(tx), mul(lane0(growth), along)), add(lane0(ty), mul(lane0(stepY), along)));
            const green = weighFour(g + (k << 2), pitch, add(lane1(tx), mul(lane1(growth), along)), add(lane1(ty), mul(lane1(stepY), along)));
            const blue = weighFour(b + (k << 2), pitch, add(lane2(tx), mul(lane2(growth), along)), add(lane2(ty), mul(lane2(stepY), along)));
            storeTurned(at + (k << 4), 16, red, green, blue, v128.load(g + (k << 2) + 2 * plane + pitch + 4));
          }
          continue;
        }
      }
      if (inner) {
        for (let k = 0; k < end; k += 4) {
          const along = add(splat(<f32>k), f32x4(0, 1, 2, 3));
          const rx = add(lane0(x0), mul(lane0(stepX), along)), gx = add(lane1(x0), mul(lane1(stepX), along)), bx = add(lane2(x0), mul(lane2(stepX), along));
          const ry = add(lane0(v0), mul(lane0(stepY), along)), gy = add(lane1(v0), mul(lane1(stepY), along)), by = add(lane2(v0), mul(lane2(stepY), along));
          let red: v128, green: v128, blue: v128;
          if (wide) {
            red = fetchSpectrumFour(planes, width, 1, rx, gx, bx, ry, gy, by, spectrum, scratch);
            green = fetchSpectrumFour(planes + plane, width, 0, rx, gx, bx, ry, gy, by, spectrum, scratch);
            blue = fetchSpectrumFour(planes + 2 * plane, width, -1, rx, gx, bx, ry, gy, by, spectrum, scratch);
          } else {
            red = fetchFour(planes, width, rx, ry, scratch);
            green = fetchFour(planes + plane, width, gx, gy, scratch);
            blue = fetchFour(planes + 2 * plane, width, bx, by, scratch);
          }
          const alpha = alphaOfFour(planes + 3 * plane, width, gx, gy);
          const isWhole = k + 4 <= end;
          storeTurned(isWhole ? at + (<usize>k << 4) : beyond, 16, red, green, blue, alpha);
          if (!isWhole) copy(at + (<usize>k << 4), beyond, <usize>(end - k) << 4);
        }
        continue;
      }
      const sx = shrinks ? max(abs(f32x4.extract_lane(stepX, 1)), 1) : 1, sy = shrinks ? max(abs(f32x4.extract_lane(alongY, 1)) / <f32>spacing, 1) : 1;
      for (let k = 0; k < end; k++) {
        const px = add(x0, mul(stepX, splat(<f32>k))), py = add(v0, mul(stepY, splat(<f32>k)));
        const light = wide ? fetchSpectrum(src, width, height, px, py, sx, sy, black, spectrum) : fetchOuter(src, width, height, px, py, sx, sy, black);
        v128.store(at + (<usize>k << 4), light);
      }
    }
  }
}

/** Square of the distance between red's place and blue's, px. */
// @ts-ignore: decorator
@inline function fringeSquared(x: v128, y: v128): f32 {
  const dx = f32x4.extract_lane(x, 0) - f32x4.extract_lane(x, 2), dy = f32x4.extract_lane(y, 0) - f32x4.extract_lane(y, 2);
  return dx * dx + dy * dy;
}

/** Source pixels an output pixel above which the cubic is widened against aliasing. */
const SHRINKS: f32 = 1.15;

// @ts-ignore: decorator
@inline function lane0(v: v128): v128 { return v128.shuffle<f32>(v, v, 0, 0, 0, 0); }
// @ts-ignore: decorator
@inline function lane1(v: v128): v128 { return v128.shuffle<f32>(v, v, 1, 1, 1, 1); }
// @ts-ignore: decorator
@inline function lane2(v: v128): v128 { return v128.shuffle<f32>(v, v, 2, 2, 2, 2); }
