// Contrast by frequency, direction and image height: bands of the picture, each with a gain along the radius and one
// across it. What is coarse is made at half size (contrastLow), the rest at full size (contrast).

import { expandRow, F0, F1, F2 } from "./expand";
import { anglesRow, figuresBytes, gainAt, GAINS, GROUP, lane, lookUp, placesRow, step } from "./gains";
import { PAD } from "./rows";
import { add, mul, splat, sub, withAlpha } from "./simd";

// @ts-ignore: decorator
@inline function turnPixel(m0: usize, m1: usize, m2: usize, to: usize, half0: v128, half1: v128, half2: v128): void {
  v128.store(to, add(add(mul(v128.load(m0), half0), mul(v128.load(m1), half1)), mul(v128.load(m2), half2)));
}

// @ts-ignore: decorator
@inline function bandPixel(
  m0: usize,
  m1: usize,
  m2: usize,
  sharp: usize,
  bands: usize,
  mean0: v128,
  mean1: v128,
  edge: v128,
  centre: v128,
): void {
  const p0 = v128.load(m0);
  const p1 = v128.load(m1);
  const p2 = v128.load(m2);
  const edged = mul(p0, edge);
  v128.store(sharp, edged);
  v128.store(
    bands,
    withAlpha(add(add(p2, mul(edged, centre)), add(mul(sub(p0, p1), mean0), mul(sub(p1, p2), mean1))), p0),
  );
}

/**
 * One row of what differences are taken of, and of the bands' sum. With a cell more at either end, `turned` holds
 * half_0 m0 + half_1 m1 + half_2 m2, `sharp` edge m0; `bands` m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2) + `centre` edge
 * m0, and m0's alpha. Whole groups are made, in two turns so that all gains stay in registers; rows have room for the
 * last one.
 */
function weighFine(
  m0: usize,
  m1: usize,
  m2: usize,
  turned: usize,
  sharp: usize,
  bands: usize,
  width: i32,
  record: usize,
  offsets: usize,
  fractions: usize,
  centre: v128,
  gains: usize,
): void {
  let from = gains;
  let to = gains + GAINS / 2;
  lookUp(record, offsets, fractions, 0, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, offsets, fractions, <usize>(x / GROUP + 1), to);
    const o = (<usize>x) << 4;
    const a = m0 + o;
    const b = m1 + o;
    const c = m2 + o;
    const t = turned + 16 + o;
    const s = sharp + 16 + o;
    const n = bands + o;
    const half0 = lane(from, 4);
    const half1 = lane(from, 5);
    const half2 = lane(from, 6);
    const turn0 = step(from, to, 4);
    const turn1 = step(from, to, 5);
    const turn2 = step(from, to, 6);
    // Beyond the frame stands its last pixel, with the gains of that place: an even field stays even to its edges.
    if (x == 0) turnPixel(a, b, c, t - 16, sub(half0, turn0), sub(half1, turn1), sub(half2, turn2));
    const near0 = add(half0, turn0);
    const near1 = add(half1, turn1);
    const near2 = add(half2, turn2);
    turnPixel(a, b, c, t, half0, half1, half2);
    turnPixel(a + 16, b + 16, c + 16, t + 16, near0, near1, near2);
    const far0 = add(near0, turn0);
    const far1 = add(near1, turn1);
    const far2 = add(near2, turn2);
    turnPixel(a + 32, b + 32, c + 32, t + 32, far0, far1, far2);
    turnPixel(a + 48, b + 48, c + 48, t + 48, add(far0, turn0), add(far1, turn1), add(far2, turn2));
    const mean0 = lane(from, 0);
    const mean1 = lane(from, 1);
    const edge = lane(from, 9);
    const more0 = step(from, to, 0);
    const more1 = step(from, to, 1);
    const moreEdge = step(from, to, 9);
    if (x == 0) v128.store(s - 16, mul(v128.load(a), sub(edge, moreEdge)));
    const nearMean0 = add(mean0, more0);
    const nearMean1 = add(mean1, more1);
    const nearEdge = add(edge, moreEdge);
    bandPixel(a, b, c, s, n, mean0, mean1, edge, centre);
    bandPixel(a + 16, b + 16, c + 16, s + 16, n + 16, nearMean0, nearMean1, nearEdge, centre);
    const farMean0 = add(nearMean0, more0);
    const farMean1 = add(nearMean1, more1);
    const farEdge = add(nearEdge, moreEdge);
    bandPixel(a + 32, b + 32, c + 32, s + 32, n + 32, farMean0, farMean1, farEdge, centre);
    bandPixel(
      a + 48,
      b + 48,
      c + 48,
      s + 48,
      n + 48,
      add(farMean0, more0),
      add(farMean1, more1),
      add(farEdge, moreEdge),
      centre,
    );
    if (x + GROUP >= width) {
      const count = width - x;
      const end = (<usize>(width - 1)) << 4;
      turnPixel(
        m0 + end,
        m1 + end,
        m2 + end,
        turned + 32 + end,
        gainAt(from, to, 4, count),
        gainAt(from, to, 5, count),
        gainAt(from, to, 6, count),
      );
      v128.store(sharp + 32 + end, mul(v128.load(m0 + end), gainAt(from, to, 9, count)));
    }
    const swap = from;
    from = to;
    to = swap;
  }
}

