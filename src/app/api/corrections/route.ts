import { z } from "zod";
import { correctionSchema, readCdl, writeCdl } from "@/formats/cdl/cdl";
import { readBody, respond } from "@/server/http/reply";

/** ASC CDL: text to corrections. */
export const POST = (request: Request) =>
  respond(async () => {
    const { file, text } = await readBody(
      request,
      z.object({ file: z.string().max(200), text: z.string().max(4 * 2 ** 20) }).strict(),
    );
    return readCdl(file, text);
  });

/** ASC CDL: corrections to text. */
export const PUT = (request: Request) =>
  respond(async () => {
    const { kind, corrections } = await readBody(
      request,
      z.object({ kind: z.enum(["ccc", "cdl"]), corrections: z.array(correctionSchema).min(1).max(1000) }).strict(),
    );
    return { text: writeCdl(corrections, kind) };
  });
