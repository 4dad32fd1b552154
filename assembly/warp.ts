// The one resampling through a map (geometry.ts): bicubic, each channel at its own place. Rows are made in cells of eight pixels: from
// planes a channel's row after the other, or, further beyond the frame's edge and where the picture shrinks, from the picture itself.

import { alphaOfFour, fetchFour, fetchOuter, FOUR_BYTES, weighFour } from "./cubic";
import { add, clear, copy, integer, lane0, lane1, lane2, mirror, mul, splat, storeTurned, sub } from "./simd";
import { FRINGE_BEGINS, fetchSpectrum, fetchSpectrumFour, fringeSquared } from "./spectrum";

/** Samples of surround around a plane; src/core/spread/resample.ts makes room for them. */
const SURROUND: i32 = 8;

// @ts-ignore: decorator
@inline function pitchOf(width: i32): usize {
  return <usize>(width + 2 * SURROUND) << 2;
}

/** Bytes of a plane with its surround. */
// @ts-ignore: decorator
@inline function planeOf(width: i32, height: i32): usize {
  return pitchOf(width) * <usize>(height + 2 * SURROUND);
}

/** The picture's channels and its alpha as planes of their own, one after another, each with its surround: mirrored or black. Rows are the planes'. */
export function split(src: usize, planes: usize, width: i32, height: i32, black: i32, scratch: usize, y0: i32, y1: i32): void {
  const plane = planeOf(width, height), pitch = pitchOf(width);
  for (let y = y0; y < y1; y++) {
    const line = planes + <usize>y * pitch;
    const row = y - SURROUND;
    if (black && (row < 0 || row >= height)) {
      for (let c: usize = 0; c < 4; c++) clear(line + c * plane, pitch);
      continue;
    }
    const from = src + (<usize>(mirror(row, height) * width) << 4);
    let at = from, to = line + (SURROUND << 2);
    let x = 0;
    for (; x + 4 <= width; x += 4, at += 64, to += 16) {
      storeTurned(to, plane, v128.load(at), v128.load(at, 16), v128.load(at, 32), v128.load(at, 48));
    }
    for (; x < width; x++) storePixel(line, plane, x, v128.load(from + (<usize>x << 4)));
    for (let k = 1; k <= SURROUND; k++) {
      storePixel(line, plane, -k, black ? splat(0) : v128.load(from + (<usize>mirror(-k, width) << 4)));
      storePixel(line, plane, width - 1 + k, black ? splat(0) : v128.load(from + (<usize>mirror(width - 1 + k, width) << 4)));
    }
  }
}

/** One pixel's lanes into a line of each plane. */
// @ts-ignore: decorator
@inline function storePixel(line: usize, plane: usize, x: i32, pixel: v128): void {
  const to = line + (<usize>(x + SURROUND) << 2);
  v128.store32_lane(to, pixel, 0);
  v128.store32_lane(to + plane, pixel, 1);
  v128.store32_lane(to + 2 * plane, pixel, 2);
  v128.store32_lane(to + 3 * plane, pixel, 3);
}

/** Pixels of a cell: the places within one lie evenly on a line. */
const CELL: i32 = 8;
// @ts-ignore: decorator
@lazy const UNIT: f32 = <f32>1.0 / <f32>CELL;

/**
 * Bytes of a place, one at either end of every cell: where R, G, B and (again) G come from, x, then y (px); then the square of how far
 * apart red and blue are (px^2), what green's y changes by from row to row, and two of nothing.
 */
const PLACE: usize = 48;
const APART: usize = 32, DOWN: usize = 36;

/** The places of row `y`, between the rows `j` and `j + 1` of the map's nodes. */
function placesRow(map: usize, columns: i32, spacing: i32, j: i32, y: i32, cells: i32, places: usize): void {
  const unit = <f32>1.0 / <f32>spacing;
  const down = splat(<f32>(y - j * spacing) * unit);
  const below = <usize>columns << 5;
  let node = map + (<usize>(j * columns) << 5);
  let past = 0;
  for (let i = 0, at = places; i <= cells; i++, at += PLACE) {
    const along = splat(<f32>past * unit);
    const lower = node + below;
    const x = between(v128.load(node), v128.load(node, 32), along), v = between(v128.load(node, 16), v128.load(node, 48), along);
    const lowerX = between(v128.load(lower), v128.load(lower, 32), along), lowerV = between(v128.load(lower, 16), v128.load(lower, 48), along);
    const hereX = between(x, lowerX, down), hereV = between(v, lowerV, down);
    v128.store(at, hereX);
    v128.store(at, hereV, 16);
    store<f32>(at, fringeSquared(hereX, hereV), APART);
    store<f32>(at, f32x4.extract_lane(sub(lowerV, v), 1) * unit, DOWN);
    past += CELL;
    if (past >= spacing) {
      past -= spacing;
      node += 32;
    }
  }
}

