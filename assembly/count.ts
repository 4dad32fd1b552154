// Scopes: how often levels and colour differences occur in a part of a picture.

/** ITU-R BT.709: luma of R'G'B', and the distances of blue and red from it that make half a signal. */
const RED_LUMA: f32 = 0.2126;
const GREEN_LUMA: f32 = 0.7152;
const BLUE_LUMA: f32 = 0.0722;
const BLUE_SPAN: f32 = 1.8556;
const RED_SPAN: f32 = 1.5748;

/** Rows of the result: red, green, blue and luma by column and level; then colour differences. */
const LUMA_ROW = 3;
const VECTORS_ROW = 4;

// @ts-ignore: decorator
@inline function luma(pixel: usize): f32 {
  return RED_LUMA * load<f32>(pixel) + GREEN_LUMA * load<f32>(pixel, 4) + BLUE_LUMA * load<f32>(pixel, 8);
}

/** The level of a signal, by its share of the scale, or of light, by the upper half of its bits in the table. */
// @ts-ignore: decorator
@inline function levelOf(value: f32, levels: i32, stops: usize): i32 {
  if (stops) return <i32>load<u8>(stops + <usize>(reinterpret<u32>(value) >> 16));
  return min(levels - 1, <i32>(max<f32>(value, 0) * <f32>levels));
}

// @ts-ignore: decorator
@inline function cellOf(difference: f32, cells: i32): i32 {
  return max(0, min(cells - 1, <i32>((difference + 0.5) * <f32>cells)));
}

// @ts-ignore: decorator
@inline function tally(at: usize): void {
  store<u32>(at, load<u32>(at) + 1);
}

/**
 * Fills rows of counts, each of `columns * levels` words: pixels by column and level, of the part from left, top to
 * right, bottom (px). `stops`: 65536 bytes, the level of light by the upper half of a float's bits; 0 for a scale from
 * 0 to 1. The fifth row, where it is asked for, holds `vectors` by `vectors` cells of colour differences, blue to the
 * right and red upwards.
 */
export function count(
  src: usize,
  dst: usize,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  columns: i32,
  levels: i32,
  vectors: i32,
  stops: usize,
  scratch: usize,
  j0: i32,
  j1: i32,
): void {
  const words = columns * levels;
  for (let j = j0; j < j1; j++) {
    const row = dst + ((<usize>(j * words)) << 2);
    memory.fill(row, 0, (<usize>words) << 2);
    for (let y = top; y < bottom; y++) {
      const pixel = src + ((<usize>(y * width + left)) << 4);
      if (j == VECTORS_ROW) countVectors(pixel, row, right - left, vectors);
      else if (j == LUMA_ROW) countLuma(pixel, row, right - left, columns, levels, stops);
      else countChannel(pixel + ((<usize>j) << 2), row, right - left, columns, levels, stops);
    }
  }
}

function countVectors(pixel: usize, row: usize, across: i32, vectors: i32): void {
  for (const end = pixel + ((<usize>across) << 4); pixel < end; pixel += 16) {
    const grey = luma(pixel);
    const red = cellOf((load<f32>(pixel) - grey) * (<f32>1 / RED_SPAN), vectors);
    const blue = cellOf((load<f32>(pixel, 8) - grey) * (<f32>1 / BLUE_SPAN), vectors);
    tally(row + ((<usize>((vectors - 1 - red) * vectors + blue)) << 2));
  }
}

// The column of a pixel, floor(x * columns / across), goes on by whole steps: a division a pixel would take longer than
// counting.

function countLuma(pixel: usize, row: usize, across: i32, columns: i32, levels: i32, stops: usize): void {
  let rest = 0;
  let column = row;
  for (let x = 0; x < across; x++, pixel += 16) {
    tally(column + ((<usize>levelOf(luma(pixel), levels, stops)) << 2));
    for (rest += columns; rest >= across; rest -= across) column += (<usize>levels) << 2;
  }
}

function countChannel(pixel: usize, row: usize, across: i32, columns: i32, levels: i32, stops: usize): void {
  let rest = 0;
  let column = row;
  for (let x = 0; x < across; x++, pixel += 16) {
    tally(column + ((<usize>levelOf(load<f32>(pixel), levels, stops)) << 2));
    for (rest += columns; rest >= across; rest -= across) column += (<usize>levels) << 2;
  }
}
