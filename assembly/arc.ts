// Smears along arcs about a centre, and towards it. A stretch of a row at a time: all places of a tap, four at once,
// then what is there.

import { add, clear, copy, exp2, integers, mul, splat, storeTurn, sub, withAlpha } from "./simd";

/** Pixels of a stretch: what is kept of them stays near the processor. */
const STRETCH: i32 = 128;
/** Pixels of a cell: a tap's places within one lie evenly on a line, within some ten-thousandths of a pixel. */
const CELL: i32 = 8;
/** Ends of the cells of a stretch, in fours. */
const ENDS: i32 = STRETCH / CELL + 4;

// What is kept of four ends of cells: cosine and sine of the next tap's turn, then of the step from tap to tap; both
// with the scale in them.
const TURN_BYTES: usize = 64;
// What is kept of four places: how many bytes on the upper left pixel lies, then how far on from it, x and y.
const PLACE_BYTES: usize = 48;

// The record of src/core/elements/arc.ts, floats by their places in bytes.
const CENTRE_X: usize = 0;
const CENTRE_Y: usize = 4;
const PITCH_X: usize = 8;
const PITCH_Y: usize = 12;
const PER_MM2: usize = 16;
const LAST: usize = 20;
const TAPS: usize = 24;
const FIRST_ANGLE: usize = 28;
const ANGLE: usize = 32;
const FIRST_SCALE: usize = 36;
const SCALE: usize = 40;
const CHANNELS: usize = 44;
const WEIGHTS: usize = 56;
const TABLE: usize = 92;

const LOG2_E: f32 = 1.442695;

/** How much pixels are smeared, by image height, every `step` pixels from x0 on; returns whether any is. */
function amountsOf(x0: i32, y: i32, count: i32, step: i32, record: usize, amounts: usize): bool {
  const dy = (<f32>y - load<f32>(record, CENTRE_Y)) * load<f32>(record, PITCH_Y);
  const centreX = load<f32>(record, CENTRE_X);
  const pitchX = load<f32>(record, PITCH_X);
  const perMm2 = load<f32>(record, PER_MM2);
  const last = load<f32>(record, LAST);
  let any = false;
  for (let i = 0; i < count; i++) {
    const dx = (<f32>(x0 + i * step) - centreX) * pitchX;
    const place = min((dx * dx + dy * dy) * perMm2, last);
    const cell = <i32>place;
    const entry = record + TABLE + ((<usize>cell) << 2);
    const here = load<f32>(entry);
    const amount = here + (load<f32>(entry, 4) - here) * (place - <f32>cell);
    if (amount != 0) any = true;
    store<f32>(amounts + ((<usize>i) << 2), amount);
  }
  return any;
}

/** A turn by an angle with a scale, by how much: cosine and sine at `to`. */
// @ts-ignore: decorator
@inline function scaledTurn(angle: v128, logScale: v128, grows: bool, to: usize): void {
  storeTurn(angle, to);
  if (!grows) return;
  const scale = exp2(mul(logScale, splat(LOG2_E)));
  v128.store(to, mul(v128.load(to), scale));
  v128.store(to, mul(v128.load(to, 16), scale), 16);
}

/** The first tap's turn at every end of a cell, and the step to the next. */
function turnsOf(record: usize, share: f32, amounts: usize, turns: usize): void {
  const firstScale = load<f32>(record, FIRST_SCALE);
  const scale = load<f32>(record, SCALE);
  const grows = firstScale != 0 || scale != 0;
  for (let i = 0, at = turns; i < ENDS; i += 4, at += TURN_BYTES) {
    const amount = mul(v128.load(amounts + ((<usize>i) << 2)), splat(share));
    scaledTurn(mul(amount, v128.load32_splat(record, FIRST_ANGLE)), mul(amount, splat(firstScale)), grows, at);
    scaledTurn(mul(amount, v128.load32_splat(record, ANGLE)), mul(amount, splat(scale)), grows, at + 32);
  }
}

/**
 * Where the tap's light comes from at every end of a cell (px): x, and y ENDS floats on; then turns on to the next tap.
 */
