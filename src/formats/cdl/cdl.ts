import { type Correction, correctionSchema } from "../../core/colour/correction";
import { FileError } from "../error";
import { parseXml } from "../xml";

/** ASC CDL v1.2 corrections: `.cdl` (ColorDecisionList), `.cc` (one ColorCorrection), `.ccc` (a collection). */
const MAX_CORRECTIONS = 10_000;

type Tree = { [key: string]: Tree | Tree[] | string | undefined };
const list = (value: Tree[string]): Tree[] =>
  value === undefined ? [] : Array.isArray(value) ? value : [value as Tree];

/** Every ColorCorrection under a node, in the file's order, however deep. */
function corrections(node: Tree): Tree[] {
  if (typeof node !== "object") return [];
  return Object.entries(node).flatMap(([key, value]) =>
    key === "ColorCorrection" ? list(value) : key.startsWith("@") ? [] : list(value).flatMap(corrections),
  );
}

export function readCdl(file: string, text: string): Correction[] {
  const found = corrections(parseXml(file, text, { attributeNamePrefix: "@" }) as Tree).slice(0, MAX_CORRECTIONS);
  if (!found.length) throw new FileError(file, "has no ColorCorrection");
  return found.map((node, i) => {
    const id = typeof node["@id"] === "string" ? node["@id"] : `${i + 1}`;
    const sop = list(node.SOPNode ?? node.SopNode)[0];
    const sat = list(node.SatNode ?? node.SATNode)[0];
    const numbers = (holder: Tree | undefined, name: string, otherwise: number[]) => {
      const value = holder?.[name];
      return typeof value === "string" ? value.trim().split(/\s+/).map(Number) : otherwise;
    };
    const result = correctionSchema.safeParse({
      id,
      slope: numbers(sop, "Slope", [1, 1, 1]),
      offset: numbers(sop, "Offset", [0, 0, 0]),
      power: numbers(sop, "Power", [1, 1, 1]),
      saturation: numbers(sat, "Saturation", [1])[0],
    });
    if (!result.success)
      throw new FileError(
        file,
        `correction ${id}: ${result.error.issues[0]!.path.join(".")}: ${result.error.issues[0]!.message}`,
      );
    return result.data;
  });
}

const NAMESPACE = "urn:ASC:CDL:v1.01";
const escape = (text: string) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/"/g, "&quot;");
const numbers = (values: readonly number[]) => values.map((value) => Number(value.toPrecision(9)).toString()).join(" ");

export const CDL_KINDS = ["cdl", "ccc", "cc"] as const;
export type CdlKind = (typeof CDL_KINDS)[number];

/** Corrections as a `.ccc` collection or a `.cdl` decision list; the first alone as a `.cc`. */
export function writeCdl(all: readonly Correction[], kind: CdlKind): string {
  const one = ({ id, slope, offset, power, saturation }: Correction, space = "") =>
    `<ColorCorrection${space} id="${escape(id)}"><SOPNode><Slope>${numbers(slope)}</Slope><Offset>${numbers(offset)}</Offset><Power>${numbers(power)}</Power></SOPNode><SatNode><Saturation>${numbers([saturation])}</Saturation></SatNode></ColorCorrection>`;
  if (kind === "cc") return `<?xml version="1.0" encoding="UTF-8"?>\n${one(all[0]!, ` xmlns="${NAMESPACE}"`)}\n`;
  const body = all
    .map((entry) => (kind === "ccc" ? one(entry) : `<ColorDecision>${one(entry)}</ColorDecision>`))
    .join("\n");
  const root = kind === "ccc" ? "ColorCorrectionCollection" : "ColorDecisionList";
  return `<?xml version="1.0" encoding="UTF-8"?>\n<${root} xmlns="${NAMESPACE}">\n${body}\n</${root}>\n`;
}
