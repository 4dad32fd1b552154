import type { Encoding } from "../../core/colour/encodings";
import { logEncoding, type OwnEncoding, tableEncoding } from "../../core/colour/own-encoding";
import type { Transform } from "../../core/colour/transform/transform";
import { readClf } from "../../formats/clf/read";
import { readCube } from "../../formats/cube/cube";
import { FileError } from "../../formats/error";

/**
 * A table from the text of a `.cube` or CLF file. Large ones take seconds: the server lets a thread do it
 * (colour/read-table.ts).
 */
export function readTable(file: string, text: string): Transform {
  if (/\.cube$/i.test(file)) return readCube(file, text);
  if (/\.(clf|xml)$/i.test(file)) return readClf(file, text);
  throw new FileError(file, "is not a table that is read; .cube and .clf are");
}

export const encodingFrom = (body: OwnEncoding): Encoding =>
  body.kind === "log" ? logEncoding(body) : tableEncoding(body, readTable(body.file, body.text));

export const encodingsFrom = (bodies: OwnEncoding[]): Map<string, Encoding> =>
  new Map(bodies.map((body) => [body.id, encodingFrom(body)]));
