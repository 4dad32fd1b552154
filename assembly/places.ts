// Where a row of the warp's output comes from: places at either end of every cell of eight pixels, from the nodes of
// the map; and which cells are made in which way.

import { SURROUND } from "./planes";
import { add, mul, splat, sub } from "./simd";
import { FRINGE_BEGINS, fringeSquared } from "./spectrum";

/** Pixels of a cell: the places within one lie evenly on a line. */
export const CELL: i32 = 8;
// @ts-ignore: decorator
@lazy export const UNIT: f32 = <f32>1.0 / <f32>CELL;

/**
 * Bytes of a place, one at either end of every cell: where R, G, B and (again) G come from, x, then y (px); then the
 * square of how far apart red and blue are (px^2), what green's y changes by from row to row, and two of nothing.
 */
export const PLACE: usize = 48;
const APART: usize = 32;
export const DOWN: usize = 36;

/** The places of row `y`, between the rows `j` and `j + 1` of the map's nodes. */
export function placesRow(map: usize, columns: i32, spacing: i32, j: i32, y: i32, cells: i32, places: usize): void {
  const unit = <f32>1.0 / <f32>spacing;
  const down = splat(<f32>(y - j * spacing) * unit);
  const below = (<usize>columns) << 5;
  let node = map + ((<usize>(j * columns)) << 5);
  let past = 0;
  for (let i = 0, at = places; i <= cells; i++, at += PLACE) {
    const along = splat(<f32>past * unit);
    const lower = node + below;
    const x = between(v128.load(node), v128.load(node, 32), along);
    const v = between(v128.load(node, 16), v128.load(node, 48), along);
    const lowerX = between(v128.load(lower), v128.load(lower, 32), along);
    const lowerV = between(v128.load(lower, 16), v128.load(lower, 48), along);
    const hereX = between(x, lowerX, down);
    const hereV = between(v, lowerV, down);
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
@inline export function between(a: v128, b: v128, t: v128): v128 {
  return add(a, mul(sub(b, a), t));
}

// A list of cells, in order: how many, then the number of each.
// @ts-ignore: decorator
@inline export function listBytes(cells: i32): usize {
  return (<usize>(cells + 1)) << 2;
}
// @ts-ignore: decorator
@inline export function firstOf(list: usize): usize {
  return list + 4;
}
// @ts-ignore: decorator
@inline export function endOf(list: usize): usize {
  return list + 4 + ((<usize>load<i32>(list)) << 2);
}
// @ts-ignore: decorator
@inline function append(list: usize, cell: i32): void {
  store<i32>(endOf(list), cell);
  store<i32>(list, load<i32>(list) + 1);
}

/** Source pixels an output pixel above which the cubic is widened against aliasing. */
export const SHRINKS: f32 = 1.15;

/** How far apart red and blue are in a cell, at most, squared, px^2. */
// @ts-ignore: decorator
@inline export function apartIn(place: usize): f32 {
  return max(load<f32>(place, APART), load<f32>(place, PLACE + APART));
}

// @ts-ignore: decorator
@inline function least(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
}
// @ts-ignore: decorator
@inline function most(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
}

/** How far green lies from the middle between red and blue, px, across or down. */
// @ts-ignore: decorator
@inline function bendOf(x: v128, v: v128): f32 {
  const across = <f32>0.5 * (f32x4.extract_lane(x, 0) + f32x4.extract_lane(x, 2)) - f32x4.extract_lane(x, 1);
  const down = <f32>0.5 * (f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 2)) - f32x4.extract_lane(v, 1);
  return max(abs(across), abs(down));
}

/**
 * How far the spectrum's ends lie beyond red and blue, px, at most: it ends at twice their distance from green, along
 * the parabola through the three (assembly/spectrum.ts), whose bend has grown by three by then.
 */
// @ts-ignore: decorator
@inline function beyondChannels(apart: f32, bend: f32): f32 {
  return ceil(<f32>0.5 * apart + <f32>3.0 * bend);
}

/**
 * Lists how the cells are to be made in all rows between two of the map's nodes, from the places above and below: each
 * channel from its plane (`plain`), along the spectrum from the planes (`wide`), or pixel by pixel from the picture
 * (`outer`).
 */
export function sortCells(
  above: usize,
  below: usize,
  cells: i32,
  width: i32,
  height: i32,
  spectral: bool,
  plain: usize,
  wide: usize,
  outer: usize,
): void {
  store<i32>(plain, 0);
  store<i32>(wide, 0);
  store<i32>(outer, 0);
  const firstPlace = splat(<f32>1.0 - <f32>SURROUND);
  const lastX = splat(<f32>(width + SURROUND - 3));
  const lastY = splat(<f32>(height + SURROUND - 3));
  for (let i = 0, at = above, under = below; i < cells; i++, at += PLACE, under += PLACE) {
    const x0 = v128.load(at);
    const v0 = v128.load(at, 16);
    const x1 = v128.load(at, PLACE);
    const v1 = v128.load(at, PLACE + 16);
    const x2 = v128.load(under);
    const v2 = v128.load(under, 16);
    const x3 = v128.load(under, PLACE);
    const v3 = v128.load(under, PLACE + 16);
    const across =
      max(abs(load<f32>(at, PLACE + 4) - load<f32>(at, 4)), abs(load<f32>(under, PLACE + 4) - load<f32>(under, 4))) *
      UNIT;
    const shrinks = max(across, max(abs(load<f32>(at, DOWN)), abs(load<f32>(at, PLACE + DOWN)))) > SHRINKS;
    const apart: f32 = spectral ? max(apartIn(at), apartIn(under)) : 0;
    const fringed = apart > FRINGE_BEGINS * FRINGE_BEGINS;
    const margin = splat(
      fringed
        ? beyondChannels(sqrt(apart), max(max(bendOf(x0, v0), bendOf(x1, v1)), max(bendOf(x2, v2), bendOf(x3, v3))))
        : <f32>0.0,
    );
    // Places between the four lie within their bounds, so what holds at the corners holds everywhere.
    const first = add(firstPlace, margin);
    const left = f32x4.ge(least(x0, x1, x2, x3), first);
    const top = f32x4.ge(least(v0, v1, v2, v3), first);
    const right = f32x4.lt(most(x0, x1, x2, x3), sub(lastX, margin));
    const bottom = f32x4.lt(most(v0, v1, v2, v3), sub(lastY, margin));
    const inner = !shrinks && i32x4.all_true(v128.and(v128.and(left, top), v128.and(right, bottom)));
    append(inner ? (fringed ? wide : plain) : outer, i);
  }
}