function endsOf(x0: i32, y: i32, record: usize, turns: usize, ends: usize): void {
  const pitchX = load<f32>(record, PITCH_X);
  const pitchY = load<f32>(record, PITCH_Y);
  const centreX = v128.load32_splat(record, CENTRE_X);
  const centreY = v128.load32_splat(record, CENTRE_Y);
  const dy = splat((<f32>y - load<f32>(record, CENTRE_Y)) * pitchY);
  const perX = splat(<f32>1.0 / pitchX);
  const perY = splat(<f32>1.0 / pitchY);
  for (let i = 0, turn = turns; i < ENDS; i += 4, turn += TURN_BYTES) {
    const dx = mul(
      sub(add(splat(<f32>(x0 + i * CELL)), mul(splat(<f32>CELL), f32x4(0, 1, 2, 3))), centreX),
      splat(pitchX),
    );
    const cos = v128.load(turn);
    const sin = v128.load(turn, 16);
    const at = ends + ((<usize>i) << 2);
    v128.store(at, add(centreX, mul(sub(mul(dx, cos), mul(dy, sin)), perX)));
    v128.store(at, add(centreY, mul(add(mul(dx, sin), mul(dy, cos)), perY)), (<usize>ENDS) << 2);
    const cosStep = v128.load(turn, 32);
    const sinStep = v128.load(turn, 48);
    v128.store(turn, sub(mul(cos, cosStep), mul(sin, sinStep)));
    v128.store(turn, add(mul(sin, cosStep), mul(cos, sinStep)), 16);
  }
}

/** The places of a stretch's pixels between the ends of their cells. The frame's edge is held outside. */
function placesOf(count: i32, width: i32, height: i32, ends: usize, places: usize): void {
  const lastX = splat(<f32>(width - 1));
  const lastY = splat(<f32>(height - 1));
  const beforeX = splat(<f32>(width - 2));
  const beforeY = splat(<f32>(height - 2));
  const row = i32x4.splat(width);
  const unit: f32 = <f32>1.0 / <f32>CELL;
  for (let i = 0, end = ends, at = places; i < count; i += CELL, end += 4, at += 2 * PLACE_BYTES) {
    const x = load<f32>(end);
    const y = load<f32>(end, (<usize>ENDS) << 2);
    const stepX = splat((load<f32>(end, 4) - x) * unit);
    const stepY = splat((load<f32>(end, ((<usize>ENDS) << 2) + 4) - y) * unit);
    placesOfFour(
      add(splat(x), mul(stepX, f32x4(0, 1, 2, 3))),
      add(splat(y), mul(stepY, f32x4(0, 1, 2, 3))),
      lastX,
      lastY,
      beforeX,
      beforeY,
      row,
      at,
    );
    placesOfFour(
      add(splat(x), mul(stepX, f32x4(4, 5, 6, 7))),
      add(splat(y), mul(stepY, f32x4(4, 5, 6, 7))),
      lastX,
      lastY,
      beforeX,
      beforeY,
      row,
      at + PLACE_BYTES,
    );
  }
}

// @ts-ignore: decorator
@inline function placesOfFour(
  x: v128,
  y: v128,
  lastX: v128,
  lastY: v128,
  beforeX: v128,
  beforeY: v128,
  row: v128,
  at: usize,
): void {
  const px = f32x4.pmin(lastX, f32x4.pmax(splat(0), x));
  const py = f32x4.pmin(lastY, f32x4.pmax(splat(0), y));
  const cellX = f32x4.pmin(beforeX, f32x4.floor(px));
  const cellY = f32x4.pmin(beforeY, f32x4.floor(py));
  v128.store(at, i32x4.shl(i32x4.add(i32x4.mul(integers(cellY), row), integers(cellX)), 4));
  v128.store(at, sub(px, cellX), 16);
  v128.store(at, sub(py, cellY), 32);
}

