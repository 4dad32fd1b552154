// The one resampling through a map (assembly/geometry.ts): bicubic, each channel at its own place. Rows are made in
// cells of eight pixels: from planes a channel's row after the other (along the spectrum once for each of its taps),
// or, further beyond the frame's edge and where the picture shrinks, a pixel at a time.

import { coverage, fetchFour, fetchOuter, FOUR_BYTES, weighFour } from "./cubic";
import {
  apartIn,
  between,
  CELL,
  DOWN,
  endOf,
  firstOf,
  listBytes,
  PLACE,
  placesRow,
  SHRINKS,
  sortCells,
  UNIT,
} from "./places";
import { originOf, pitchOf, planeOf, SURROUND } from "./planes";
import { add, copy, integer, mul, splat, storeTurned, sub } from "./simd";
import { FRINGE_BEGINS, fetchSpectrum, spectralPlace, tapAt, tapsOf, weightOf } from "./spectrum";

/** Whether four offsets lie within a pixel, across and down: then the taps of the four are neighbours. */
// @ts-ignore: decorator
@inline function within(tx: v128, ty: v128): bool {
  return i32x4.all_true(v128.and(f32x4.ge(f32x4.pmin(tx, ty), splat(0)), f32x4.lt(f32x4.pmax(tx, ty), splat(1))));
}

/**
 * Bytes of what a channel's row leaves for each cell: where its first sample stands, and of its fours, whether their
 * taps are not neighbours.
 */
const MARK: usize = 16;

/**
 * One channel's part of the listed cells of a row, as though the taps of every four pixels were neighbours. `origin`:
 * of the channel's plane.
 */
function channelRow(
  places: usize,
  list: usize,
  origin: usize,
  pitch: usize,
  row: usize,
  marks: usize,
  scratch: usize,
): void {
  const corner = origin - pitch - 4;
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const i = <usize>load<i32>(entry);
    const at = places + i * PLACE;
    const x0 = load<f32>(at);
    const v0 = load<f32>(at, 16);
    const growth = splat((load<f32>(at, PLACE) - x0) * UNIT - 1);
    const fall = splat((load<f32>(at, PLACE + 16) - v0) * UNIT);
    const floorX = floor(x0);
    const floorY = floor(v0);
    const tx = splat(x0 - floorX);
    const ty = splat(v0 - floorY);
    const offset = integer(floorY) * <i32>pitch + (integer(floorX) << 2);
    const from = corner + <usize>offset;
    const to = row + (i << 5);
    const mark = marks + i * MARK;
    const near = f32x4(0, 1, 2, 3);
    const far = f32x4(4, 5, 6, 7);
    const tx0 = add(tx, mul(growth, near));
    const ty0 = add(ty, mul(fall, near));
    const tx1 = add(tx, mul(growth, far));
    const ty1 = add(ty, mul(fall, far));
    const nearApart = within(tx0, ty0) ? 0 : 1;
    const farApart = within(tx1, ty1) ? 0 : 1;
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
function mendRow(
  places: usize,
  list: usize,
  origin: usize,
  pitch: usize,
  row: usize,
  marks: usize,
  scratch: usize,
): void {
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const i = <usize>load<i32>(entry);
    const place = places + i * PLACE;
    const mark = marks + i * MARK;
    const to = row + (i << 5);
    if (load<i32>(mark, 4))
      v128.store(to, fetchFour(origin, pitch, placesOf(place, 0), placesOf(place + 16, 0), scratch));
    if (load<i32>(mark, 8))
      v128.store(to, fetchFour(origin, pitch, placesOf(place, 4), placesOf(place + 16, 4), scratch), 16);
  }
}

/** Red, blue and green of the listed cells, rows `apart` bytes from one another; marks are those of the last. */
function channelRows(
  places: usize,
  list: usize,
  origin: usize,
  plane: usize,
  pitch: usize,
  rows: usize,
  apart: usize,
  marks: usize,
  scratch: usize,
): void {
  channelRow(places, list, origin, pitch, rows, marks, scratch);
  mendRow(places, list, origin, pitch, rows, marks, scratch);
  channelRow(places + 8, list, origin + 2 * plane, pitch, rows + 2 * apart, marks, scratch);
  mendRow(places + 8, list, origin + 2 * plane, pitch, rows + 2 * apart, marks, scratch);
  channelRow(places + 4, list, origin + plane, pitch, rows + apart, marks, scratch);
  mendRow(places + 4, list, origin + plane, pitch, rows + apart, marks, scratch);
}

/** One coordinate of four pixels of a cell, from pixel `k` of it on. */
// @ts-ignore: decorator
@inline function placesOf(coordinate: usize, k: i32): v128 {
  const along = mul(add(splat(<f32>k), f32x4(0, 1, 2, 3)), splat(UNIT));
  return between(v128.load32_splat(coordinate), v128.load32_splat(coordinate, PLACE), along);
}

