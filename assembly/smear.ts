// Smears along lines of any angle, along arcs about a centre, and towards it.

import { isBlack } from "./rows";
import { add, clear, integers, mirror, mul, splat, sub, withAlpha } from "./simd";

/** A place of a column of `src` (its `transpose`: of a row), linear between pixels; black outside. `i` counts along x of the skewed frame. */
// @ts-ignore: decorator
@inline function lineSample(src: usize, width: i32, height: i32, i: i32, place: f32, transpose: i32): v128 {
  const cell = <i32>Mathf.floor(place);
  const t = place - <f32>cell;
  const size = transpose ? width : height;
  let a = splat(0), b = splat(0);
  if (cell >= 0 && cell < size) a = v128.load(src + (<usize>(transpose ? i * width + cell : cell * width + i) << 4));
  if (cell + 1 >= 0 && cell + 1 < size) b = v128.load(src + (<usize>(transpose ? i * width + cell + 1 : (cell + 1) * width + i) << 4));
  return add(a, mul(sub(b, a), splat(t)));
}

/** Brings lines of `slope` onto rows: dst(x, j) = src(x, j - shift + slope x), or with x and y changed over where `transpose` is set. */
export function skew(
  src: usize, width: i32, height: i32, dst: usize, outWidth: i32, slope: f32, shift: f32, transpose: i32, scratch: usize, y0: i32, y1: i32,
): void {
  for (let j = y0; j < y1; j++)
    for (let x = 0; x < outWidth; x++)
      v128.store(dst + (<usize>(j * outWidth + x) << 4), lineSample(src, width, height, x, <f32>j - shift + slope * <f32>x, transpose));
}

/** The way back, added to `sum`: dst(x, y) = sum(x, y) + weight skewed(x, y + shift - slope x). `sum` 0 begins anew. */
export function unskew(
  skewed: usize, skewedWidth: i32, skewedHeight: i32, sum: usize, dst: usize, width: i32, slope: f32, shift: f32, transpose: i32, weight: usize,
  scratch: usize, y0: i32, y1: i32,
): void {
  const w = v128.load(weight);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x++) {
      const i = transpose ? y : x;
      const along = transpose ? x : y;
      const at = <usize>(y * width + x) << 4;
      const value = mul(lineSample(skewed, skewedWidth, skewedHeight, i, <f32>along + shift - slope * <f32>i, 0), w);
      v128.store(dst + at, sum ? add(v128.load(sum + at), value) : value);
    }
}

/** One-way exponential smear along rows, of unit sum: to the right, or with `backward` to the left. Black outside. */
export function trailRows(src: usize, dst: usize, width: i32, decay: usize, backward: i32, scratch: usize, y0: i32, y1: i32): void {
  const a = v128.load(decay);
  const gain = sub(splat(1), a);
  for (let y = y0; y < y1; y++) {
    let state = splat(0);
    for (let i = 0; i < width; i++) {
      const at = <usize>(y * width + (backward ? width - 1 - i : i)) << 4;
      state = add(mul(v128.load(src + at), gain), mul(state, a));
      v128.store(dst + at, state);
    }
  }
}

/** A place (its first two lanes: x, y) between four pixels; the frame's edge is held outside. `last`: the last column and row, `before`: those before them. */
// @ts-ignore: decorator
@inline function between4(src: usize, width: i32, place: v128, last: v128, before: v128): v128 {
  const held = f32x4.pmin(last, f32x4.pmax(splat(0), place));
  const cell = f32x4.pmin(before, f32x4.floor(held));
  const t = sub(held, cell), whole = integers(cell);
  const p = src + (<usize>(i32x4.extract_lane(whole, 1) * width + i32x4.extract_lane(whole, 0)) << 4);
  const q = p + (<usize>width << 4);
  const tx = v128.shuffle<f32>(t, t, 0, 0, 0, 0);
  const a = v128.load(p), c = v128.load(q);
  const top = add(a, mul(sub(v128.load(p, 16), a), tx));
  const below = add(c, mul(sub(v128.load(q, 16), c), tx));
  return add(top, mul(sub(below, top), v128.shuffle<f32>(t, t, 1, 1, 1, 1)));
}

/**
 * Mean of `taps` places on an arc about a centre, or on the way to it. Record: centre x, y (px), pitch x, pitch y (mm/px), entries per
 * mm^2 of height squared, last entry, taps, first and step of the angle (radians at an amount of 1), first and step of the
 * logarithm of the distance, decay a tap, amounts of R, G and B; then the table of amounts by height squared.
 */