/** Adds what stands at one place, linear between its four pixels. */
// @ts-ignore: decorator
@inline function addPlace(src: usize, pitch: usize, place: usize, lane: usize, weight: v128, sum: usize): void {
  const p = src + <usize>load<i32>(place + lane);
  const q = p + pitch;
  const tx = v128.load32_splat(place + lane, 16);
  const ty = v128.load32_splat(place + lane, 32);
  const a = v128.load(p);
  const c = v128.load(q);
  const top = add(a, mul(sub(v128.load(p, 16), a), tx));
  const below = add(c, mul(sub(v128.load(q, 16), c), tx));
  v128.store(sum, add(v128.load(sum), mul(add(top, mul(sub(below, top), ty)), weight)));
}

function addPlaces(src: usize, pitch: usize, places: usize, count: i32, weight: v128, sums: usize): void {
  for (let i = 0, place = places, sum = sums; i < count; i += 4, place += PLACE_BYTES, sum += 64) {
    addPlace(src, pitch, place, 0, weight, sum);
    addPlace(src, pitch, place, 4, weight, sum + 16);
    addPlace(src, pitch, place, 8, weight, sum + 32);
    addPlace(src, pitch, place, 12, weight, sum + 48);
  }
}

// Channels of a result: all alike, or one each.
const ALL: i32 = 3;

// @ts-ignore: decorator
@inline function withChannel(channel: i32, to: v128, value: v128): v128 {
  if (channel == 0) return v128.shuffle<f32>(to, value, 4, 1, 2, 3);
  if (channel == 1) return v128.shuffle<f32>(to, value, 0, 5, 2, 3);
  if (channel == 2) return v128.shuffle<f32>(to, value, 0, 1, 6, 3);
  return withAlpha(value, to);
}

/**
 * Mean of `taps` places on an arc about a centre, or on the way to it; at least 2 x 2 pixels. Record: centre x, y (px),
 * pitch x, pitch y (mm/px), entries per mm^2 of height squared, last entry, taps, first and step of the angle (radians
 * at an amount of 1), first and step of the logarithm of the distance, amounts of R, G and B, the taps' weights (9);
 * then the table of amounts by height squared.
 */
export function arc(
  src: usize,
  dst: usize,
  width: i32,
  height: i32,
  record: usize,
  scratch: usize,
  y0: i32,
  y1: i32,
): void {
  const taps = <i32>load<f32>(record, TAPS);
  const same =
    load<f32>(record, CHANNELS) == load<f32>(record, CHANNELS + 4) &&
    load<f32>(record, CHANNELS + 4) == load<f32>(record, CHANNELS + 8);
  const pitch = (<usize>width) << 4;
  const sums = scratch;
  const turns = sums + (STRETCH << 4);
  const ends = turns + <usize>(ENDS / 4) * TURN_BYTES;
  const places = ends + (ENDS << 3);
  const amounts = places + <usize>(STRETCH / 4) * PLACE_BYTES;
  const atEnds = amounts + (STRETCH << 2);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width; x += STRETCH) {
      const whole = min(STRETCH, width - x);
      const from = src + <usize>y * pitch + ((<usize>x) << 4);
      const to = dst + <usize>y * pitch + ((<usize>x) << 4);
      copy(to, from, (<usize>whole) << 4);
      if (!amountsOf(x, y, whole, 1, record, amounts)) continue;
      amountsOf(x, y, ENDS, CELL, record, atEnds);
      const first = same ? ALL : 0;
      const end = same ? ALL + 1 : ALL;
      for (let c = first; c < end; c++) {
        turnsOf(record, load<f32>(record + CHANNELS + ((<usize>(same ? 0 : c)) << 2)), atEnds, turns);
        clear(sums, STRETCH << 4);
        let weights: f32 = 0;
        for (let k = 0; k < taps; k++) {
          endsOf(x, y, record, turns, ends);
          placesOf(whole, width, height, ends, places);
          const weight = load<f32>(record + WEIGHTS + ((<usize>k) << 2));
          addPlaces(src, pitch, places, whole, splat(weight), sums);
          weights += weight;
        }
        const inverse = splat(<f32>1.0 / weights);
        for (let i = 0; i < whole; i++) {
          const at = to + ((<usize>i) << 4);
          if (load<f32>(amounts + ((<usize>i) << 2)) != 0)
            v128.store(at, withChannel(c, v128.load(at), mul(v128.load(sums + ((<usize>i) << 4)), inverse)));
        }
      }
    }
}
