// The pupil as a kernel: discs of an iris, cut to a cat's eye away from the axis, sized by depth or all alike. Three
// goes: the picture as planes with a surround, how far light reaches by blocks, and the gathering, four pixels at a
// time.

import { add, clear, mirror, mul, splat, storeTurned, sub } from "./simd";

/** Pixels of a block, across and down. */
const BLOCK: i32 = 8;

// Planes of floats, one after another: red, green, blue, alpha; by depth, too, distance (m), the radius (px) of the
// circle of confusion, and one over the pixels it covers.
const ALPHA: usize = 3;
const DISTANCE: usize = 4;
const CIRCLE: usize = 5;
const DENSITY: usize = 6;

// The record of src/core/elements/pupil.ts, floats by their places in bytes.
const SAMPLES: usize = 0;
const RADIUS: usize = 4;
const ASPECT: usize = 8;
const AXIS_X: usize = 12;
const AXIS_Y: usize = 16;
const PER_PX: usize = 20;
const LAST_EYE: usize = 24;
const BY_DEPTH: usize = 28;
const AT_INFINITY: usize = 32;
const FOCUS: usize = 36;
const OWN: usize = 40;
const LEAVES_OUT: usize = 44;
const COVERS: usize = 48;
const RIM: usize = 52;
const AREAS_A_PX: usize = 56;
const AREAS: usize = 60;
const SMALL_TO: usize = 64;
const WIDE_FROM: usize = 68;
const EYES: usize = 72;
const OPEN: usize = 108;
const LIST: usize = 144;
// A sample of the list: x, y on the pupil (px along y), the radius of the smallest iris that reaches it, weight, then
// px across and down.
const ENTRY: usize = 32;
const ENTRY_REACH: usize = 8;
const ENTRY_WEIGHT: usize = 12;
const ENTRY_DX: usize = 16;
const ENTRY_DY: usize = 20;

/** Nearer than this nothing is, m. */
const NEAREST: f32 = 0.05;
/**
 * Things whose distances differ by up to a quarter of this share are as far as each other; from five quarters of it on
 * one is wholly before the other.
 */
const APART: f32 = 0.2;
/**
 * Nor is a thing before another where their circles, on one side of the focus, differ by less than a share of the
 * larger; from the sum of both on it may be.
 */
const ALIKE: f32 = 0.05;
const ALIKE_TO: f32 = 0.2;
/** Circles are compared as if at least so large, px. */
const ALIKE_LEAST: f32 = 4;
/**
 * Unless one is this many times APART further away, and wholly where it is twice that: the largest circles are all held
 * to one size.
 */
const APART_ANYWAY: f32 = 4;

// @ts-ignore: decorator
@inline function pitchOf(width: i32, surround: i32): usize {
  return (<usize>(width + 2 * surround)) << 2;
}
// @ts-ignore: decorator
@inline function planeOf(width: i32, height: i32, surround: i32): usize {
  return pitchOf(width, surround) * <usize>(height + 2 * surround);
}

/**
 * The picture, and what follows from its depth, as planes with a surround, mirrored or black. Rows are the planes';
 * `depth`: a frame whose lanes are distance (m), or 0.
 */
export function pupilPlanes(
  src: usize,
  depth: usize,
  planes: usize,
  width: i32,
  height: i32,
  surround: i32,
  record: usize,
  black: i32,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const plane = planeOf(width, height, surround);
  const pitch = pitchOf(width, surround);
  const count: usize = depth ? DENSITY + 1 : ALPHA + 1;
  for (let y = y0; y < y1; y++) {
    const line = planes + <usize>y * pitch;
    const first = line + ((<usize>surround) << 2);
    const row = y - surround;
    if (black && (row < 0 || row >= height)) {
      for (let k: usize = 0; k < count; k++) clear(line + k * plane, pitch);
      continue;
    }
    const from = (<usize>(mirror(row, height) * width)) << 4;
    // The last turn reaches into the surround, which is made after.
    for (let x = 0; x < width; x += 4) {
      const at = src + from + ((<usize>x) << 4);
      storeTurned(
        first + ((<usize>x) << 2),
        plane,
        v128.load(at),
        v128.load(at, 16),
        v128.load(at, 32),
        v128.load(at, 48),
      );
    }
    if (depth)
      for (let x = 0; x < width; x += 4)
        circles(depth + from + ((<usize>x) << 4), first + ((<usize>x) << 2), plane, record);
    for (let k: usize = 0; k < count; k++) {
      const to = first + k * plane;
      for (let i = 1; i <= surround; i++) {
        const left = black ? <f32>0.0 : load<f32>(to + ((<usize>mirror(-i, width)) << 2));
        const right = black ? <f32>0.0 : load<f32>(to + ((<usize>mirror(width - 1 + i, width)) << 2));
        store<f32>(to - ((<usize>i) << 2), left);
        store<f32>(to + ((<usize>(width - 1 + i)) << 2), right);
      }
    }
  }
}

