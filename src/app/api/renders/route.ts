import { application } from "@/server/app/application";
import { z } from "zod";
import { lookSchema } from "@/core/look/look";
import { DEPTHS, depthLabel } from "@/core/image/image";
import { formatOf } from "@/formats/formats";
import { encodingNamed } from "@/server/colour/library";
import { moviesOf } from "@/server/render/deliver";
import { framesOfShot } from "@/server/footage/shot";
import { notFound, readBody, Refusal, respond } from "@/server/api/respond";
import { findShot, listRenders } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond(async () =>
    Promise.all(
      (await listRenders((await application()).db)).map(async (render) => ({
        ...render,
        movies: await moviesOf(render),
      })),
    ),
  );

const order = z
  .object({
    shotId: z.string().max(80),
    versionName: z.string().min(1).max(120),
    look: lookSchema,
    format: z.enum(["exr", "dpx", "tif", "png", "y4m"]),
    depth: z.enum(DEPTHS),
    compression: z.string().max(20).optional(),
    encoding: z.string().min(1).max(120).nullable().default(null),
    first: z.number().int().nonnegative(),
    last: z.number().int().nonnegative(),
  })
  .strict()
  .superRefine(({ format, depth, compression }, context) => {
    const { name, write, compressions } = formatOf(`x.${format}`)!;
    if (!write.includes(depth))
      context.addIssue({
        code: "custom",
        path: ["depth"],
        message: `${name} is written with ${write.map(depthLabel).join(", ")}`,
      });
    if (compression && !compressions.includes(compression))
      context.addIssue({
        code: "custom",
        path: ["compression"],
        message: `${name} is written with ${compressions.join(", ") || "no choice of compression"}`,
      });
  });

export const POST = (request: Request) =>
  respond(async () => {
    const { db, queue } = await application();
    const { first, last, ...rest } = await readBody(request, order);
    const found = await findShot(db, rest.shotId);
    if (!found) throw notFound(`The shot ${rest.shotId}`);
    if (rest.encoding && (await encodingNamed(db, rest.encoding)).encoding.table)
      throw new Refusal(400, "encoding: a table works one way only; choose another to write in");
    const frames = framesOfShot(found.footage, found.shot).filter((frame) => frame >= first && frame <= last);
    if (!frames.length) throw new Refusal(400, `The shot has no frames from ${first} to ${last}`);
    return queue.add({ ...rest, frames });
  });