// @ts-ignore: decorator
@inline function turnCoarse(m3: usize, m4: usize, to: usize, half3: v128, half4: v128): void {
  v128.store(to, add(mul(v128.load(m3), half3), mul(v128.load(m4), half4)));
}

// @ts-ignore: decorator
@inline function bandCoarse(m2: usize, m3: usize, m4: usize, bands: usize, mean2: v128, mean3: v128, base: v128): void {
  const p3 = v128.load(m3);
  const p4 = v128.load(m4);
  v128.store(
    bands,
    withAlpha(add(add(mul(sub(v128.load(m2), p3), mean2), mul(sub(p3, p4), mean3)), mul(p4, base)), base),
  );
}

/**
 * The same at half size, of m2 reduced and the two coarse members: half_3 m3 + half_4 m4, and (mean_2 - 1) (m2 - m3) +
 * (mean_3 - 1) (m3 - m4) + base m4, with base as alpha. */
function weighCoarse(
  m2: usize,
  m3: usize,
  m4: usize,
  turned: usize,
  bands: usize,
  width: i32,
  record: usize,
  offsets: usize,
  fractions: usize,
  gains: usize,
): void {
  const one = splat(1);
  let from = gains;
  let to = gains + GAINS / 2;
  lookUp(record, offsets, fractions, 0, from);
  for (let x = 0; x < width; x += GROUP) {
    lookUp(record, offsets, fractions, <usize>(x / GROUP + 1), to);
    const o = (<usize>x) << 4;
    const a = m2 + o;
    const b = m3 + o;
    const c = m4 + o;
    const t = turned + 16 + o;
    const n = bands + o;
    const half3 = lane(from, 7);
    const half4 = lane(from, 8);
    const turn3 = step(from, to, 7);
    const turn4 = step(from, to, 8);
    if (x == 0) turnCoarse(b, c, t - 16, sub(half3, turn3), sub(half4, turn4));
    const near3 = add(half3, turn3);
    const near4 = add(half4, turn4);
    const far3 = add(near3, turn3);
    const far4 = add(near4, turn4);
    turnCoarse(b, c, t, half3, half4);
    turnCoarse(b + 16, c + 16, t + 16, near3, near4);
    turnCoarse(b + 32, c + 32, t + 32, far3, far4);
    turnCoarse(b + 48, c + 48, t + 48, add(far3, turn3), add(far4, turn4));
    const mean2 = sub(lane(from, 2), one);
    const mean3 = sub(lane(from, 3), one);
    const base = lane(from, 11);
    const more2 = step(from, to, 2);
    const more3 = step(from, to, 3);
    const moreBase = step(from, to, 11);
    const nearMean2 = add(mean2, more2);
    const nearMean3 = add(mean3, more3);
    const nearBase = add(base, moreBase);
    bandCoarse(a, b, c, n, mean2, mean3, base);
    bandCoarse(a + 16, b + 16, c + 16, n + 16, nearMean2, nearMean3, nearBase);
    const farMean2 = add(nearMean2, more2);
    const farMean3 = add(nearMean3, more3);
    const farBase = add(nearBase, moreBase);
    bandCoarse(a + 32, b + 32, c + 32, n + 32, farMean2, farMean3, farBase);
    bandCoarse(a + 48, b + 48, c + 48, n + 48, add(farMean2, more2), add(farMean3, more3), add(farBase, moreBase));
    if (x + GROUP >= width) {
      const count = width - x;
      const end = (<usize>(width - 1)) << 4;
      turnCoarse(m3 + end, m4 + end, turned + 32 + end, gainAt(from, to, 7, count), gainAt(from, to, 8, count));
    }
    const swap = from;
    from = to;
    to = swap;
  }
}