/** Pixels that a circle covers, from the record's table: linear between its steps. */
// @ts-ignore: decorator
@inline function areaOf(radius: f32, record: usize): f32 {
  const last = <i32>load<f32>(record, AREAS) - 2;
  const place = radius * load<f32>(record, AREAS_A_PX);
  const cell = min(<i32>place, last);
  const entry = record + LIST + <usize>load<f32>(record, SAMPLES) * ENTRY + ((<usize>cell) << 2);
  const here = load<f32>(entry);
  return here + (load<f32>(entry, 4) - here) * (place - <f32>cell);
}

/** Four pixels' distance, circle of confusion and its density; the circle of what is left out is less than nothing. */
// @ts-ignore: decorator
@inline function circles(depth: usize, to: usize, plane: usize, record: usize): void {
  const z = f32x4.pmax(
    splat(NEAREST),
    f32x4(load<f32>(depth), load<f32>(depth, 16), load<f32>(depth, 32), load<f32>(depth, 48)),
  );
  const defocus = f32x4.div(f32x4.abs(sub(z, v128.load32_splat(record, FOCUS))), z);
  const largest = v128.load32_splat(record, RADIUS);
  const asked = mul(v128.load32_splat(record, AT_INFINITY), defocus);
  const smallTo = load<f32>(record, SMALL_TO);
  const t = held(mul(sub(asked, splat(smallTo)), splat(1 / (load<f32>(record, WIDE_FROM) - smallTo))));
  const share = mul(mul(t, t), sub(splat(3), add(t, t)));
  const less = f32x4.sqrt(f32x4.pmax(splat(0), mul(sub(mul(asked, asked), v128.load32_splat(record, OWN)), share)));
  const radius = f32x4.pmin(largest, less);
  const kept = load<f32>(record, LEAVES_OUT) != 0 ? v128.bitselect(splat(-1), radius, f32x4.gt(less, largest)) : radius;
  v128.store(to + DISTANCE * plane, z);
  v128.store(to + CIRCLE * plane, kept);
  for (let k: usize = 0; k < 16; k += 4) {
    const own = load<f32>(to + CIRCLE * plane + k);
    store<f32>(to + DENSITY * plane + k, own < 0 ? 0 : <f32>1.0 / areaOf(own, record));
  }
}

/**
 * How far (px) the light of a block reaches at most: by depth its largest circle, else the radius, or nothing where it
 * is dark. Rows are the blocks'.
 */
export function pupilReach(
  planes: usize,
  reach: usize,
  width: i32,
  height: i32,
  surround: i32,
  record: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const plane = planeOf(width, height, surround);
  const pitch = pitchOf(width, surround);
  const byDepth = load<f32>(record, BY_DEPTH) != 0;
  const radius = load<f32>(record, RADIUS);
  const columns = (width + BLOCK - 1) / BLOCK;
  for (let j = y0; j < y1; j++)
    for (let i = 0; i < columns; i++) {
      let most = splat(0);
      // A last block reads on into the surround, which shows what is beside it.
      for (let y = j * BLOCK; y < min((j + 1) * BLOCK, height); y++) {
        const at = planes + <usize>(y + surround) * pitch + ((<usize>(i * BLOCK + surround)) << 2);
        for (let x: usize = 0; x < (<usize>BLOCK) << 2; x += 16) {
          if (byDepth) most = f32x4.pmax(most, v128.load(at + CIRCLE * plane + x));
          else
            most = v128.or(
              most,
              v128.or(v128.or(v128.load(at + x), v128.load(at + plane + x)), v128.load(at + 2 * plane + x)),
            );
        }
      }
      const to = reach + ((<usize>(j * columns + i)) << 2);
      const near = f32x4.pmax(most, v128.shuffle<f32>(most, most, 2, 3, 0, 1));
      if (byDepth) store<f32>(to, max(f32x4.extract_lane(near, 0), f32x4.extract_lane(near, 1)));
      else store<f32>(to, v128.any_true(v128.and(most, i32x4.splat(0x7fffffff))) ? radius : -1);
    }
}

