// Separable filters and the pyramid. Every kernel takes whole frames and works on the rows [y0, y1) it is given; each
// row depends on the source only, so that the result is the same however the rows are shared out.
//
// Levels of the pyramid are cell-centred: cell j of a level covers cells 2j and 2j+1 of the level below, so a mirrored
// surround and the optical axis keep their place on every level.

import { bringEnds, bringRow, isDark, PAD, rowInPlace, STRIP } from "./rows";
import { add, clear, copy, mirror, mul, splat } from "./simd";

// Loops take four pixels a turn, each through one store: addresses are made once for the four, and what is loaded for
// one is used up before the next is. What is left of a row follows a pixel at a time.

// @ts-ignore: decorator
@inline function blur5(at: usize, to: usize, c0: v128, c1: v128, c2: v128): void {
  let sum = mul(v128.load(at), c0);
  sum = add(sum, mul(add(v128.load(at - 16), v128.load(at + 16)), c1));
  v128.store(to, add(sum, mul(add(v128.load(at - 32), v128.load(at + 32)), c2)));
}

// @ts-ignore: decorator
@inline function blur9(at: usize, to: usize, c0: v128, c1: v128, c2: v128, c3: v128, c4: v128): void {
  let sum = mul(v128.load(at), c0);
  sum = add(sum, mul(add(v128.load(at - 16), v128.load(at + 16)), c1));
  sum = add(sum, mul(add(v128.load(at - 32), v128.load(at + 32)), c2));
  sum = add(sum, mul(add(v128.load(at - 48), v128.load(at + 48)), c3));
  v128.store(to, add(sum, mul(add(v128.load(at - 64), v128.load(at + 64)), c4)));
}

function blurRow(
  row: usize,
  out: usize,
  width: i32,
  radius: i32,
  c0: v128,
  c1: v128,
  c2: v128,
  c3: v128,
  c4: v128,
): void {
  let at = row + (PAD << 4);
  let to = out;
  const fours = at + ((<usize>(width & ~3)) << 4);
  const end = at + ((<usize>width) << 4);
  if (radius <= 2) {
    for (; at < fours; at += 64, to += 64) {
      blur5(at, to, c0, c1, c2);
      blur5(at + 16, to + 16, c0, c1, c2);
      blur5(at + 32, to + 32, c0, c1, c2);
      blur5(at + 48, to + 48, c0, c1, c2);
    }
    for (; at < end; at += 16, to += 16) blur5(at, to, c0, c1, c2);
    return;
  }
  for (; at < fours; at += 64, to += 64) {
    blur9(at, to, c0, c1, c2, c3, c4);
    blur9(at + 16, to + 16, c0, c1, c2, c3, c4);
    blur9(at + 32, to + 32, c0, c1, c2, c3, c4);
    blur9(at + 48, to + 48, c0, c1, c2, c3, c4);
  }
  for (; at < end; at += 16, to += 16) blur9(at, to, c0, c1, c2, c3, c4);
}

// @ts-ignore: decorator
@inline function mix5(
  r: usize,
  a1: usize,
  b1: usize,
  a2: usize,
  b2: usize,
  to: usize,
  d0: v128,
  d1: v128,
  d2: v128,
): void {
  let sum = mul(v128.load(r), d0);
  sum = add(sum, mul(add(v128.load(a1), v128.load(b1)), d1));
  v128.store(to, add(sum, mul(add(v128.load(a2), v128.load(b2)), d2)));
}

/** A row of five rows weighed: the middle one, the two beside it, the two beside those. */
function mix5Rows(
  r: usize,
  a1: usize,
  b1: usize,
  a2: usize,
  b2: usize,
  to: usize,
  bytes: usize,
  d0: v128,
  d1: v128,
  d2: v128,
): void {
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const r_ = r + o;
    const a1_ = a1 + o;
    const b1_ = b1 + o;
    const a2_ = a2 + o;
    const b2_ = b2 + o;
    const to_ = to + o;
    mix5(r_, a1_, b1_, a2_, b2_, to_, d0, d1, d2);
    mix5(r_ + 16, a1_ + 16, b1_ + 16, a2_ + 16, b2_ + 16, to_ + 16, d0, d1, d2);
    mix5(r_ + 32, a1_ + 32, b1_ + 32, a2_ + 32, b2_ + 32, to_ + 32, d0, d1, d2);
    mix5(r_ + 48, a1_ + 48, b1_ + 48, a2_ + 48, b2_ + 48, to_ + 48, d0, d1, d2);
  }
  for (; o < bytes; o += 16) mix5(r + o, a1 + o, b1 + o, a2 + o, b2 + o, to + o, d0, d1, d2);
}

