import { type Encoding } from "../colour/encodings";
import { ACESCCT } from "../colour/transfer/log";
import { applier, type Step, type Transform } from "../colour/transform/transform";
import { decodeImage } from "../image/decode";
import { encodeFrame, type Frame } from "../image/image";
import { HALVES } from "../maths/half";

/** The tonal part of a look as a table of colours: a lattice of code values goes through the engine, and what comes out is kept. */

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
function shaperStep(): Step {
  const table = new Float32Array(65536 * 3);
  for (let half = 0; half < 65536; half++) {
    const light = HALVES[half]!;
    const code = Number.isFinite(light) ? Math.min(1, Math.max(0, shaped(light))) : light > 0 ? 1 : 0;
    table.fill(code, half * 3, half * 3 + 3);
  }
  return { kind: "lutHalf", table };
}

/** Rounds of evening out a table's errors; more of them gain nothing that is seen. */
const ROUNDS = 6;

/**
 * The corners of the tetrahedron a place of the lattice lies in, and how much each counts (Sakamoto's interpolation, as tables are
 * read): from the cell's lowest corner along the axes, the farthest first. `place`: in entries, from 0 to size - 1.
 */
function corners(place: readonly number[], size: number, at: Int32Array, weights: Float64Array): void {
  const cells = place.map((value) => Math.min(size - 2, Math.floor(value)));
  const rests = place.map((value, c) => value - cells[c]!);
  const strides = [size * size, size, 1];
  const order = [0, 1, 2].sort((a, b) => rests[b]! - rests[a]!);
  let index = cells.reduce((sum, cell, c) => sum + cell * strides[c]!, 0);
  let before = 1;
  for (let i = 0; i < 4; i++) {
    const rest = i < 3 ? rests[order[i]!]! : 0;
    at[i] = index;
    weights[i] = before - rest;
    if (i < 3) index += strides[order[i]!]!;
    before = rest;
  }
}

/**
 * Moves entries so that what lies between them is nearer to the engine: where a curve bends, straight lines between true values lie
 * all on one side of it. Each entry takes the mean of the errors around it, weighed as it counts there, over a lattice twice as
 * fine (the simultaneous iterative reconstruction technique, Gilbert 1972).
 */
function evenOut(table: Float32Array, size: number, wanted: Float32Array): void {
  const fine = 2 * size - 1;
  const [at, weights] = [new Int32Array(4), new Float64Array(4)];
  const [sums, shares] = [new Float64Array(table.length), new Float64Array(size ** 3)];
  for (let round = 0; round < ROUNDS; round++) {
    sums.fill(0);
    shares.fill(0);
    let from = 0;
    for (let r = 0; r < fine; r++)
      for (let g = 0; g < fine; g++)
        for (let b = 0; b < fine; b++, from += 4) {
          corners([r / 2, g / 2, b / 2], size, at, weights);
          for (let i = 0; i < 4; i++) shares[at[i]!]! += weights[i]!;
          for (let c = 0; c < 3; c++) {
            let value = 0;
            for (let i = 0; i < 4; i++) value += weights[i]! * table[at[i]! * 3 + c]!;
            const error = wanted[from + c]! - value;
            for (let i = 0; i < 4; i++) sums[at[i]! * 3 + c]! += weights[i]! * error;
          }
        }
    for (let i = 0; i < table.length; i++) table[i]! += sums[i]! / shares[Math.floor(i / 3)]!;
  }
}

/** The table, ready to be written. Its lattice holds code values from 0 to 1; beyond them it holds. */
export function tonalTable(name: string, request: TableRequest, run: RunTonal): Transform {
  const { size, input } = request;
  const data = resultOf(lattice(size), request, run);
  const table = new Float32Array(size ** 3 * 3);
  for (let from = 0, to = 0; to < table.length; from += 4, to += 3)
    for (let c = 0; c < 3; c++) table[to + c] = data[from + c]!;
  evenOut(table, size, resultOf(lattice(2 * size - 1), request, run));
  // A view's code values go from 0 to 1; evening out may have led beyond.
  if (request.throughView) for (let i = 0; i < table.length; i++) table[i] = Math.min(1, Math.max(0, table[i]!));
  const cube: Step = { kind: "lut3d", size, low: [0, 0, 0], high: [1, 1, 1], table };
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
  errorOver(lattice(2 * request.size - 1), transform, request, run);

/** A table measured over a frame of working light: its own colours, as often as they occur. */
export function errorOverFrame(frame: Frame, transform: Transform, request: TableRequest, run: RunTonal): TableError {
  const { data } = encodeFrame(frame, request.input);
  const codes = Float32Array.from(data, (value, i) => {
    if ((i & 3) === 3) return 1;
    return Math.min(1, Math.max(0, isLight(request.input) ? shaped(value) : value));
  });
  return errorOver({ ...frame, data: codes }, transform, request, run);
}
