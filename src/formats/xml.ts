import { type X2jOptions, XMLParser, XMLValidator } from "fast-xml-parser";
import { FileError } from "./error";

/** Parses XML without document types or entities; what is not XML is a FileError with its line where it is known. */
export function parseXml(file: string, text: string, options: X2jOptions): unknown {
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    throw new FileError(file, "declares a document type, which this format has not");
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