/**
 * Separable symmetric blur of up to 9 taps a direction. `taps`: ten floats, the centre and four outward for x, then for
 * y. Radius 2 or 4 for each direction, 0 leaves that direction alone. `key`: record of the highlight key, or 0.
 */
export function blur(
  src: usize,
  dst: usize,
  width: i32,
  height: i32,
  edgeX: f32,
  edgeY: f32,
  radiusX: i32,
  radiusY: i32,
  taps: usize,
  black: i32,
  key: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const rowBytes = (<usize>(width + 2 * PAD)) << 4;
  const ring = scratch + rowBytes;
  const stride = (<usize>width) << 4;
  const c0 = v128.load32_splat(taps);
  const c1 = v128.load32_splat(taps, 4);
  const c2 = v128.load32_splat(taps, 8);
  const c3 = v128.load32_splat(taps, 12);
  const c4 = v128.load32_splat(taps, 16);
  const d0 = v128.load32_splat(taps, 20);
  const d1 = v128.load32_splat(taps, 24);
  const d2 = v128.load32_splat(taps, 28);
  const d3 = v128.load32_splat(taps, 32);
  const d4 = v128.load32_splat(taps, 36);
  let next = y0 - radiusY;
  for (let y = y0; y < y1; y++) {
    for (; next <= y + radiusY; next++) {
      const out = ring + <usize>((next + 16) & 15) * stride;
      if (black && (next < 0 || next >= height)) {
        clear(out, stride);
        continue;
      }
      if (isDark(src, width, height, edgeY, next, key)) {
        clear(out, stride);
        continue;
      }
      const line = rowInPlace(src, width, height, edgeY, next, key);
      if (line && radiusX) {
        bringEnds(line, width, edgeX, scratch, black);
        blurRow(scratch, out, PAD, radiusX, c0, c1, c2, c3, c4);
        blurRow(line, out + (PAD << 4), width - 2 * PAD, radiusX, c0, c1, c2, c3, c4);
        blurRow(scratch + STRIP, out + ((<usize>(width - PAD)) << 4), PAD, radiusX, c0, c1, c2, c3, c4);
        continue;
      }
      bringRow(src, width, height, edgeX, edgeY, next, scratch, black, key);
      if (radiusX) blurRow(scratch, out, width, radiusX, c0, c1, c2, c3, c4);
      else copy(out, scratch + (PAD << 4), stride);
    }
    const to = dst + <usize>y * stride;
    const r0 = ring + <usize>((y + 16) & 15) * stride;
    if (!radiusY) {
      copy(to, r0, stride);
      continue;
    }
    const a1 = ring + <usize>((y + 15) & 15) * stride;
    const b1 = ring + <usize>((y + 17) & 15) * stride;
    const a2 = ring + <usize>((y + 14) & 15) * stride;
    const b2 = ring + <usize>((y + 18) & 15) * stride;
    if (radiusY <= 2) {
      mix5Rows(r0, a1, b1, a2, b2, to, stride, d0, d1, d2);
      continue;
    }
    const a3 = ring + <usize>((y + 13) & 15) * stride;
    const b3 = ring + <usize>((y + 19) & 15) * stride;
    const a4 = ring + <usize>((y + 12) & 15) * stride;
    const b4 = ring + <usize>((y + 20) & 15) * stride;
    for (let o: usize = 0; o < stride; o += 16) {
      let sum = mul(v128.load(r0 + o), d0);
      sum = add(sum, mul(add(v128.load(a1 + o), v128.load(b1 + o)), d1));
      sum = add(sum, mul(add(v128.load(a2 + o), v128.load(b2 + o)), d2));
      sum = add(sum, mul(add(v128.load(a3 + o), v128.load(b3 + o)), d3));
      sum = add(sum, mul(add(v128.load(a4 + o), v128.load(b4 + o)), d4));
      v128.store(to + o, sum);
    }
  }
}

