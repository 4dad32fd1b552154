import { basename, extname } from "node:path";
import { type Encoding, ENCODING_NAMES, type EncodingName } from "../core/colour/encodings";
import { findEncoding, type OwnEncoding, ownEncodingSchema } from "../core/colour/own-encoding";
import { encodingFrom, readTable } from "../server/encodings/own-encoding";
import type { EncodingText } from "../server/render/job";
import { parse, readText } from "./files";
import { UsageError } from "./options";

/** A file that is an encoding: the user's JSON, or a `.cube` or CLF file whose values are working light. */
function ownEncoding(path: string): OwnEncoding | null {
  const kind = extname(path).toLowerCase();
  if (kind === ".json") return parse(path, ownEncodingSchema);
  if (![".cube", ".clf"].includes(kind)) return null;
  const [file, text] = [basename(path), readText(path)];
  // Read here, so that what is wrong with it is told of the path.
  readTable(path, text);
  return {
    format: "pale-halo-encoding",
    version: 1,
    kind: "table",
    id: file.toLowerCase(),
    name: file,
    file,
    into: "linear-ap1",
    text,
  };
}

/** An encoding by its name, from the user's JSON file, or from a `.cube` or CLF file; and as data, for a recipe. */
export function encodingGiven(option: string, value: string): { encoding: Encoding; text: EncodingText } {
  const found = findEncoding(value);
  if (found) return { encoding: found, text: found.name as EncodingName };
  const own = ownEncoding(value);
  if (own) return { encoding: encodingFrom(own), text: own };
  throw new UsageError(
    `${option} ${value}: there is no such encoding; there are ${ENCODING_NAMES.join(", ")}, or the path of a .json, .cube or .clf file`,
  );
}

export const encodingNamed = (option: string, value: string): Encoding => encodingGiven(option, value).encoding;
