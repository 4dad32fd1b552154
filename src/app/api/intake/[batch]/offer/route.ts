import { z } from "zod";
import { readBody, respond } from "@/server/http/reply";
import { offered } from "@/server/intake/receive";

const offers = z
  .array(
    z
      .object({
        path: z.string().min(1).max(4000),
        size: z.number().int().nonnegative(),
        sha256: z.string().length(64).optional(),
      })
      .strict(),
  )
  .max(20_000);

export const POST = (request: Request, { params }: { params: Promise<{ batch: string }> }) =>
  respond(async () => offered((await params).batch, await readBody(request, offers)));