/** A row, wherever it lies, blurred along itself by five taps into `out`. */
// @ts-ignore: decorator
@inline function blurLine(line: usize, width: i32, scratch: usize, out: usize, c0: v128, c1: v128, c2: v128): void {
  bringEnds(line, width, <f32>width, scratch, 0);
  blurRow(scratch, out, PAD, 2, c0, c1, c2, c2, c2);
  blurRow(line, out + (PAD << 4), width - 2 * PAD, 2, c0, c1, c2, c2, c2);
  blurRow(scratch + STRIP, out + ((<usize>(width - PAD)) << 4), PAD, 2, c0, c1, c2, c2, c2);
}

// @ts-ignore: decorator
@inline function slotOf(ring: usize, y: i32, height: i32, stride: usize): usize {
  return ring + <usize>(mirror(y, height) & 7) * stride;
}

/**
 * Two blurs of five taps, one after the other, in one going through a frame with 32 pixels a row or more, mirrored at
 * its edges: `first` of `src`, `second` of `first`. `taps`: six floats each, the centre and two outward for x, then for
 * y.
 */
export function blurTwice(
  src: usize,
  first: usize,
  second: usize,
  width: i32,
  height: i32,
  taps: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const stride = (<usize>width) << 4;
  const sources = scratch + 2 * STRIP;
  const firsts = sources + 8 * stride;
  const beside = firsts + 8 * stride;
  let nextSource = max(y0 - 4, 0);
  let nextFirst = max(y0 - 2, 0);
  for (let y = y0; y < y1; y++) {
    for (const last = min(y + 2, height - 1); nextFirst <= last; nextFirst++) {
      const m = nextFirst;
      for (const deepest = min(m + 2, height - 1); nextSource <= deepest; nextSource++) {
        blurLine(
          src + <usize>nextSource * stride,
          width,
          scratch,
          slotOf(sources, nextSource, height, stride),
          v128.load32_splat(taps),
          v128.load32_splat(taps, 4),
          v128.load32_splat(taps, 8),
        );
      }
      // Rows that another band writes are made here, too, and kept beside.
      const row = m >= y0 && m < y1 ? first + <usize>m * stride : beside;
      mix5Rows(
        slotOf(sources, m, height, stride),
        slotOf(sources, m - 1, height, stride),
        slotOf(sources, m + 1, height, stride),
        slotOf(sources, m - 2, height, stride),
        slotOf(sources, m + 2, height, stride),
        row,
        stride,
        v128.load32_splat(taps, 12),
        v128.load32_splat(taps, 16),
        v128.load32_splat(taps, 20),
      );
      blurLine(
        row,
        width,
        scratch,
        slotOf(firsts, m, height, stride),
        v128.load32_splat(taps, 24),
        v128.load32_splat(taps, 28),
        v128.load32_splat(taps, 32),
      );
    }
    mix5Rows(
      slotOf(firsts, y, height, stride),
      slotOf(firsts, y - 1, height, stride),
      slotOf(firsts, y + 1, height, stride),
      slotOf(firsts, y - 2, height, stride),
      slotOf(firsts, y + 2, height, stride),
      second + <usize>y * stride,
      stride,
      v128.load32_splat(taps, 36),
      v128.load32_splat(taps, 40),
      v128.load32_splat(taps, 44),
    );
  }
}

// The reduce filter [1 5 10 10 5 1]/32 between cells; its transfer cos^5 keeps aliasing under about 0.1 %.
const E0: f32 = 10.0 / 32.0;
const E1: f32 = 5.0 / 32.0;
const E2: f32 = 1.0 / 32.0;

// @ts-ignore: decorator
@inline function halvePixel(at: usize, to: usize, e0: v128, e1: v128, e2: v128): void {
  let sum = mul(add(v128.load(at), v128.load(at + 16)), e0);
  sum = add(sum, mul(add(v128.load(at - 16), v128.load(at + 32)), e1));
  v128.store(to, add(sum, mul(add(v128.load(at - 32), v128.load(at + 48)), e2)));
}

function halveRow(padded: usize, out: usize, halfWidth: i32): void {
  const e0 = splat(E0);
  const e1 = splat(E1);
  const e2 = splat(E2);
  let at = padded + (PAD << 4);
  let to = out;
  const fours = out + ((<usize>(halfWidth & ~3)) << 4);
  const end = out + ((<usize>halfWidth) << 4);
  for (; to < fours; at += 128, to += 64) {
    halvePixel(at, to, e0, e1, e2);
    halvePixel(at + 32, to + 16, e0, e1, e2);
    halvePixel(at + 64, to + 32, e0, e1, e2);
    halvePixel(at + 96, to + 48, e0, e1, e2);
  }
  for (; to < end; at += 32, to += 16) halvePixel(at, to, e0, e1, e2);
}

