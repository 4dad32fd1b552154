import type { Triple } from "../../core/maths/matrix";
import { MAX_CUBE, MAX_LUT1D, type TransformStep, type Transform } from "../../core/colour/transform/transform";
import { FileError } from "../error";

/**
 * The `.cube` text format (version 1.0): TITLE, LUT_1D_SIZE or LUT_3D_SIZE, DOMAIN_MIN and DOMAIN_MAX or the common
 * LUT_1D_INPUT_RANGE and LUT_3D_INPUT_RANGE, then rows of three numbers. A file with both tables has the 1D one first:
 * a shaper.
 */
export function readCube(file: string, text: string): Transform {
  const bad = (line: number, reason: string) => new FileError(file, `line ${line}: ${reason}`);
  let title = "";
  let size1 = 0;
  let size3 = 0;
  let low: Triple = [0, 0, 0];
  let high: Triple = [1, 1, 1];
  let range1: [number, number] | null = null;
  let range3: [number, number] | null = null;
  const values: number[] = [];
  const lines = text.split(/\r\n|\r|\n/);
  for (const [index, raw] of lines.entries()) {
    const line = raw.trim();
    const number = index + 1;
    if (!line || line.startsWith("#")) continue;
    const [word, ...rest] = line.split(/\s+/);
    const numbers = rest.map(Number);
    const triple = (): Triple => {
      if (numbers.length !== 3 || !numbers.every(Number.isFinite)) throw bad(number, `${word} takes three numbers`);
      return numbers as unknown as Triple;
    };
    const range = (): [number, number] => {
      if (numbers.length !== 2 || !numbers.every(Number.isFinite) || numbers[0]! >= numbers[1]!)
        throw bad(number, `${word} takes two numbers, the lower first`);
      return numbers as [number, number];
    };
    const size = (most: number): number => {
      if (numbers.length !== 1 || !Number.isInteger(numbers[0]) || numbers[0]! < 2 || numbers[0]! > most)
        throw bad(number, `${word} is a whole number from 2 to ${most}`);
      return numbers[0]!;
    };
    if (word === "TITLE") title = line.slice(5).trim().replace(/^"|"$/g, "");
    else if (word === "LUT_1D_SIZE") size1 = size(MAX_LUT1D);
    else if (word === "LUT_3D_SIZE") size3 = size(MAX_CUBE);
    else if (word === "DOMAIN_MIN") low = triple();
    else if (word === "DOMAIN_MAX") high = triple();
    else if (word === "LUT_1D_INPUT_RANGE") range1 = range();
    else if (word === "LUT_3D_INPUT_RANGE") range3 = range();
    else if (/^[-+.\d]/.test(word!)) {
      const row = [Number(word), ...numbers];
      if (row.length !== 3 || !row.every(Number.isFinite)) throw bad(number, "a row of the table is three numbers");
      if (values.length >= 3 * (size1 + size3 ** 3))
        throw bad(
          number,
          size1 || size3 ? "there are more rows than the size says" : "a row comes before LUT_1D_SIZE or LUT_3D_SIZE",
        );
      values.push(row[0]!, row[1]!, row[2]!);
    } else throw bad(number, `“${word!.slice(0, 40)}” is not a word of this format`);
  }
  if (!size1 && !size3) throw new FileError(file, "has neither LUT_1D_SIZE nor LUT_3D_SIZE");
  const wanted = size1 + size3 ** 3;
  if (values.length !== wanted * 3)
    throw new FileError(file, `has ${values.length / 3} rows; its size asks for ${wanted}`);
  if (low.some((value, c) => value >= high[c]!))
    throw new FileError(file, "DOMAIN_MIN must be below DOMAIN_MAX in each channel");
  const domain = (range: [number, number] | null) =>
    range
      ? { low: Array(3).fill(range[0]) as unknown as Triple, high: Array(3).fill(range[1]) as unknown as Triple }
      : { low, high };
  const steps: TransformStep[] = [];
  if (size1)
    steps.push({ kind: "lut1d", size: size1, ...domain(range1), table: Float32Array.from(values.slice(0, size1 * 3)) });
  if (size3)
    steps.push({
      kind: "lut3d",
      size: size3,
      ...(size1 && !range3 ? { low: [0, 0, 0] as Triple, high: [1, 1, 1] as Triple } : domain(range3)),
      table: blueFastest(values.slice(size1 * 3), size3),
    });
  return { name: title || file.replace(/\.[^.]+$/, ""), steps };
}

/** The format runs red fastest; steps hold blue fastest. */
function blueFastest(rows: ArrayLike<number>, size: number): Float32Array {
  const table = new Float32Array(size ** 3 * 3);
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++)
        for (let c = 0; c < 3; c++)
          table[((r * size + g) * size + b) * 3 + c] = rows[((b * size + g) * size + r) * 3 + c]!;
  return table;
}

const number = (value: number) => Number(value.toPrecision(9)).toString();
const rowsOf = (table: ArrayLike<number>) =>
  Array.from({ length: table.length / 3 }, (_, i) => [0, 1, 2].map((c) => number(table[i * 3 + c]!)).join(" "));

/** Writes a transform of one 1D table, one 3D table, or both in that order; anything else is a RangeError. */
export function writeCube({ name, steps }: Transform): string {
  const kinds = steps.map(({ kind }) => kind).join("+");
  if (!["lut1d", "lut3d", "lut1d+lut3d"].includes(kinds))
    throw new RangeError(
      `A .cube file holds a 1D table, a 3D table, or a shaper and a 3D table; this is ${kinds || "nothing"}`,
    );
  const lines = [`TITLE "${name.replace(/"/g, "'")}"`];
  const both = steps.length === 2;
  for (const step of steps) {
    if (step.kind !== "lut1d" && step.kind !== "lut3d") continue;
    const word = step.kind === "lut1d" ? "LUT_1D" : "LUT_3D";
    lines.push(`${word}_SIZE ${step.size}`);
    if (both) lines.push(`${word}_INPUT_RANGE ${number(step.low[0])} ${number(step.high[0])}`);
    else lines.push(`DOMAIN_MIN ${step.low.map(number).join(" ")}`, `DOMAIN_MAX ${step.high.map(number).join(" ")}`);
  }
  for (const step of steps) {
    if (step.kind === "lut1d") for (const row of rowsOf(step.table)) lines.push(row);
    if (step.kind === "lut3d") for (const row of rowsOf(blueFastest(step.table, step.size))) lines.push(row);
  }
  return `${lines.join("\n")}\n`;
}
