import { type Encoding } from "../colour/encodings";
import { ACESCCT } from "../colour/transfer/log";
import { applier, type TransformStep, type Transform } from "../colour/transform/transform";
import { decodeImage } from "../image/decode";
import { encodeFrame, type Frame } from "../image/image";
import { HALVES } from "../maths/half";

/**
 * The tonal part of a look as a table of colours: a lattice of code values goes through the engine, and what comes out
 * is kept.
 */

export const TABLE_SIZES = [17, 33, 65] as const;
export type TableSize = (typeof TABLE_SIZES)[number];

export interface TableRequest {
  /** Entries a side. */
  size: TableSize;
  /** What code values go in by. Light itself goes through a shaper first. */
  input: Encoding;
  /** Whether the look's view is in it; without it, what comes out is encoded as what goes in. */
  throughView: boolean;
}

/** Runs the tonal part of the look over light: gives code values of the view, or working light. */
export type RunTonal = (light: Frame, throughView: boolean) => Frame;

/** How far a table stands from the engine, in code values of ten bits. */
export interface TableError {
  mean: number;
  largest: number;
  /** The share of values within three code values, 0 to 1. */
  withinThree: number;
}

/** Code values of ten bits, and how near most values are to be. */
const TEN_BITS = 1023;
const NEAR = 3;

/** Light as a table takes it in: on the scale of ACEScct (S-2016-001), which has room for 65504 and below 0. */
const shaped = (light: number) => ACESCCT.toCode(light);
const unshaped = (code: number) => ACESCCT.toLight(code);

const isLight = ({ family }: Encoding) => family === "linear";

/** A lattice of `size` entries a side of codes from 0 to 1, as an image; blue goes fastest. */
function lattice(size: number): Frame {
  const data = new Float32Array(size ** 3 * 4);
  let at = 0;
  for (let r = 0; r < size; r++)
    for (let g = 0; g < size; g++)
      for (let b = 0; b < size; b++, at += 4) data.set([r / (size - 1), g / (size - 1), b / (size - 1), 1], at);
  return { width: size, height: size * size, data };
}

/** What code values mean, in working light. Light itself comes off its shaper. */
function lightOf({ width, height, data }: Frame, input: Encoding): Frame {
  const codes = isLight(input)
    ? Float32Array.from(data, (code, i) => ((i & 3) === 3 ? code : unshaped(code)))
    : data.slice();
  return decodeImage({ width, height, pixels: { depth: "float", data: codes } }, input).frame;
}

/** What comes out for code values that go in. */
function resultOf(codes: Frame, { input, throughView }: TableRequest, run: RunTonal): Float32Array {
  const out = run(lightOf(codes, input), throughView);
  return throughView ? out.data : encodeFrame(out, input).data;
}

/** Every half float to its place on the shaper; what is not a number, and what lies below, to 0. */
function shaperStep(): TransformStep {
  const table = new Float32Array(65536 * 3);
  for (let half = 0; half < 65536; half++) {
    const light = HALVES[half]!;
    const code = Number.isFinite(light) ? Math.min(1, Math.max(0, shaped(light))) : light > 0 ? 1 : 0;
    table.fill(code, half * 3, half * 3 + 3);
  }
  return { kind: "lutHalf", table };
}

/** Places of the lattice, each with the corners of the tetrahedron it lies in, and how much each counts. */
interface Places {
  count: number;
  /** Four entries a place. */
  entries: Int32Array;
  weights: Float32Array;
}

const CORNERS = 4;

/**
 * The corners of the tetrahedron a place of the lattice lies in, and how much each counts (Sakamoto's interpolation, as
 * tables are read): from the cell's lowest corner along the axes, the farthest first. `place`: in entries, from 0 to
 * size - 1.
 */
function putCorners(position: readonly number[], size: number, { entries, weights }: Places, from: number): void {
  const cells = position.map((value) => Math.min(size - 2, Math.floor(value)));
  const rests = position.map((value, c) => value - cells[c]!);
  const strides = [size * size, size, 1];
  const order = [0, 1, 2].sort((a, b) => rests[b]! - rests[a]!);
  let index = cells.reduce((sum, cell, c) => sum + cell * strides[c]!, 0);
  let before = 1;
  for (let i = 0; i < CORNERS; i++) {
    const rest = i < 3 ? rests[order[i]!]! : 0;
    entries[from + i] = index;
    weights[from + i] = before - rest;
    if (i < 3) index += strides[order[i]!]!;
    before = rest;
  }
}

/** Entries of a lattice `finer` times as fine as a table of `size`. */
const finerSize = (size: number, finer: number) => finer * (size - 1) + 1;

function placesOf(size: number, finer: number): Places {
  const fine = finerSize(size, finer);
  const count = fine ** 3;
  const places = {
    count,
    entries: new Int32Array(count * CORNERS),
    weights: new Float32Array(count * CORNERS),
  };
  let from = 0;
  for (let r = 0; r < fine; r++)
    for (let g = 0; g < fine; g++)
      for (let b = 0; b < fine; b++, from += CORNERS) putCorners([r / finer, g / finer, b / finer], size, places, from);
  return places;
}

/** What a table holds at every place. */
function interpolated(table: Float64Array, { count, entries, weights }: Places, out: Float32Array): void {
  for (let i = 0, from = 0; i < count; i++, from += CORNERS) {
    let value = 0;
    for (let k = 0; k < CORNERS; k++) value += weights[from + k]! * table[entries[from + k]!]!;
    out[i] = value;
  }
}

/** The other way: what stands at every place, gathered at the entries that count there. */
function gathered(values: Float32Array, { count, entries, weights }: Places, out: Float64Array): void {
  out.fill(0);
  for (let i = 0, from = 0; i < count; i++, from += CORNERS)
    for (let k = 0; k < CORNERS; k++) out[entries[from + k]!]! += weights[from + k]! * values[i]!;
}