export function arc(src: usize, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32): void {
  const cx = load<f32>(record), cy = load<f32>(record, 4), pitchX = load<f32>(record, 8), pitchY = load<f32>(record, 12);
  const perMm2 = load<f32>(record, 16), last = load<f32>(record, 20);
  const taps = <i32>load<f32>(record, 24);
  const a0 = load<f32>(record, 28), da = load<f32>(record, 32), b0 = load<f32>(record, 36), db = load<f32>(record, 40), decay = load<f32>(record, 44);
  const red = load<f32>(record, 48), green = load<f32>(record, 52), blue = load<f32>(record, 56);
  const same = red == green && green == blue, grows = b0 != 0 || db != 0;
  const table = record + 64;
  const centre = f32x4(cx, cy, 0, 0), perMm = f32x4(<f32>1.0 / pitchX, <f32>1.0 / pitchY, 0, 0);
  const edge = f32x4(<f32>(width - 1), <f32>(height - 1), 0, 0), before = f32x4(<f32>(width - 2), <f32>(height - 2), 0, 0);
  for (let y = y0; y < y1; y++) {
    const dy = (<f32>y - cy) * pitchY;
    for (let x = 0; x < width; x++) {
      const at = <usize>(y * width + x) << 4;
      const dx = (<f32>x - cx) * pitchX;
      const h2 = dx * dx + dy * dy;
      const place = min(h2 * perMm2, last);
      const cell = <i32>place;
      const here = load<f32>(table + (<usize>cell << 2));
      const amount = here + (load<f32>(table + (<usize>cell << 2), 4) - here) * (place - <f32>cell);
      const pixel = v128.load(src + at);
      if (amount == 0) {
        v128.store(dst + at, pixel);
        continue;
      }
      const along = f32x4(dx, dy, 0, 0), across = f32x4(-dy, dx, 0, 0);
      let total = splat(0);
      const channels = same ? 1 : 3;
      for (let c = 0; c < channels; c++) {
        const own = amount * (same ? green : c == 0 ? red : c == 1 ? green : blue);
        // Turned and scaled step by step, from one tap to the next: cosine and sine have the scale in them.
        const first = a0 * own, step = da * own;
        const scale: f32 = grows ? Mathf.exp(b0 * own) : 1, scaleStep: f32 = grows ? Mathf.exp(db * own) : 1;
        let cos = Mathf.cos(first) * scale, sin = Mathf.sin(first) * scale, weight: f32 = 1, weights: f32 = 0;
        const cosStep = Mathf.cos(step) * scaleStep, sinStep = Mathf.sin(step) * scaleStep;
        let sum = splat(0);
        for (let i = 0; i < taps; i++) {
          // (dx cos - dy sin, dx sin + dy cos), in pixels about the centre.
          const place = add(centre, mul(add(mul(along, splat(cos)), mul(across, splat(sin))), perMm));
          sum = add(sum, mul(between4(src, width, place, edge, before), splat(weight)));
          weights += weight;
          weight *= decay;
          const turned = cos * cosStep - sin * sinStep;
          sin = sin * cosStep + cos * sinStep;
          cos = turned;
        }
        sum = mul(sum, splat(<f32>1.0 / weights));
        if (same) total = sum;
        else if (c == 0) total = sum;
        else if (c == 1) total = v128.shuffle<f32>(total, sum, 0, 5, 2, 3);
        else total = v128.shuffle<f32>(total, sum, 0, 1, 6, 3);
      }
      v128.store(dst + at, withAlpha(total, pixel));
    }
  }
}

/**
 * Two-way exponential smear along rows, in place: unit-sum exp(-|n| / length) a lane. `decay`: RGBA of exp(-1 / length).
 * `lead`: pixels of surround run through before the frame, so that the state at its edge is settled.
 */
export function smearRows(
  src: usize, dst: usize, width: i32, height: i32, decay: usize, lead: i32, black: i32,
  scratch: usize, y0: i32, y1: i32,
): void {
  const a = v128.load(decay);
  const one = splat(1);
  const gain = f32x4.div(f32x4.sub(one, a), add(one, a));
  const stride = <usize>width << 4;
  for (let y = y0; y < y1; y++) {
    const from = src + <usize>y * stride;
    const to = dst + <usize>y * stride;
    if (isBlack(from, width)) {
      clear(to, stride);
      continue;
    }
    let state = splat(0);
    if (!black) for (let x = -lead; x < 0; x++) state = add(v128.load(from + (<usize>mirror(x, width) << 4)), mul(state, a));
    for (let o: usize = 0; o < stride; o += 16) {
      state = add(v128.load(from + o), mul(state, a));
      v128.store(scratch + o, state);
    }
    state = splat(0);
    if (!black) for (let x = width + lead - 1; x >= width; x--) state = add(v128.load(from + (<usize>mirror(x, width) << 4)), mul(state, a));
    for (let o: isize = <isize>stride - 16; o >= 0; o -= 16) {
      const carried = mul(state, a);
      v128.store(to + <usize>o, mul(add(v128.load(scratch + <usize>o), carried), gain));
      state = add(v128.load(from + <usize>o), carried);
    }
  }
}
