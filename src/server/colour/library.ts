import { LRUCache } from "lru-cache";
import type { Encoding } from "../../core/colour/encodings";
import { findEncoding } from "../../core/colour/own-encoding";
import { findEncodingBody, findOwnEncoding } from "../../store/colour";
import type { Database } from "../../store/database";
import type { EncodingOrder } from "../readers/tasks";
import { notFound } from "../errors/errors";
import { sharedText } from "../readers/shared-text";

/** What is known of an encoding without reading its table, and what the threads that read pictures are told of it. */
export interface NamedEncoding {
  label: string;
  family: Encoding["family"];
  /** Whether it is a table, which works one way only. */
  table: boolean;
  order: EncodingOrder;
}

/** Texts of tables that threads share, bytes. */
const SHARED_BYTES = 64 * 2 ** 20;
const made = new LRUCache<string, NamedEncoding>({
  maxSize: SHARED_BYTES,
  sizeCalculation: ({ order: { encoding } }) =>
    1024 + (typeof encoding === "object" ? (encoding.text?.length ?? 0) : 0),
});

/** The encoding of this name, the user's own included. */
export async function encodingNamed(db: Database, name: string): Promise<NamedEncoding> {
  const known = findEncoding(name, new Map());
  if (known)
    return { label: known.label, family: known.family, table: false, order: { revision: name, encoding: name } };
  const found = await findEncodingBody(db, name);
  if (!found) throw notFound(`The encoding “${name}”`);
  const revision = `${name} ${found.digest}`;
  const before = made.get(revision);
  if (before) return before;
  const own = await findOwnEncoding(db, name);
  if (!own) throw notFound(`The encoding “${name}”`);
  const { body } = found;
  const text = own.kind === "table" ? sharedText(own.text) : undefined;
  const named: NamedEncoding = {
    label: own.name,
    family: "log",
    table: own.kind === "table",
    order: { revision, encoding: { body, text } },
  };
  made.set(revision, named);
  return named;
}
