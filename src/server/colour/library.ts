import { createHash } from "node:crypto";
import type { Encoding } from "../../core/colour/encodings";
import { findEncoding, type OwnEncoding } from "../../core/colour/own-encoding";
import { listEncodings } from "../../store/queries";
import type { Database } from "../../store/database";
import { notFound } from "../http/reply";
import { encodingFrom } from "./own-encoding";

/** An encoding, and a name that changes when what it does changes. */
export interface NamedEncoding {
  encoding: Encoding;
  /** What it is made from: its name, or what the user made. */
  source: string | OwnEncoding;
  revision: string;
}

const revisions = new Map<string, { body: string; built: NamedEncoding }>();

function revised(body: OwnEncoding): NamedEncoding {
  const text = JSON.stringify(body);
  const kept = revisions.get(body.id);
  if (kept?.body === text) return kept.built;
  const built = {
    encoding: encodingFrom(body),
    source: body,
    revision: `${body.id} ${createHash("sha256").update(text).digest("hex").slice(0, 12)}`,
  };
  revisions.set(body.id, { body: text, built });
  return built;
}

/** The encoding of this name, the user's own included. */
export async function encodingNamed(db: Database, name: string): Promise<NamedEncoding> {
  const own = findEncoding(name, new Map());
  if (own) return { encoding: own, source: name, revision: name };
  const made = (await listEncodings(db)).find(({ id }) => id === name);
  if (!made) throw notFound(`The encoding “${name}”`);
  return revised(made.body);
}
