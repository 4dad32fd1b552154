import { z } from "zod";
import { FileError } from "../../formats/error";

/** A refusal with its HTTP status; the message is for the person at the screen. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

export const notFound = (what: string) => new Refusal(404, `${what} is not there`);

/** Runs a handler; what it throws becomes an answer with one clear line. */
export async function respond(work: () => Promise<unknown>): Promise<Response> {
  try {
    const value = await work();
    return value instanceof Response ? value : Response.json(value ?? {});
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: error.status });
    if (error instanceof FileError) return Response.json({ error: error.message }, { status: 422 });
    if (error instanceof z.ZodError) {
      const [issue] = error.issues;
      return Response.json({ error: `${issue!.path.join(".") || "request"}: ${issue!.message}` }, { status: 400 });
    }
    console.error(error);
    return Response.json({ error: "The server could not do this; its log says why" }, { status: 500 });
  }
}

/** Bodies above this are not requests, MiB; those that carry a table may be larger. */
const LARGEST_BODY = 16;

export async function readBody<T>(request: Request, schema: z.ZodType<T>, largest = LARGEST_BODY): Promise<T> {
  const text = await request.text();
  if (text.length > largest * 2 ** 20) throw new Refusal(413, `The request is larger than ${largest} MiB`);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Refusal(400, "The request is not JSON");
  }
  return schema.parse(value);
}
