import { application } from "@/server/app/application";
import { z } from "zod";
import { lookSchema } from "@/core/look/look";
import { notFound, readBody, Refusal, respond } from "@/server/api/respond";
import { findShot, listRenders } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () => respond(async () => listRenders((await application()).db));

const order = z
  .object({
    shotId: z.string().max(80),
    versionName: z.string().min(1).max(120),
    look: lookSchema,
    format: z.enum(["exr", "png"]),
    depth: z.enum(["half", "float", "8", "16"]),
    first: z.number().int().nonnegative(),
    last: z.number().int().nonnegative(),
  })
  .strict()
  .refine(({ format, depth }) => (format === "exr") === (depth === "half" || depth === "float"), { path: ["depth"], message: "EXR is half or float, PNG is 8 or 16" });

export const POST = (request: Request) =>
  respond(async () => {
    const { db, queue } = await application();
    const { first, last, ...rest } = await readBody(request, order);
    const found = await findShot(db, rest.shotId);
    if (!found) throw notFound(`The shot ${rest.shotId}`);
    const frames = found.footage.frames.filter((frame) => frame >= first && frame <= last);
    if (!frames.length) throw new Refusal(400, `The shot has no frames from ${first} to ${last}`);
    return queue.add({ ...rest, frames });
  });