/**
 * cos 2phi (dxx - dyy) + 2 sin 2phi dxy: the second derivative along the radius less that across it, of rows with a
 * cell more at either end. `cosX`, `cosY`: the cosine times either direction's factor; `own`: twice their difference.
 */
// @ts-ignore: decorator
@inline function directed(r: usize, u: usize, d: usize, cosX: v128, cosY: v128, own: v128, sin2: v128): v128 {
  const along = sub(mul(add(v128.load(r), v128.load(r, 32)), cosX), mul(add(v128.load(u, 16), v128.load(d, 16)), cosY));
  const across = sub(add(v128.load(d, 32), v128.load(u)), add(v128.load(d), v128.load(u, 32)));
  return add(sub(along, mul(v128.load(r, 16), own)), mul(across, sin2));
}

/** Rows kept around the one that is made: of each kind four, found by the low bits of their number. */
// @ts-ignore: decorator
@inline function slot(rows: usize, y: i32, bytes: usize): usize {
  return rows + <usize>(y & 3) * bytes;
}

// @ts-ignore: decorator
@inline function lowPixel(
  sum: usize,
  here: usize,
  up: usize,
  down: usize,
  to: usize,
  cosX: v128,
  cosY: v128,
  turn: v128,
  sin2: v128,
): void {
  const bands = v128.load(sum);
  v128.store(to, withAlpha(sub(bands, directed(here, up, down, cosX, cosY, turn, sin2)), bands));
}

/**
 * The coarse part, at half size: (mean_2 - 1) (m2 - m3) + (mean_3 - 1) (m3 - m4) + base m4, less (d_rr - d_tt) of
 * half_3 m3 + half_4 m4; m2 is the full-size member reduced. Its alpha is base: the share of the light that comes from
 * here. The axis and the pitches of the record are those of this size.
 */
export function contrastLow(
  m2: usize,
  m3: usize,
  m4: usize,
  dst: usize,
  width: i32,
  height: i32,
  record: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const stride = (<usize>width) << 4;
  const room = (<usize>((width + 3) & ~3)) << 4;
  const padded = room + 32;
  const offsets = scratch + GAINS;
  const fractions = offsets + figuresBytes(width);
  const cosines = fractions + figuresBytes(width);
  const sines = cosines + figuresBytes(width);
  const turned = sines + figuresBytes(width);
  const bands = turned + 4 * padded;
  const sx = v128.load32_splat(record, 24);
  const sy = v128.load32_splat(record, 28);
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const row = <usize>min(max(next, 0), height - 1) * stride;
      placesRow(record, width, next, offsets, fractions);
      weighCoarse(
        m2 + row,
        m3 + row,
        m4 + row,
        slot(turned, next, padded),
        slot(bands, next, room),
        width,
        record,
        offsets,
        fractions,
        scratch,
      );
    }
    const up = slot(turned, y - 1, padded);
    const here = slot(turned, y, padded);
    const down = slot(turned, y + 1, padded);
    const sum = slot(bands, y, room);
    const to = dst + <usize>y * stride;
    anglesRow(record, width, y, cosines, sines);
    for (let x = 0; x < width; x += GROUP) {
      const cos2 = v128.load32_splat(cosines + <usize>x);
      const sin2 = v128.load32_splat(sines + <usize>x);
      const cosX = mul(cos2, sx);
      const cosY = mul(cos2, sy);
      const difference = sub(cosX, cosY);
      const turn = add(difference, difference);
      if (x + GROUP <= width) {
        const o = (<usize>x) << 4;
        const s = sum + o;
        const h = here + o;
        const u = up + o;
        const d = down + o;
        const t = to + o;
        lowPixel(s, h, u, d, t, cosX, cosY, turn, sin2);
        lowPixel(s + 16, h + 16, u + 16, d + 16, t + 16, cosX, cosY, turn, sin2);
        lowPixel(s + 32, h + 32, u + 32, d + 32, t + 32, cosX, cosY, turn, sin2);
        lowPixel(s + 48, h + 48, u + 48, d + 48, t + 48, cosX, cosY, turn, sin2);
      } else {
        for (let o = (<usize>x) << 4; o < stride; o += 16)
          lowPixel(sum + o, here + o, up + o, down + o, to + o, cosX, cosY, turn, sin2);
      }
    }
  }
}

