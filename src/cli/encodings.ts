import { basename, extname } from "node:path";
import { type Encoding, ENCODING_NAMES } from "../core/colour/encodings";
import { findEncoding, logEncoding, ownEncodingSchema, tableEncoding } from "../core/colour/own-encoding";
import { problems } from "../core/look/look";
import { encodingFrom, readTable } from "../server/encodings/own-encoding";
import { readJson, readText } from "./files";
import { UsageError } from "./options";

/** An encoding by its name, from the user's JSON file, or from a `.cube` or CLF file whose values are working light. */
export function encodingNamed(option: string, value: string): Encoding {
  const found = findEncoding(value);
  if (found) return found;
  const kind = extname(value).toLowerCase();
  if (kind === ".json") {
    const body = readJson(value);
    const result = ownEncodingSchema.safeParse(body);
    if (!result.success) throw new UsageError(`${value}: ${problems(ownEncodingSchema, body).slice(0, 3).join("; ")}`);
    return result.data.kind === "log" ? logEncoding(result.data) : encodingFrom(result.data);
  }
  if ([".cube", ".clf"].includes(kind)) {
    const file = basename(value);
    return tableEncoding(
      {
        format: "pale-halo-encoding",
        version: 1,
        kind: "table",
        id: file.toLowerCase(),
        name: file,
        file,
        into: "linear-ap1",
      },
      readTable(value, readText(value)),
    );
  }
  throw new UsageError(
    `${option} ${value}: there is no such encoding; there are ${ENCODING_NAMES.join(", ")}, or the path of a .json, .cube or .clf file`,
  );
}