// @ts-ignore: decorator
@inline function between(a: v128, b: v128, t: v128): v128 {
  return add(a, mul(sub(b, a), t));
}

// How a cell is made: pixel by pixel from the picture, four pixels at a time along the spectrum, or each channel from its plane.
const OUTER: i32 = 0;
const WIDE: i32 = 1;
const PLAIN: i32 = 2;

/** Source pixels an output pixel above which the cubic is widened against aliasing. */
const SHRINKS: f32 = 1.15;

/** How far apart red and blue are in a cell, at most, squared, px^2. */
// @ts-ignore: decorator
@inline function apartIn(place: usize): f32 {
  return max(load<f32>(place, APART), load<f32>(place, PLACE + APART));
}

// @ts-ignore: decorator
@inline function least(a: v128, b: v128, c: v128, d: v128): v128 { return f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d)); }
// @ts-ignore: decorator
@inline function most(a: v128, b: v128, c: v128, d: v128): v128 { return f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d)); }

/** Tells how each cell is to be made in all rows between two of the map's nodes, of the places at either end of them. */
function kindsRow(above: usize, below: usize, cells: i32, width: i32, height: i32, spectral: bool, kinds: usize): void {
  const firstPlace = splat(<f32>1.0 - <f32>SURROUND), lastX = splat(<f32>(width + SURROUND - 3)), lastY = splat(<f32>(height + SURROUND - 3));
  for (let i = 0, at = above, under = below; i < cells; i++, at += PLACE, under += PLACE) {
    const x0 = v128.load(at), v0 = v128.load(at, 16), x1 = v128.load(at, PLACE), v1 = v128.load(at, PLACE + 16);
    const x2 = v128.load(under), v2 = v128.load(under, 16), x3 = v128.load(under, PLACE), v3 = v128.load(under, PLACE + 16);
    const across = max(abs(load<f32>(at, PLACE + 4) - load<f32>(at, 4)), abs(load<f32>(under, PLACE + 4) - load<f32>(under, 4))) * UNIT;
    const shrinks = max(across, max(abs(load<f32>(at, DOWN)), abs(load<f32>(at, PLACE + DOWN)))) > SHRINKS;
    const apart: f32 = spectral ? max(apartIn(at), apartIn(under)) : 0;
    const wide = apart > FRINGE_BEGINS * FRINGE_BEGINS;
    // The spectrum reaches half as far again as red and blue on both sides.
    const margin = splat(wide ? ceil(<f32>2.0 * sqrt(apart)) : <f32>0.0);
    // Places between the four lie within their bounds, so what holds at the corners holds everywhere.
    const first = add(firstPlace, margin);
    const left = f32x4.ge(least(x0, x1, x2, x3), first), top = f32x4.ge(least(v0, v1, v2, v3), first);
    const right = f32x4.lt(most(x0, x1, x2, x3), sub(lastX, margin)), bottom = f32x4.lt(most(v0, v1, v2, v3), sub(lastY, margin));
    const inner = !shrinks && i32x4.all_true(v128.and(v128.and(left, top), v128.and(right, bottom)));
    store<i32>(kinds + (<usize>i << 2), inner ? (wide ? WIDE : PLAIN) : OUTER);
  }
}

/** Whether four offsets lie within a pixel, across and down: then the taps of the four are neighbours. */
// @ts-ignore: decorator
@inline function within(tx: v128, ty: v128): bool {
  return i32x4.all_true(v128.and(f32x4.ge(f32x4.pmin(tx, ty), splat(0)), f32x4.lt(f32x4.pmax(tx, ty), splat(1))));
}

/** Bytes of what a channel's row leaves for each cell: where its first sample stands, and of its fours, whether their taps are not neighbours. */
const MARK: usize = 16;