/** One pixel of the result: what it is made of stands at the pointers, of the rows of differences a cell before. */
// @ts-ignore: decorator
@inline function finishPixel(
  sum: usize,
  near: usize,
  middle: usize,
  far: usize,
  own: usize,
  above: usize,
  below: usize,
  here: usize,
  up: usize,
  down: usize,
  to: usize,
  sx: v128,
  sy: v128,
  cosX: v128,
  cosY: v128,
  turn: v128,
  sin2: v128,
): void {
  const expanded = add(
    add(mul(v128.load(near), splat(F1)), mul(v128.load(middle), splat(F0))),
    mul(v128.load(far), splat(F2)),
  );
  const fine = v128.load(sum);
  v128.store(
    to,
    withAlpha(add(expanded, mul(fine, sub(splat(1), v128.shuffle<f32>(expanded, expanded, 3, 3, 3, 3)))), fine),
  );
  const edges = add(
    mul(add(v128.load(own), v128.load(own + 32)), sx),
    mul(add(v128.load(above), v128.load(below)), sy),
  );
  const soft = v128.load(to);
  v128.store(to, sub(soft, edges));
  const rest = sub(v128.load(to), directed(here, up, down, cosX, cosY, turn, sin2));
  v128.store(to, withAlpha(rest, soft));
}

/**
 * One row of the result of what the rows around it hold. Exported so that it stays a function of its own: within the
 * loop over rows its addresses would be made anew for every group.
 */
function finishRow(
  sum: usize,
  near: usize,
  middle: usize,
  far: usize,
  own: usize,
  above: usize,
  below: usize,
  here: usize,
  up: usize,
  down: usize,
  cosines: usize,
  sines: usize,
  sx: v128,
  sy: v128,
  width: i32,
  to: usize,
): void {
  for (let x = 0; x < width; x += GROUP) {
    const cos2 = v128.load32_splat(cosines + <usize>x);
    const sin2 = v128.load32_splat(sines + <usize>x);
    const cosX = mul(cos2, sx);
    const cosY = mul(cos2, sy);
    const difference = sub(cosX, cosY);
    const turn = add(difference, difference);
    if (x + GROUP <= width) {
      const o = (<usize>x) << 4;
      const a = sum + o;
      const b = near + o;
      const c = middle + o;
      const d = far + o;
      const e = own + o;
      const f = above + o;
      const g = below + o;
      const h = here + o;
      const i = up + o;
      const j = down + o;
      const t = to + o;
      finishPixel(a, b, c, d, e, f, g, h, i, j, t, sx, sy, cosX, cosY, turn, sin2);
      finishPixel(
        a + 16,
        b + 16,
        c + 16,
        d + 16,
        e + 16,
        f + 16,
        g + 16,
        h + 16,
        i + 16,
        j + 16,
        t + 16,
        sx,
        sy,
        cosX,
        cosY,
        turn,
        sin2,
      );
      finishPixel(
        a + 32,
        b + 32,
        c + 32,
        d + 32,
        e + 32,
        f + 32,
        g + 32,
        h + 32,
        i + 32,
        j + 32,
        t + 32,
        sx,
        sy,
        cosX,
        cosY,
        turn,
        sin2,
      );
      finishPixel(
        a + 48,
        b + 48,
        c + 48,
        d + 48,
        e + 48,
        f + 48,
        g + 48,
        h + 48,
        i + 48,
        j + 48,
        t + 48,
        sx,
        sy,
        cosX,
        cosY,
        turn,
        sin2,
      );
    } else {
      for (let o = (<usize>x) << 4; o < (<usize>width) << 4; o += 16)
        finishPixel(
          sum + o,
          near + o,
          middle + o,
          far + o,
          own + o,
          above + o,
          below + o,
          here + o,
          up + o,
          down + o,
          to + o,
          sx,
          sy,
          cosX,
          cosY,
          turn,
          sin2,
        );
    }
  }
}

