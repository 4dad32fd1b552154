import { z } from "zod";
import { FileError } from "../../formats/error";
import { Busy, notFound, Refusal, type RefusalKind } from "../errors/errors";
import { isDiskFull } from "../storage/files";
import { MAX_BODY } from "./guard";

/** The status by which each kind of refusal is answered. */
const STATUS: Record<RefusalKind, number> = {
  invalid: 400,
  foreign: 403,
  missing: 404,
  stranger: 401,
  "too-often": 429,
  conflict: 409,
  "too-large": 413,
  unreadable: 422,
  "not-yet": 425,
  full: 507,
};

/** What was too much at once may be asked for again after so many seconds. */
const RETRY_AFTER_SECONDS = 2;

/** What the system says of files and folders that a request named. */
const SYSTEM: Record<string, [number, string]> = {
  ENAMETOOLONG: [400, "A name in it is longer than this system keeps"],
  EEXIST: [409, "A file stands where a folder should"],
  ENOTDIR: [409, "A file stands where a folder should"],
  EISDIR: [409, "A folder stands where a file should"],
  EACCES: [403, "The system does not let the server read or write there"],
  EPERM: [403, "The system does not let the server read or write there"],
  EROFS: [403, "Nothing can be written there"],
};

/** PostgreSQL's class of values that are none of their type: a NUL in a text, a number too large. */
const POSTGRES_DATA = "22";
const GONE = ["ECONNRESET", "ERR_STREAM_PREMATURE_CLOSE", "ABORT_ERR"];
const GONE_NAMES = ["AbortError", "ResponseAborted"];

/** The code of an error, or of what caused it. */
function codeOf(error: unknown): string {
  const { code, cause } = (error ?? {}) as { code?: unknown; cause?: unknown };
  return typeof code === "string" ? code : cause === undefined ? "" : codeOf(cause);
}

const problem = (status: number, error: string, more: Record<string, unknown> = {}, headers: HeadersInit = {}) =>
  Response.json({ error, ...more }, { status, headers });

/** What an error is answered with: one clear line, and a status. */
export function answerFor(error: unknown): Response {
  if (error instanceof Refusal) return problem(STATUS[error.kind], error.message, error.more);
  if (error instanceof Busy)
    return problem(
      503,
      "Too much is asked for at once; ask again in a moment",
      {},
      { "retry-after": String(RETRY_AFTER_SECONDS) },
    );
  if (isDiskFull(error)) return problem(507, "The disk is full; nothing was written. Make room, and it goes on");
  if (error instanceof FileError) return problem(422, error.message);
  if (error instanceof z.ZodError) {
    const [issue] = error.issues;
    return problem(400, `${issue!.path.join(".") || "request"}: ${issue!.message}`);
  }
  const code = codeOf(error);
  if (SYSTEM[code]) return problem(...SYSTEM[code]);
  if (code.startsWith(POSTGRES_DATA)) return problem(400, "The request holds something that cannot be kept as text");
  // Nobody is there any more to hear it.
  if (GONE.includes(code) || GONE_NAMES.includes((error as Error | null)?.name ?? ""))
    return problem(400, "The request broke off");
  console.error(error);
  return problem(500, "The server could not do this; its log says why");
}

/** Runs a handler; what it throws becomes an answer with one clear line. `T`: what the contract says is told. */
export async function respond<T = unknown>(work: () => Promise<T | Response>): Promise<Response> {
  try {
    const value = await work();
    return value instanceof Response ? value : Response.json(value ?? {});
  } catch (error) {
    return answerFor(error);
  }
}

/**
 * JSON that stands in the database as text, with what is told beside it: it is neither parsed nor written anew, for it
 * may be large.
 */
export function replyWith(rest: Record<string, unknown>, name: string, json: string): Response {
  const text = JSON.stringify(rest);
  const body = `${text.slice(0, -1)}${text.length > 2 ? "," : ""}${JSON.stringify(name)}:${json}}`;
  return new Response(body, { headers: { "content-type": "application/json" } });
}

/** The parts of a body as they come, never more than `largest` bytes. Throws Refusal (413). */
export async function* partsOf(
  body: ReadableStream<Uint8Array> | null,
  largest: number,
  gone?: AbortSignal,
): AsyncGenerator<Uint8Array> {
  const reader = body?.getReader();
  let size = 0;
  // A read that waits ends as if the body did.
  const end = () => void reader?.cancel().catch(() => {});
  gone?.addEventListener("abort", end, { once: true });
  try {
    for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
      size += part.value.length;
      if (size > largest) throw new Refusal("too-large", `The request is larger than ${largest / 2 ** 20} MiB`);
      yield part.value;
    }
  } finally {
    gone?.removeEventListener("abort", end);
    await reader?.cancel().catch(() => {});
  }
}

/**
 * A body of JSON, checked. Throws Refusal for what is too large or no JSON, ZodError for what is not as it should be.
 */
export async function readBody<T>(request: Request, schema: z.ZodType<T>, largest = MAX_BODY): Promise<T> {
  const parts: Uint8Array[] = [];
  for await (const part of partsOf(request.body, largest)) parts.push(part);
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder("utf-8", { fatal: true }).decode(Buffer.concat(parts)));
  } catch {
    throw new Refusal("invalid", "The request is not JSON");
  }
  return schema.parse(value);
}

const MAX_ID = 2 ** 31 - 1;

/** A whole number in an address: an id, the number of a frame. Throws Refusal (404) for anything else. */
export function numberIn(text: string, what: string): number {
  const number = /^\d{1,10}$/.test(text) ? Number(text) : NaN;
  if (!(number <= MAX_ID)) throw notFound(`${what} “${text.slice(0, 40)}”`);
  return number;
}