/** One channel's part of the plain cells of a row, as though the taps of every four pixels were neighbours. `origin`: of the channel's plane. */
function channelRow(places: usize, cells: i32, kinds: usize, origin: usize, pitch: usize, row: usize, marks: usize, scratch: usize): void {
  const corner = origin - pitch - 4;
  for (let i = 0; i < cells; i++) {
    if (load<i32>(kinds + (<usize>i << 2)) != PLAIN) continue;
    const at = places + <usize>i * PLACE;
    const x0 = load<f32>(at), v0 = load<f32>(at, 16);
    const growth = splat((load<f32>(at, PLACE) - x0) * UNIT - 1), fall = splat((load<f32>(at, PLACE + 16) - v0) * UNIT);
    const floorX = floor(x0), floorY = floor(v0);
    const tx = splat(x0 - floorX), ty = splat(v0 - floorY);
    const offset = integer(floorY) * <i32>pitch + (integer(floorX) << 2);
    const from = corner + <usize>offset;
    const to = row + (<usize>i << 5), mark = marks + <usize>i * MARK;
    const near = f32x4(0, 1, 2, 3), far = f32x4(4, 5, 6, 7);
    const tx0 = add(tx, mul(growth, near)), ty0 = add(ty, mul(fall, near));
    const tx1 = add(tx, mul(growth, far)), ty1 = add(ty, mul(fall, far));
    const nearApart = within(tx0, ty0) ? 0 : 1, farApart = within(tx1, ty1) ? 0 : 1;
    store<i32>(mark, offset);
    store<i32>(mark, nearApart, 4);
    store<i32>(mark, farApart, 8);
    // A picture that is scaled is made by fours apart alone.
    if (nearApart & farApart) continue;
    v128.store(to, weighFour(from, pitch, 4, tx0, ty0, scratch));
    v128.store(to, weighFour(from + 16, pitch, 4, tx1, ty1, scratch), 16);
  }
}

/** Makes again the fours whose taps are not neighbours. */
function mendRow(places: usize, cells: i32, kinds: usize, origin: usize, pitch: usize, row: usize, marks: usize, scratch: usize): void {
  for (let i = 0; i < cells; i++) {
    if (load<i32>(kinds + (<usize>i << 2)) != PLAIN) continue;
    const place = places + <usize>i * PLACE, mark = marks + <usize>i * MARK, to = row + (<usize>i << 5);
    if (load<i32>(mark, 4)) v128.store(to, fetchFour(origin, pitch, placesOf(place, 0), placesOf(place + 16, 0), scratch));
    if (load<i32>(mark, 8)) v128.store(to, fetchFour(origin, pitch, placesOf(place, 4), placesOf(place + 16, 4), scratch), 16);
  }
}

/** One coordinate of four pixels of a cell, from pixel `k` of it on. */
// @ts-ignore: decorator
@inline function placesOf(coordinate: usize, k: i32): v128 {
  const along = mul(add(splat(<f32>k), f32x4(0, 1, 2, 3)), splat(UNIT));
  return between(v128.load32_splat(coordinate), v128.load32_splat(coordinate, PLACE), along);
}

/** The alpha of the plain cells of a row: of the nearest sample up and left of each place of green, whose marks these are. */
function alphaRow(places: usize, cells: i32, kinds: usize, origin: usize, pitch: usize, row: usize, marks: usize): void {
  for (let i = 0; i < cells; i++) {
    if (load<i32>(kinds + (<usize>i << 2)) != PLAIN) continue;
    const place = places + <usize>i * PLACE, mark = marks + <usize>i * MARK, to = row + (<usize>i << 5);
    const from = origin + <usize>load<i32>(mark);
    v128.store(to, load<i32>(mark, 4) ? alphaOfFour(origin, pitch, placesOf(place, 0), placesOf(place + 16, 0)) : v128.load(from));
    v128.store(to, load<i32>(mark, 8) ? alphaOfFour(origin, pitch, placesOf(place, 4), placesOf(place + 16, 4)) : v128.load(from, 16), 16);
  }
}

/** Eight pixels inside the planes, along the spectrum. */
function wideCell(origin: usize, plane: usize, pitch: usize, place: usize, spectrum: usize, scratch: usize, to: usize): void {
  const x0 = v128.load(place), v0 = v128.load(place, 16);
  const stepX = mul(sub(v128.load(place, PLACE), x0), splat(UNIT)), stepY = mul(sub(v128.load(place, PLACE + 16), v0), splat(UNIT));
  for (let k = 0; k < CELL; k += 4) {
    const along = add(splat(<f32>k), f32x4(0, 1, 2, 3));
    const rx = add(lane0(x0), mul(lane0(stepX), along)), gx = add(lane1(x0), mul(lane1(stepX), along)), bx = add(lane2(x0), mul(lane2(stepX), along));
    const ry = add(lane0(v0), mul(lane0(stepY), along)), gy = add(lane1(v0), mul(lane1(stepY), along)), by = add(lane2(v0), mul(lane2(stepY), along));
    const red = fetchSpectrumFour(origin, pitch, 1, rx, gx, bx, ry, gy, by, spectrum, scratch);
    const green = fetchSpectrumFour(origin + plane, pitch, 0, rx, gx, bx, ry, gy, by, spectrum, scratch);
    const blue = fetchSpectrumFour(origin + 2 * plane, pitch, -1, rx, gx, bx, ry, gy, by, spectrum, scratch);
    storeTurned(to + (<usize>k << 4), 16, red, green, blue, alphaOfFour(origin + 3 * plane, pitch, gx, gy));
  }
}

