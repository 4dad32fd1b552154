import { compile } from "../../core/compile/compile";
import type { Encoding } from "../../core/colour/encodings";
import {
  errorOverFrame,
  errorOverLattice,
  type RunTonal,
  type TableSize,
  tonalTable,
} from "../../core/export/tonal-table";
import { tonalPart } from "../../core/export/tonal-part";
import { floatsOf, type Frame } from "../../core/image/image";
import { lookAt } from "../../core/look/at-frame";
import type { Look } from "../../core/look/look";
import type { Cabinet } from "../../core/profile/profiles";
import { writeClf } from "../../formats/clf/write";
import { writeCube } from "../../formats/cube/cube";
import type { TableFormat, TableMade } from "../../contract/export";
import type { Engine } from "../../core/engine/engine";

export interface TableOrder {
  format: TableFormat;
  size: TableSize;
  input: Encoding;
  throughView: boolean;
  /** The frame at which what is timed is taken. */
  frame: number;
}

/** What an order asks for that its format does not hold, or null. */
export const tableProblem = ({
  format,
  input,
}: {
  format: TableOrder["format"];
  input: { label: string; family: string; table?: unknown };
}): string | null => {
  if (input.table) return `“${input.label}” is a table, which works one way only; choose another encoding`;
  if (format === "cube" && input.family === "linear")
    return "A .cube table takes in code values from 0 to 1, and light has no end: choose a log encoding such as acescct, or clf";
  return null;
};

/** Every lattice that is run is another source, whatever else the engine has run. */
let serial = 0;

/**
 * Makes a table of a look's tonal part and measures it. `light`: a frame of working light to measure it over. Throws
 * RangeError.
 */
export function exportTable(
  engine: Engine,
  look: Look,
  cabinet: Cabinet,
  order: TableOrder,
  light: Frame | null,
): TableMade {
  const { transform, request, run, leftOut, text } = madeTable(engine, look, cabinet, order);
  return {
    text,
    leftOut,
    lattice: errorOverLattice(transform, request, run),
    frame: light && errorOverFrame(light, transform, request, run),
  };
}

/** The table alone, as a file's text. Throws RangeError for what no table can take. */
export const tableText = (...of: Parameters<typeof madeTable>): string => madeTable(...of).text;

function madeTable(engine: Engine, look: Look, cabinet: Cabinet, order: TableOrder) {
  const problem = tableProblem(order);
  if (problem) throw new RangeError(problem);
  const { format, size, input, throughView, frame } = order;
  const at = lookAt(look, cabinet, { width: size, height: size * size, frame });
  const { look: tonal, leftOut } = tonalPart(look, at);
  const run: RunTonal = (from, view) => {
    const request = { width: from.width, height: from.height, frame, sourceKey: `table ${serial++}` };
    const plan = compile(tonal, cabinet, request, { kind: view ? "codes" : "light" });
    const bytes = engine.run(plan, () => from.data);
    return { ...from, data: floatsOf(bytes).slice() };
  };
  const request = { size, input, throughView };
  const transform = tonalTable(`${look.name}, tonal part`, request, run);
  const text = format === "cube" ? writeCube(transform) : writeClf(transform, "pale-halo-tonal-part");
  return { transform, request, run, leftOut, text };
}