// A sample in scratch: how many bytes on it lies in a plane, and the radius of the smallest iris that reaches it (px).
const SAMPLE_BYTES: usize = 8;
const REACH: usize = 4;

/** Places the samples for planes of a pitch: as many as there are, nearest first. */
function placeSamples(record: usize, count: i32, pitch: usize, places: usize): void {
  for (let k = 0; k < count; k++) {
    const s = record + LIST + <usize>k * ENTRY;
    const place = places + <usize>k * SAMPLE_BYTES;
    store<i32>(place, <i32>load<f32>(s, ENTRY_DY) * <i32>pitch + ((<i32>load<f32>(s, ENTRY_DX)) << 2));
    store<f32>(place, load<f32>(s, ENTRY_REACH), REACH);
  }
}

/** How many samples a circle of this radius can reach from; its edge is a pixel wide. */
function countWithin(places: usize, count: i32, radius: f32): i32 {
  let low = 0;
  let high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (load<f32>(places + <usize>middle * SAMPLE_BYTES, REACH) < radius + <f32>0.5) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * How many samples the pixels of each block of a row of blocks have to look at: the most that light anywhere within the
 * pupil reaches.
 */
function countsRow(
  reach: usize,
  width: i32,
  height: i32,
  j: i32,
  record: usize,
  places: usize,
  most: usize,
  counts: usize,
): void {
  const columns = (width + BLOCK - 1) / BLOCK;
  const rows = (height + BLOCK - 1) / BLOCK;
  const radius = load<f32>(record, RADIUS);
  const down = <i32>ceil(radius / <f32>BLOCK);
  const across = <i32>ceil((radius * load<f32>(record, ASPECT)) / <f32>BLOCK);
  for (let i = 0; i < columns; i++) {
    let far: f32 = -1;
    for (let k = max(0, j - down); k <= min(rows - 1, j + down); k++)
      far = max(far, load<f32>(reach + ((<usize>(k * columns + i)) << 2)));
    store<f32>(most + ((<usize>i) << 2), far);
  }
  for (let i = 0; i < columns; i++) {
    let far: f32 = -1;
    for (let k = max(0, i - across); k <= min(columns - 1, i + across); k++)
      far = max(far, load<f32>(most + ((<usize>k) << 2)));
    store<i32>(counts + ((<usize>i) << 2), far < 0 ? 0 : countWithin(places, <i32>load<f32>(record, SAMPLES), far));
  }
}

/**
 * How far the second pupil is shifted for the pixels of a row, in pupil radii across and down: outside it the lens
 * barrel stops the light. And one over what it leaves open.
 */
function eyesRow(y: i32, width: i32, record: usize, across: usize, down: usize, closed: usize): void {
  const axisX = load<f32>(record, AXIS_X);
  const aspect = load<f32>(record, ASPECT);
  const perPx = load<f32>(record, PER_PX);
  const last = load<f32>(record, LAST_EYE);
  const hy = <f32>y - load<f32>(record, AXIS_Y);
  for (let x = 0; x < width; x++) {
    const hx = (<f32>x - axisX) / aspect;
    const h = sqrt(hx * hx + hy * hy);
    const place = min(h * perPx, last);
    const cell = <i32>place;
    const eye = record + EYES + ((<usize>cell) << 2);
    const open = record + OPEN + ((<usize>cell) << 2);
    const here = load<f32>(eye);
    const openHere = load<f32>(open);
    const shift = here + (load<f32>(eye, 4) - here) * (place - <f32>cell);
    const share = h > 0 ? shift / h : 0;
    store<f32>(across + ((<usize>x) << 2), hx * share);
    store<f32>(down + ((<usize>x) << 2), hy * share);
    store<f32>(closed + ((<usize>x) << 2), openHere + (load<f32>(open, 4) - openHere) * (place - <f32>cell));
  }
}

// Sums of four pixels while they are gathered: red, green, blue, weights. By depth three of them: of what is nearer, as
// far, and farther.
const SUM_BYTES: usize = 64;

// @ts-ignore: decorator
@inline function keepSums(sums: usize, red: v128, green: v128, blue: v128, weights: v128): void {
  v128.store(sums, red);
  v128.store(sums, green, 16);
  v128.store(sums, blue, 32);
  v128.store(sums, weights, 48);
}

// @ts-ignore: decorator
@inline function addTo(sum: usize, from: usize, plane: usize, weight: v128): void {
  v128.store(sum, add(v128.load(sum), mul(v128.load(from), weight)));
  v128.store(sum, add(v128.load(sum, 16), mul(v128.load(from + plane), weight)), 16);
  v128.store(sum, add(v128.load(sum, 32), mul(v128.load(from + 2 * plane), weight)), 32);
  v128.store(sum, add(v128.load(sum, 48), weight), 48);
}

/**
 * Gathers four pixels from discs of one size; what lies outside the second pupil is stopped. Light gathered from (x, y)
 * leaves towards (-x, -y).
 */
function gatherDiscs(
  at: usize,
  plane: usize,
  ex: v128,
  ey: v128,
  radius: v128,
  list: usize,
  places: usize,
  count: i32,
  sums: usize,
): void {
  let red = splat(0);
  let green = splat(0);
  let blue = splat(0);
  let weights = splat(0);
  const end = list + <usize>count * ENTRY;
  const shiftX = mul(ex, radius);
  const shiftY = mul(ey, radius);
  const within = mul(radius, radius);
  for (let s = list, place = places; s < end; s += ENTRY, place += SAMPLE_BYTES) {
    const x = add(v128.load32_splat(s), shiftX);
    const y = add(v128.load32_splat(s, 4), shiftY);
    const weight = v128.and(v128.load32_splat(s, ENTRY_WEIGHT), f32x4.le(add(mul(x, x), mul(y, y)), within));
    const from = at + <usize>load<i32>(place);
    red = add(red, mul(v128.load(from), weight));
    green = add(green, mul(v128.load(from + plane), weight));
    blue = add(blue, mul(v128.load(from + 2 * plane), weight));
    weights = add(weights, weight);
  }
  keepSums(sums, red, green, blue, weights);
}

// @ts-ignore: decorator
@inline function held(share: v128): v128 {
  return f32x4.pmin(splat(1), f32x4.pmax(splat(0), share));
}

/**
 * How far two things on one side of the focus are told apart, 0 to 1, by their circles and by how many times APART they
 * are.
 */
// @ts-ignore: decorator
@inline function toldApart(own: v128, circle: v128, apart: v128): v128 {
  const larger = f32x4.pmax(f32x4.pmax(own, circle), splat(ALIKE_LEAST));
  const differ = f32x4.div(f32x4.abs(sub(own, circle)), larger);
  const byCircles = held(mul(sub(differ, splat(ALIKE)), splat(1 / ALIKE_TO)));
  return f32x4.pmax(byCircles, held(mul(sub(f32x4.abs(apart), splat(APART_ANYWAY)), splat(1 / APART_ANYWAY))));
}

/**
 * Gathers four pixels by depth. Light of a thing goes evenly over its own circle. What is nearer than the place lies
 * over it, by as much of the place as its circles cover; what is as far makes up the place itself; and as much of the
 * place as that leaves open, at the edge of a thing that is out of focus, shows what is farther, as far as the place's
 * own circle reaches.
 */
function gatherCircles(
  at: usize,
  plane: usize,
  ex: v128,
  ey: v128,
  closed: v128,
  rim: v128,
  list: usize,
  places: usize,
  count: i32,
  focus: v128,
  sums: usize,
): void {
  const z = v128.load(at + DISTANCE * plane);
  const own = v128.load(at + CIRCLE * plane);
  const perZ = f32x4.div(splat(1 / APART), z);
  const near = sums;
  const same = sums + SUM_BYTES;
  const far = sums + 2 * SUM_BYTES;
  clear(sums, 3 * SUM_BYTES);
  const half = splat(0.5);
  const one = splat(1);
  const zero = splat(0);
  const tiny = splat(1e-6);
  let red = zero;
  let green = zero;
  let blue = zero;
  let weights = zero;
  const end = list + <usize>count * ENTRY;
  for (let s = list, place = places; s < end; s += ENTRY, place += SAMPLE_BYTES) {
    const from = at + <usize>load<i32>(place);
    const reach = v128.load32_splat(place, REACH);
    const circle = v128.load(from + CIRCLE * plane);
    const covered = held(add(sub(circle, reach), half));
    const seen = held(add(sub(own, reach), half));
    if (!v128.any_true(f32x4.gt(f32x4.pmax(covered, seen), zero))) continue;
    const inverse = f32x4.div(one, f32x4.pmax(circle, tiny));
    const x = add(v128.load32_splat(s), mul(ex, circle));
    const y = add(v128.load32_splat(s, 4), mul(ey, circle));
    const open = held(add(sub(circle, f32x4.sqrt(add(mul(x, x), mul(y, y)))), half));
    const share = f32x4.pmin(one, mul(reach, inverse));
    const share2 = mul(share, share);
    const share6 = mul(mul(share2, share2), share2);
    const rimmed = add(one, mul(rim, sub(add(share6, share6), half)));
    const weight = v128.load32_splat(s, ENTRY_WEIGHT);
    let light = mul(
      mul(weight, mul(f32x4.pmin(covered, open), v128.load(from + DENSITY * plane))),
      mul(rimmed, closed),
    );
    const apart = mul(sub(v128.load(from + DISTANCE * plane), z), perZ);
    let behind = held(sub(apart, splat(0.25)));
    let before = held(sub(f32x4.neg(apart), splat(0.25)));
    if (v128.any_true(f32x4.gt(f32x4.pmax(behind, before), zero))) {
      const told = v128.bitselect(
        toldApart(own, circle, apart),
        one,
        v128.not(v128.xor(f32x4.gt(z, focus), f32x4.gt(v128.load(from + DISTANCE * plane), focus))),
      );
      behind = mul(behind, told);
      before = mul(before, told);
      addTo(near, from, plane, mul(light, before));
      addTo(far, from, plane, mul(mul(weight, seen), behind));
      light = mul(light, sub(one, add(before, behind)));
    }
    red = add(red, mul(v128.load(from), light));
    green = add(green, mul(v128.load(from + plane), light));
    blue = add(blue, mul(v128.load(from + 2 * plane), light));
    weights = add(weights, light);
  }
  keepSums(same, red, green, blue, weights);
}

/** One over a sum of weights where it is more than `least`, else one over that. */
// @ts-ignore: decorator
@inline function over(weights: v128, least: f32): v128 {
  return f32x4.div(splat(1), f32x4.pmax(weights, splat(least)));
}

/**
 * What three sums by depth come to, into the first: the light, and how much of the place nearer things cover in the
 * weights' place.
 */
function composeCircles(at: usize, plane: usize, sums: usize): void {
  const near = sums;
  const same = sums + SUM_BYTES;
  const far = sums + 2 * SUM_BYTES;
  const one = splat(1);
  const zero = splat(0);
  const nearWeights = v128.load(near, 48);
  const sameWeights = v128.load(same, 48);
  const farWeights = v128.load(far, 48);
  const cover = f32x4.pmin(one, nearWeights);
  const nearScale = over(nearWeights, 1);
  const isSame = f32x4.gt(sameWeights, zero);
  const isFar = f32x4.gt(farWeights, zero);
  // Without anything farther, or with more than enough of the place itself, that is all of it.
  const whole = v128.or(f32x4.ge(sameWeights, one), v128.not(isFar));
  const sameScale = v128.bitselect(over(sameWeights, 1e-20), one, whole);
  const farScale = v128.andnot(mul(over(farWeights, 1e-20), sub(one, sameWeights)), whole);
  for (let c: usize = 0; c < 3; c++) {
    const o = c << 4;
    const gathered = add(mul(v128.load(same + o), sameScale), mul(v128.load(far + o), farScale));
    const base = v128.bitselect(gathered, v128.load(at + c * plane), v128.or(isSame, isFar));
    v128.store(near + o, add(mul(v128.load(near + o), nearScale), mul(base, sub(one, cover))));
  }
  v128.store(near, cover, 48);
}

/**
 * The mean through the pupil of what surrounds each place. `planes` and `reach` as the kernels above leave them. Record
 * of floats: samples, largest radius (px along y), pixel aspect (px along x for one along y), axis x, axis y (px), px
 * along y to the image height at which the table of cat's eyes ends, its last entry, mode (0: every place at the
 * largest radius; 1: by depth), circle of confusion at infinity (radius, px), focus distance (m), what is taken off a
 * circle's square (px^2), whether larger circles are left out (else held), whether alpha comes out as what nearer
 * things cover, light at the rim less one, entries a px of the table of areas and how many, the radii (px) from which
 * on circles begin, and are whole, those below being in the picture already; then 8 entries and one more of how far the
 * second pupil is shifted (in pupil radii) by height, as many of one over what it leaves open, the samples, those first
 * that the smallest iris reaches, and the table of areas.
 */
export function iris(
  planes: usize,
  reach: usize,
  dst: usize,
  width: i32,
  height: i32,
  surround: i32,
  record: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const plane = planeOf(width, height, surround);
  const pitch = pitchOf(width, surround);
  const count = <i32>load<f32>(record, SAMPLES);
  const byDepth = load<f32>(record, BY_DEPTH) != 0;
  const covers = load<f32>(record, COVERS) != 0;
  const radius = v128.load32_splat(record, RADIUS);
  const rim = v128.load32_splat(record, RIM);
  const focus = v128.load32_splat(record, FOCUS);
  const room = (<usize>((width + 3) & ~3)) << 2;
  const sums = scratch;
  const last = sums + 3 * SUM_BYTES;
  const places = last + 64;
  const across = places + <usize>((count + 1) & ~1) * SAMPLE_BYTES;
  const down = across + room;
  const closed = down + room;
  const most = closed + room;
  const counts = most + room;
  placeSamples(record, count, pitch, places);
  let known = -1; // the row of blocks the counts are of
  for (let y = y0; y < y1; y++) {
    if (y / BLOCK != known) {
      known = y / BLOCK;
      countsRow(reach, width, height, known, record, places, most, counts);
    }
    eyesRow(y, width, record, across, down, closed);
    const line = planes + <usize>(y + surround) * pitch + ((<usize>surround) << 2);
    const row = dst + ((<usize>(y * width)) << 4);
    for (let x = 0; x < width; x += 4) {
      const at = line + ((<usize>x) << 2);
      const o = (<usize>x) << 2;
      const samples = load<i32>(counts + ((<usize>(x / BLOCK)) << 2));
      const ex = v128.load(across + o);
      const ey = v128.load(down + o);
      const to = x + 4 <= width ? row + ((<usize>x) << 4) : last;
      let alpha = v128.load(at + ALPHA * plane);
      if (byDepth) {
        gatherCircles(at, plane, ex, ey, v128.load(closed + o), rim, record + LIST, places, samples, focus, sums);
        composeCircles(at, plane, sums);
        if (covers) alpha = v128.load(sums, 48);
        storeTurned(to, 16, v128.load(sums), v128.load(sums, 16), v128.load(sums, 32), alpha);
      } else {
        gatherDiscs(at, plane, ex, ey, radius, record + LIST, places, samples, sums);
        const weights = v128.load(sums, 48);
        const lit = f32x4.gt(weights, splat(0));
        const inverse = f32x4.div(splat(1), weights);
        storeTurned(
          to,
          16,
          v128.bitselect(mul(v128.load(sums), inverse), v128.load(at), lit),
          v128.bitselect(mul(v128.load(sums, 16), inverse), v128.load(at + plane), lit),
          v128.bitselect(mul(v128.load(sums, 32), inverse), v128.load(at + 2 * plane), lit),
          alpha,
        );
      }
      // A last turn that reaches past the row's end is made apart.
      for (let k = 0; x + 4 > width && x + k < width; k++)
        v128.store(row + ((<usize>(x + k)) << 4), v128.load(last + ((<usize>k) << 4)));
    }
  }
}