/** The alpha of the listed cells, where green comes from: by the same cubic, held to coverage. */
function alphaRow(
  places: usize,
  list: usize,
  origin: usize,
  pitch: usize,
  row: usize,
  marks: usize,
  scratch: usize,
): void {
  channelRow(places, list, origin, pitch, row, marks, scratch);
  mendRow(places, list, origin, pitch, row, marks, scratch);
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const to = row + ((<usize>load<i32>(entry)) << 5);
    v128.store(to, coverage(v128.load(to)));
    v128.store(to, coverage(v128.load(to, 16)), 16);
  }
}

/** Beyond any row: where no cells are listed. */
const NO_ROW: i32 = 1 << 24;

/** The first row (0) and the last (1) of a plane that the listed cells' green is fetched from. */
function reachOf(places: usize, list: usize, side: i32): i32 {
  const end = endOf(list);
  let low: f32 = Infinity;
  let high: f32 = -Infinity;
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const at = places + <usize>load<i32>(entry) * PLACE + 20;
    const a = load<f32>(at);
    const b = load<f32>(at, PLACE);
    low = min(low, min(a, b));
    high = max(high, max(a, b));
  }
  if (low > high) return side ? -NO_ROW : NO_ROW;
  return side ? <i32>Mathf.floor(high) + 2 : <i32>Mathf.floor(low) - 1;
}

/** Whether every sample of a plane's rows, `first` to `last`, and their surround is 1. */
function isOpaque(origin: usize, pitch: usize, first: i32, last: i32): bool {
  const one = splat(1);
  for (let y = first; y <= last; y++) {
    const row = origin + <usize>(y * <i32>pitch) - ((<usize>SURROUND) << 2);
    let o: usize = 0;
    for (; o + 16 <= pitch; o += 16) if (!i32x4.all_true(f32x4.eq(v128.load(row + o), one))) return false;
    for (; o < pitch; o += 4) if (load<f32>(row + o) != 1) return false;
  }
  return true;
}

/** Ones for the listed cells. */
function opaqueRow(list: usize, row: usize): void {
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const to = row + ((<usize>load<i32>(entry)) << 5);
    v128.store(to, splat(1));
    v128.store(to, splat(1), 16);
  }
}

/** The places of the listed cells' ends for one tap of the spectrum: each channel's part of it, lanes R, G, B. */
function tapPlaces(places: usize, list: usize, spectrum: usize, tap: usize, to: usize): void {
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const i = <usize>load<i32>(entry);
    const from = places + i * PLACE;
    const at = to + i * PLACE;
    spectralPlace(v128.load(from), v128.load(from, 16), spectrum, tap, at);
    spectralPlace(v128.load(from, PLACE), v128.load(from, PLACE + 16), spectrum, tap, at + PLACE);
  }
}

/** Adds the listed cells of one row to another's, weighed; or puts them there. */
function addCells(list: usize, from: usize, to: usize, weight: v128, anew: bool): void {
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const o = (<usize>load<i32>(entry)) << 5;
    const near = mul(v128.load(from + o), weight);
    const far = mul(v128.load(from + o, 16), weight);
    v128.store(to + o, anew ? near : add(v128.load(to + o), near));
    v128.store(to + o, anew ? far : add(v128.load(to + o, 16), far), 16);
  }
}

/** `count` pixels further beyond the frame's edge, or where the picture shrinks. */
function outerCell(
  planes: usize,
  width: i32,
  height: i32,
  place: usize,
  count: i32,
  black: i32,
  spectrum: usize,
  scratch: usize,
  to: usize,
): void {
  const x0 = v128.load(place);
  const v0 = v128.load(place, 16);
  const stepX = mul(sub(v128.load(place, PLACE), x0), splat(UNIT));
  const stepY = mul(sub(v128.load(place, PLACE + 16), v0), splat(UNIT));
  const across = abs(f32x4.extract_lane(stepX, 1));
  const down = abs(load<f32>(place, DOWN));
  const shrinks = max(across, down) > SHRINKS;
  const sx = shrinks ? max(across, 1) : 1;
  const sy = shrinks ? max(down, 1) : 1;
  const wide = tapsOf(spectrum) > 1 && apartIn(place) > FRINGE_BEGINS * FRINGE_BEGINS;
  for (let k = 0; k < count; k++) {
    const px = add(x0, mul(stepX, splat(<f32>k)));
    const py = add(v0, mul(stepY, splat(<f32>k)));
    const light = wide
      ? fetchSpectrum(planes, width, height, px, py, sx, sy, black, spectrum, scratch)
      : fetchOuter(planes, width, height, px, py, sx, sy, black);
    v128.store(to + ((<usize>k) << 4), light);
  }
}