// @ts-ignore: decorator
@inline function mix6(
  a0: usize,
  b0: usize,
  a1: usize,
  b1: usize,
  a2: usize,
  b2: usize,
  to: usize,
  e0: v128,
  e1: v128,
  e2: v128,
): void {
  let sum = mul(add(v128.load(a0), v128.load(b0)), e0);
  sum = add(sum, mul(add(v128.load(a1), v128.load(b1)), e1));
  v128.store(to, add(sum, mul(add(v128.load(a2), v128.load(b2)), e2)));
}

/** Six rows halved to one: the two in the middle, the two around them, the two around those. */
function mix6Rows(a0: usize, b0: usize, a1: usize, b1: usize, a2: usize, b2: usize, to: usize, bytes: usize): void {
  const e0 = splat(E0);
  const e1 = splat(E1);
  const e2 = splat(E2);
  let o: usize = 0;
  for (; o + 64 <= bytes; o += 64) {
    const a = a0 + o;
    const b = b0 + o;
    const c = a1 + o;
    const d = b1 + o;
    const e = a2 + o;
    const f = b2 + o;
    const t = to + o;
    mix6(a, b, c, d, e, f, t, e0, e1, e2);
    mix6(a + 16, b + 16, c + 16, d + 16, e + 16, f + 16, t + 16, e0, e1, e2);
    mix6(a + 32, b + 32, c + 32, d + 32, e + 32, f + 32, t + 32, e0, e1, e2);
    mix6(a + 48, b + 48, c + 48, d + 48, e + 48, f + 48, t + 48, e0, e1, e2);
  }
  for (; o < bytes; o += 16) mix6(a0 + o, b0 + o, a1 + o, b1 + o, a2 + o, b2 + o, to + o, e0, e1, e2);
}

/** One level up the pyramid: `dst` is ceil(width/2) by ceil(height/2), or keeps a direction whose flag is 0. */
export function reduce(
  src: usize,
  dst: usize,
  width: i32,
  height: i32,
  edgeX: f32,
  edgeY: f32,
  halveX: i32,
  halveY: i32,
  black: i32,
  key: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const outWidth = halveX ? (width + 1) >> 1 : width;
  const outStride = (<usize>outWidth) << 4;
  const stride = (<usize>width) << 4;
  const ring = scratch + ((<usize>(width + 2 * PAD)) << 4);
  let next = halveY ? 2 * y0 - 2 : y0;
  for (let y = y0; y < y1; y++) {
    const last = halveY ? 2 * y + 3 : y;
    for (; next <= last; next++) {
      const out = ring + <usize>((next + 8) & 7) * outStride;
      if (black && (next < 0 || next >= height)) {
        clear(out, outStride);
        continue;
      }
      if (isDark(src, width, height, edgeY, next, key)) {
        clear(out, outStride);
        continue;
      }
      const line = rowInPlace(src, width, height, edgeY, next, key);
      if (line && halveX) {
        // The right end begins at a pair.
        const end = (width - PAD) & ~1;
        const half = (<usize>end) << 3;
        bringEnds(line, width, edgeX, scratch, black);
        halveRow(scratch, out, PAD >> 1);
        halveRow(line, out + (PAD << 3), (end - PAD) >> 1);
        halveRow(scratch + STRIP + ((<usize>(end + PAD - width)) << 4), out + half, outWidth - (end >> 1));
        continue;
      }
      bringRow(src, width, height, edgeX, edgeY, next, scratch, black, key);
      if (halveX) halveRow(scratch, out, outWidth);
      else copy(out, scratch + (PAD << 4), outStride);
    }
    const to = dst + <usize>y * outStride;
    if (!halveY) {
      copy(to, ring + <usize>((y + 8) & 7) * outStride, outStride);
      continue;
    }
    const m = 2 * y + 8;
    const a0 = ring + <usize>(m & 7) * outStride;
    const b0 = ring + <usize>((m + 1) & 7) * outStride;
    const a1 = ring + <usize>((m - 1) & 7) * outStride;
    const b1 = ring + <usize>((m + 2) & 7) * outStride;
    const a2 = ring + <usize>((m - 2) & 7) * outStride;
    const b2 = ring + <usize>((m + 3) & 7) * outStride;
    mix6Rows(a0, b0, a1, b1, a2, b2, to, outStride);
  }
}