/**
 * dst = low, expanded from half the size, + (1 - its alpha) (m2 + mean_0 (m0 - m1) + mean_1 (m1 - m2)), less (d_rr -
 * d_tt) of half_0 m0 + half_1 m1 + half_2 m2, less d_xx + d_yy of edge m0: second derivatives along the radius and
 * across it tell the two directions apart.
 */
export function contrast(
  m0: usize,
  m1: usize,
  m2: usize,
  low: usize,
  lowWidth: i32,
  lowHeight: i32,
  edgeX: f32,
  edgeY: f32,
  dst: usize,
  width: i32,
  height: i32,
  record: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const stride = (<usize>width) << 4;
  const room = (<usize>((width + 3) & ~3)) << 4;
  const padded = room + 32;
  const offsets = scratch + GAINS;
  const fractions = offsets + figuresBytes(width);
  const cosines = fractions + figuresBytes(width);
  const sines = cosines + figuresBytes(width);
  const turned = sines + figuresBytes(width);
  const sharp = turned + 4 * padded;
  const bands = sharp + 4 * padded;
  const brought = bands + 4 * room;
  const doubled = brought + ((<usize>(lowWidth + 2 * PAD)) << 4);
  const sx = v128.load32_splat(record, 24);
  const sy = v128.load32_splat(record, 28);
  const centre = add(add(sx, sy), add(sx, sy));
  let coarse = (y0 >> 1) - 1;
  let next = y0 - 1;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + 1; next++) {
      const row = <usize>min(max(next, 0), height - 1) * stride;
      placesRow(record, width, next, offsets, fractions);
      weighFine(
        m0 + row,
        m1 + row,
        m2 + row,
        slot(turned, next, padded),
        slot(sharp, next, padded),
        slot(bands, next, room),
        width,
        record,
        offsets,
        fractions,
        centre,
        scratch,
      );
    }
    for (; coarse <= (y >> 1) + 1; coarse++)
      expandRow(low, lowWidth, lowHeight, edgeX, edgeY, coarse, brought, slot(doubled, coarse, stride), width);
    // Even rows lie nearer the cell before, odd ones nearer the one after.
    const middle = slot(doubled, y >> 1, stride);
    const near = slot(doubled, (y >> 1) + (y & 1 ? 1 : -1), stride);
    const far = slot(doubled, (y >> 1) - (y & 1 ? 1 : -1), stride);
    const sum = slot(bands, y, room);
    const to = dst + <usize>y * stride;
    anglesRow(record, width, y, cosines, sines);
    const up = slot(turned, y - 1, padded);
    const here = slot(turned, y, padded);
    const down = slot(turned, y + 1, padded);
    finishRow(
      sum,
      near,
      middle,
      far,
      slot(sharp, y, padded),
      slot(sharp, y - 1, padded) + 16,
      slot(sharp, y + 1, padded) + 16,
      here,
      up,
      down,
      cosines,
      sines,
      sx,
      sy,
      width,
      to,
    );
  }
}
