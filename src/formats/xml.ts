import { type X2jOptions, XMLParser, XMLValidator } from "fast-xml-parser";
import { FileError } from "./error";

/**
 * What a file of a few hundred steps or corrections never reaches; more would only take the parser's time and stack.
 */
const MAX_ELEMENTS = 100_000;
const MAX_ATTRIBUTES = 64;
const MAX_DEPTH = 32;

/**
 * Why a text is more than is parsed; null where it is not. Comments and character data are looked at as anything else.
 */
function excessOf(text: string): string | null {
  let [elements, depth] = [0, 0];
  for (const [tag] of text.matchAll(/<[^<>]*>?/g)) {
    if (tag.startsWith("<!") || tag.startsWith("<?")) continue;
    if (tag.startsWith("</")) {
      depth--;
      continue;
    }
    elements++;
    if (!tag.endsWith("/>")) depth++;
    if (elements > MAX_ELEMENTS) return `has more than ${MAX_ELEMENTS} elements`;
    if (depth > MAX_DEPTH) return `is nested more than ${MAX_DEPTH} deep`;
    if (tag.split("=", MAX_ATTRIBUTES + 2).length > MAX_ATTRIBUTES + 1)
      return `has an element with more than ${MAX_ATTRIBUTES} attributes`;
  }
  return null;
}

/** Parses XML without document types or entities; what is not XML is a FileError with its line where it is known. */
export function parseXml(file: string, text: string, options: X2jOptions): unknown {
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    throw new FileError(file, "declares a document type, which this format has not");
  const excess = excessOf(text);
  if (excess) throw new FileError(file, excess);
  try {
    const valid = XMLValidator.validate(text);
    if (valid !== true) throw new FileError(file, `is not XML: line ${valid.err.line}: ${valid.err.msg}`);
    return new XMLParser({ ...options, ignoreAttributes: false, parseTagValue: false, processEntities: false }).parse(
      text,
    );
  } catch (error) {
    // The parser itself refuses some texts that its validator lets pass.
    throw error instanceof FileError ? error : new FileError(file, `is not XML: ${(error as Error).message}`);
  }
}
