import { z } from "zod";
import { type LogEncoding, logEncodingSchema } from "@/core/colour/own-encoding";
import type { LogParams } from "@/core/colour/transfer/log";

/** The numbers of a log curve, as they are typed; `empty`: what one that is left empty comes to. */
export const CURVE_FIELDS = [
  { name: "base", label: "Base" },
  { name: "logSideSlope", label: "Log-side slope" },
  { name: "logSideOffset", label: "Log-side offset" },
  { name: "linSideSlope", label: "Linear-side slope" },
  { name: "linSideOffset", label: "Linear-side offset" },
  { name: "linSideBreak", label: "Break (light)", empty: "none" },
  { name: "linearSlope", label: "Slope below it", empty: "smooth" },
] as const satisfies { name: keyof LogParams; label: string; empty?: string }[];
export type CurveField = (typeof CURVE_FIELDS)[number]["name"];

/** An encoding while it is typed: everything is text, and may be half written. */
export interface Draft {
  name: string;
  params: Record<CurveField, string>;
  /** Nine numbers, row by row. */
  matrix: string[];
  /** Known pairs to check the curve by: code of 10 bits, reflectance %. They are no part of the encoding. */
  pairs: { code: string; reflectance: string }[];
}

const FIRST_PAIR = { code: "", reflectance: "18" };

/** A curve to begin with: ACEScct's own numbers. */
export const FIRST_DRAFT: Draft = {
  name: "",
  params: {
    base: "2",
    logSideSlope: "0.0570776",
    logSideOffset: "0.5547945",
    linSideSlope: "1",
    linSideOffset: "0",
    linSideBreak: "0.0078125",
    linearSlope: "",
  },
  matrix: ["1", "0", "0", "0", "1", "0", "0", "0", "1"],
  pairs: [FIRST_PAIR],
};

/** A stored encoding as it is typed. */
export const draftOf = ({ name, log, matrix }: LogEncoding): Draft => ({
  name,
  params: Object.fromEntries(
    CURVE_FIELDS.map((field) => [field.name, String(log[field.name] ?? "")]),
  ) as Draft["params"],
  matrix: matrix.flat().map(String),
  pairs: [FIRST_PAIR],
});

/** The id of an encoding of this name. */
export const idOf = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 60);

const numberOf = (text: string) => (text.trim() === "" ? undefined : Number(text));

/** The field of the form that a fault of the encoding is shown beside. */
function fieldOf([part, ...rest]: readonly PropertyKey[]): PropertyKey[] {
  if (part === "log") return ["params", ...rest];
  if (part !== "matrix") return ["name"];
  const [row, column] = rest.map(Number);
  return row === undefined ? ["matrix"] : ["matrix", 3 * row + (column ?? 0)];
}

/** What a field of the form is called there, by its path. */
export const fieldLabel = ([part, name]: readonly PropertyKey[]): string =>
  CURVE_FIELDS.find((field) => part === "params" && field.name === name)?.label ??
  (part === "matrix" ? "Matrix" : "Name");

const text = z.string().max(120);

/** A draft to the encoding it stands for; faults are told by the form's own fields. */
export const draftSchema = z
  .object({
    name: text,
    params: z.record(z.string(), text),
    matrix: z.array(text).length(9),
    pairs: z.array(z.object({ code: text, reflectance: text })).max(50),
  })
  .transform(({ name, params, matrix }, context): LogEncoding => {
    const log = CURVE_FIELDS.map((field) => [field.name, numberOf(params[field.name] ?? "")] as const);
    const read = logEncodingSchema.safeParse({
      format: "pale-halo-encoding",
      version: 1,
      kind: "log",
      id: idOf(name),
      name,
      log: Object.fromEntries(log.filter(([, value]) => value !== undefined)),
      matrix: [0, 3, 6].map((at) => matrix.slice(at, at + 3).map(Number)),
    });
    if (read.success) return read.data;
    for (const { path, message } of read.error.issues)
      context.addIssue({ code: "custom", path: fieldOf(path), message });
    return z.NEVER;
  });
