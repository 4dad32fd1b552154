import { z } from "zod";
import { IDENTITY, type Matrix3 } from "../maths/matrix";
import { type Encoding, ENCODING_NAMES, encodingByName, isEncodingName } from "./encodings";
import { statedEncoding } from "./stated-primaries";
import { logTransfer } from "./transfer/log";
import type { Transform } from "./transform/transform";

/**
 * Encodings the user makes: a log curve with a matrix, or a table from a `.cube` or CLF file. Plain JSON, kept under an
 * id.
 */
const finite = z.number().min(-1e6).max(1e6);
const row = z.tuple([finite, finite, finite]);
const id = z.string().regex(/^[a-z0-9][a-z0-9-]{0,59}$/, "an id is small letters, digits and hyphens, up to 60");

/** Largest text of a table, characters. */
export const MAX_TABLE_TEXT = 16 * 2 ** 20;

export const logParamsSchema = z
  .object({
    base: z.number().gt(1).max(1000).describe("base of the logarithm"),
    logSideSlope: finite.refine((value) => value !== 0, "must not be 0"),
    logSideOffset: finite,
    linSideSlope: finite.refine((value) => value !== 0, "must not be 0"),
    linSideOffset: finite,
    linSideBreak: finite.optional().describe("light at and below which the curve is a straight line"),
    linearSlope: finite.optional().describe("slope of the straight line; the curve's own at the break if left out"),
  })
  .strict()
  .refine(
    ({ linSideBreak, linSideSlope, linSideOffset }) =>
      linSideBreak === undefined || linSideSlope * linSideBreak + linSideOffset > 0,
    {
      path: ["linSideBreak"],
      message: "the curve has no logarithm at its break: linSideSlope × linSideBreak + linSideOffset must be above 0",
    },
  );

const base = {
  format: z.literal("pale-halo-encoding"),
  version: z.literal(1),
  id,
  name: z.string().trim().min(1).max(120),
};

export const logEncodingSchema = z
  .object({
    ...base,
    kind: z.literal("log"),
    log: logParamsSchema,
    matrix: z.tuple([row, row, row]).describe("linear light of the encoding to working light (AP1), row by row"),
  })
  .strict()
  .refine(({ matrix }) => Math.abs(determinant(matrix.flat())) > 1e-6, { path: ["matrix"], message: "has no inverse" });

export const tableEncodingSchema = z
  .object({
    ...base,
    kind: z.literal("table"),
    file: z.string().min(1).max(200).describe("name of the .cube or .clf file the table came from"),
    text: z.string().min(1).max(MAX_TABLE_TEXT),
    into: z.enum(ENCODING_NAMES).default("linear-ap1").describe("what the table's values are encoded as"),
  })
  .strict();

export const ownEncodingSchema = z.union([logEncodingSchema, tableEncodingSchema]);
export type LogEncoding = z.infer<typeof logEncodingSchema>;
export type TableEncoding = z.infer<typeof tableEncodingSchema>;
export type OwnEncoding = LogEncoding | TableEncoding;

function determinant(m: number[]): number {
  const [a, b, c, d, e, f, g, h, i] = m as [number, number, number, number, number, number, number, number, number];
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
}

export function logEncoding({ id: name, name: label, log, matrix }: LogEncoding): Encoding {
  const toWorking = matrix.flat() as unknown as Matrix3;
  return {
    name,
    label,
    family: "log",
    primaries: null,
    transfer: logTransfer(log),
    toWorking: toWorking.every((v, i) => v === IDENTITY[i]) ? null : toWorking,
  };
}

export function tableEncoding(
  { id: name, name: label, into }: Omit<TableEncoding, "text">,
  table: Transform,
): Encoding {
  return { ...encodingByName(into), name, label, family: "log", table };
}

/** The encoding a name stands for: one there is by itself, one of stated primaries, or one that was made. */
export function findEncoding(name: string, made: ReadonlyMap<string, Encoding> = new Map()): Encoding | undefined {
  return isEncodingName(name) ? encodingByName(name) : (statedEncoding(name) ?? made.get(name));
}