/** `count` pixels further beyond the frame's edge, or where the picture shrinks. */
function outerCell(src: usize, width: i32, height: i32, place: usize, count: i32, black: i32, spectral: bool, spectrum: usize, to: usize): void {
  const x0 = v128.load(place), v0 = v128.load(place, 16);
  const stepX = mul(sub(v128.load(place, PLACE), x0), splat(UNIT)), stepY = mul(sub(v128.load(place, PLACE + 16), v0), splat(UNIT));
  const across = abs(f32x4.extract_lane(stepX, 1)), down = abs(load<f32>(place, DOWN));
  const shrinks = max(across, down) > SHRINKS;
  const sx = shrinks ? max(across, 1) : 1, sy = shrinks ? max(down, 1) : 1;
  const wide = spectral && apartIn(place) > FRINGE_BEGINS * FRINGE_BEGINS;
  for (let k = 0; k < count; k++) {
    const px = add(x0, mul(stepX, splat(<f32>k))), py = add(v0, mul(stepY, splat(<f32>k)));
    const light = wide ? fetchSpectrum(src, width, height, px, py, sx, sy, black, spectrum) : fetchOuter(src, width, height, px, py, sx, sy, black);
    v128.store(to + (<usize>k << 4), light);
  }
}

/** Eight pixels from the rows of R, G, B and alpha, `apart` bytes from one another. */
// @ts-ignore: decorator
@inline function joinCell(rows: usize, apart: usize, to: usize): void {
  const g = rows + apart, b = g + apart, a = b + apart;
  storeTurned(to, 16, v128.load(rows), v128.load(g), v128.load(b), v128.load(a));
  storeTurned(to + 64, 16, v128.load(rows, 16), v128.load(g, 16), v128.load(b, 16), v128.load(a, 16));
}

/**
 * One resampling of all channels through the map. Bicubic (Catmull-Rom), each channel at its own place, or, where fringes are
 * wide, at several along the `spectrum`. `planes`: src as `split` leaves it. `outWidth`: width of dst; width and height are src's.
 */
export function warp(
  src: usize, planes: usize, dst: usize, width: i32, height: i32, outWidth: i32, map: usize, columns: i32, spacing: i32, black: i32, spectrum: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const plane = planeOf(width, height), pitch = pitchOf(width);
  const origin = planes + SURROUND * pitch + (SURROUND << 2);
  const spectral = load<f32>(spectrum) > 1;
  const cells = (outWidth + CELL - 1) / CELL;
  const last = scratch + FOUR_BYTES;
  const apart = <usize>cells << 5;
  const rows = last + 128, kinds = rows + 4 * apart, marks = kinds + apart, places = marks + <usize>cells * MARK;
  const below = places + <usize>(cells + 1) * PLACE;
  let known = -1; // the row of nodes the kinds are of
  for (let y = y0; y < y1; y++) {
    const j = y / spacing;
    if (j != known) {
      placesRow(map, columns, spacing, j, j * spacing, cells, places);
      placesRow(map, columns, spacing, j, (j + 1) * spacing, cells, below);
      kindsRow(places, below, cells, width, height, spectral, kinds);
      known = j;
    }
    placesRow(map, columns, spacing, j, y, cells, places);
    // Green comes last: alpha goes by its marks.
    channelRow(places, cells, kinds, origin, pitch, rows, marks, scratch);
    mendRow(places, cells, kinds, origin, pitch, rows, marks, scratch);
    channelRow(places + 8, cells, kinds, origin + 2 * plane, pitch, rows + 2 * apart, marks, scratch);
    mendRow(places + 8, cells, kinds, origin + 2 * plane, pitch, rows + 2 * apart, marks, scratch);
    channelRow(places + 4, cells, kinds, origin + plane, pitch, rows + apart, marks, scratch);
    mendRow(places + 4, cells, kinds, origin + plane, pitch, rows + apart, marks, scratch);
    alphaRow(places + 4, cells, kinds, origin + 3 * plane, pitch, rows + 3 * apart, marks);
    const row = dst + <usize>y * (<usize>outWidth << 4);
    for (let i = 0; i < cells; i++) {
      const count = min(CELL, outWidth - i * CELL);
      const at = row + (<usize>i << 7);
      // A last cell that reaches past the row's end is made apart.
      const to = count < CELL ? last : at;
      const place = places + <usize>i * PLACE;
      const kind = load<i32>(kinds + (<usize>i << 2));
      if (kind == PLAIN) joinCell(rows + (<usize>i << 5), apart, to);
      else if (kind == WIDE) wideCell(origin, plane, pitch, place, spectrum, scratch, to);
      else outerCell(src, width, height, place, count, black, spectral, spectrum, to);
      if (count < CELL) copy(at, to, <usize>count << 4);
    }
  }
}