/**
 * The first `whole` cells' pixels, if they are listed, into the picture's row; a further one, which reaches past the
 * row's end, to `last`.
 */
function joinRow(list: usize, rows: usize, apart: usize, row: usize, whole: usize, last: usize): void {
  const end = endOf(list);
  for (let entry = firstOf(list); entry < end; entry += 4) {
    const i = <usize>load<i32>(entry);
    const r = rows + (i << 5);
    const g = r + apart;
    const b = g + apart;
    const a = b + apart;
    const to = i < whole ? row + (i << 7) : last;
    storeTurned(to, 16, v128.load(r), v128.load(g), v128.load(b), v128.load(a));
    storeTurned(to + 64, 16, v128.load(r, 16), v128.load(g, 16), v128.load(b, 16), v128.load(a, 16));
  }
}

/**
 * One resampling of all channels through the map. Bicubic (Catmull-Rom), each channel at its own place, or, where
 * fringes are wide, at several along the `spectrum`. `planes`: a picture of width by
 * height as `split` leaves it. `outWidth`: width of dst.
 */
export function warp(
  planes: usize,
  dst: usize,
  width: i32,
  height: i32,
  outWidth: i32,
  map: usize,
  columns: i32,
  spacing: i32,
  black: i32,
  spectrum: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const plane = planeOf(width, height);
  const pitch = pitchOf(width);
  const origin = originOf(planes, width);
  const taps = tapsOf(spectrum);
  const whole = outWidth / CELL;
  const left = outWidth - whole * CELL;
  const cells = left ? whole + 1 : whole;
  const last = scratch + FOUR_BYTES;
  const apart = (<usize>cells) << 5;
  const rows = last + (CELL << 4);
  const tapRows = rows + 4 * apart;
  const marks = tapRows + 4 * apart;
  const places = marks + <usize>cells * MARK;
  const below = places + <usize>(cells + 1) * PLACE;
  const plain = below + <usize>(cells + 1) * PLACE;
  const wide = plain + listBytes(cells);
  const outer = wide + listBytes(cells);
  let known = -1; // the row of nodes the lists are of
  let opaqueFrom = 0;
  let opaqueTo = -1; // rows of the alpha plane that are known to be opaque
  for (let y = y0; y < y1; y++) {
    const j = y / spacing;
    if (j != known) {
      placesRow(map, columns, spacing, j, j * spacing, cells, places);
      placesRow(map, columns, spacing, j, (j + 1) * spacing, cells, below);
      sortCells(places, below, cells, width, height, taps > 1, plain, wide, outer);
      known = j;
    }
    placesRow(map, columns, spacing, j, y, cells, places);
    channelRows(places, plain, origin, plane, pitch, rows, apart, marks, scratch);
    for (let k = 0; k < taps; k++) {
      const tap = tapAt(spectrum, k);
      const weight = weightOf(tap);
      tapPlaces(places, wide, spectrum, tap, below);
      channelRows(below, wide, origin, plane, pitch, tapRows, apart, marks, scratch);
      for (let c: usize = 0; c < 3; c++) addCells(wide, tapRows + c * apart, rows + c * apart, weight, !k);
    }
    // A picture that is opaque about here needs no resampling of it. Rows found so are not looked through again.
    const alpha = rows + 3 * apart;
    const alphaOrigin = origin + 3 * plane;
    const first = min(reachOf(places, plain, 0), reachOf(places, wide, 0));
    const lastRow = max(reachOf(places, plain, 1), reachOf(places, wide, 1));
    if (first < opaqueFrom || first > opaqueTo) {
      opaqueFrom = first;
      opaqueTo = first - 1;
    }
    if (lastRow > opaqueTo && isOpaque(alphaOrigin, pitch, opaqueTo + 1, lastRow)) opaqueTo = lastRow;
    if (opaqueTo >= lastRow) {
      opaqueRow(plain, alpha);
      opaqueRow(wide, alpha);
    } else {
      alphaRow(places + 4, plain, alphaOrigin, pitch, alpha, marks, scratch);
      alphaRow(places + 4, wide, alphaOrigin, pitch, alpha, marks, scratch);
    }
    const row = dst + <usize>y * ((<usize>outWidth) << 4);
    joinRow(plain, rows, apart, row, whole, last);
    joinRow(wide, rows, apart, row, whole, last);
    const end = endOf(outer);
    for (let entry = firstOf(outer); entry < end; entry += 4) {
      const i = load<i32>(entry);
      outerCell(
        planes,
        width,
        height,
        places + <usize>i * PLACE,
        i < whole ? CELL : left,
        black,
        spectrum,
        scratch,
        i < whole ? row + ((<usize>i) << 7) : last,
      );
    }
    copy(row + ((<usize>whole) << 7), last, (<usize>left) << 4);
  }
}