const squares = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 0);

/** Steps of the conjugate gradients between weighings, and weighings; more of them gain nothing that is seen. */
const STEPS = 6;
const WEIGHINGS = 4;
/** An error that is seen as little as none: what lies below it counts alike. */
const UNSEEN = 0.5 / TEN_BITS;

/**
 * Moves one channel's entries to where what lies between them, too, is nearest to what is wanted: where a curve bends,
 * straight lines between true values lie all on one side of it. What counts is the mean error, not its square, or the
 * few places where light is clipped would bend all that lies around them: least squares, weighed anew by what is left
 * (IRLS; Holland and Welsch, 1977), each by conjugate gradients on the normal equations (CGLS; Björck, 1996). `wanted`:
 * at every place.
 */
function fitEntries(table: Float64Array, places: Places, wanted: Float32Array): void {
  const { count } = places;
  const [between, residual, weight] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const gradient = new Float64Array(table.length);
  const gatherWeighed = () => {
    for (let i = 0; i < count; i++) between[i] = weight[i]! * residual[i]!;
    gathered(between, places, gradient);
  };
  for (let round = 0; round < WEIGHINGS; round++) {
    interpolated(table, places, between);
    for (let i = 0; i < count; i++) {
      residual[i] = wanted[i]! - between[i]!;
      weight[i] = UNSEEN / Math.max(UNSEEN, Math.abs(residual[i]!));
    }
    gatherWeighed();
    const direction = gradient.slice();
    let size = squares(gradient);
    for (let step = 0; step < STEPS && size > 0; step++) {
      interpolated(direction, places, between);
      let along = 0;
      for (let i = 0; i < count; i++) along += weight[i]! * between[i]! * between[i]!;
      const length = size / along;
      for (let i = 0; i < table.length; i++) table[i]! += length * direction[i]!;
      for (let i = 0; i < count; i++) residual[i]! -= length * between[i]!;
      gatherWeighed();
      const next = squares(gradient);
      for (let i = 0; i < direction.length; i++) direction[i] = gradient[i]! + (next / size) * direction[i]!;
      size = next;
    }
  }
}

/**
 * Tables are fitted over a lattice so many times as fine; the largest, which is fine by itself, over one that fits in
 * memory.
 */
const FINER: Record<TableSize, number> = { 17: 3, 33: 3, 65: 2 };

/** The table, ready to be written. Its lattice holds code values from 0 to 1; beyond them it holds. */
export function tonalTable(name: string, request: TableRequest, run: RunTonal): Transform {
  const { size, input } = request;
  const data = resultOf(lattice(size), request, run);
  const table = new Float32Array(size ** 3 * 3);
  for (let from = 0, to = 0; to < table.length; from += 4, to += 3)
    for (let c = 0; c < 3; c++) table[to + c] = data[from + c]!;
  const finer = FINER[size];
  const places = placesOf(size, finer);
  const wanted = resultOf(lattice(finerSize(size, finer)), request, run);
  for (let c = 0; c < 3; c++) {
    const channel = Float64Array.from({ length: size ** 3 }, (_, i) => table[i * 3 + c]!);
    const own = Float32Array.from({ length: places.count }, (_, i) => wanted[i * 4 + c]!);
    fitEntries(channel, places, own);
    for (let i = 0; i < channel.length; i++) table[i * 3 + c] = channel[i]!;
  }
  // A view's code values go from 0 to 1; fitting may have led beyond.
  if (request.throughView) for (let i = 0; i < table.length; i++) table[i] = Math.min(1, Math.max(0, table[i]!));
  const cube: TransformStep = { kind: "lut3d", size, low: [0, 0, 0], high: [1, 1, 1], table };
  return { name, steps: isLight(input) ? [shaperStep(), cube] : [cube] };
}

/** Holds what a table makes of code values against what the engine makes of them. */
function errorOver(codes: Frame, transform: Transform, request: TableRequest, run: RunTonal): TableError {
  // The lattice's own codes stand behind the shaper already.
  const apply = applier({ ...transform, steps: transform.steps.filter(({ kind }) => kind !== "lutHalf") });
  const wanted = resultOf(codes, request, run);
  const rgb = [0, 0, 0];
  let [sum, largest, near] = [0, 0, 0];
  for (let i = 0; i < codes.data.length; i += 4) {
    for (let c = 0; c < 3; c++) rgb[c] = codes.data[i + c]!;
    apply(rgb);
    for (let c = 0; c < 3; c++) {
      const apart = Math.abs(rgb[c]! - wanted[i + c]!) * TEN_BITS;
      sum += apart;
      largest = Math.max(largest, apart);
      if (apart <= NEAR) near++;
    }
  }
  const count = (codes.data.length / 4) * 3;
  return { mean: sum / count, largest, withinThree: near / count };
}

/** A table measured over a lattice twice as fine as its own, where it is farthest from what it was made of. */
export const errorOverLattice = (transform: Transform, request: TableRequest, run: RunTonal): TableError =>
  errorOver(lattice(finerSize(request.size, 2)), transform, request, run);

/** A table measured over a frame of working light: its own colours, as often as they occur. */
export function errorOverFrame(frame: Frame, transform: Transform, request: TableRequest, run: RunTonal): TableError {
  const { data } = encodeFrame(frame, request.input);
  const codes = Float32Array.from(data, (value, i) => {
    if ((i & 3) === 3) return 1;
    return Math.min(1, Math.max(0, isLight(request.input) ? shaped(value) : value));
  });
  return errorOver({ ...frame, data: codes }, transform, request, run);
}
