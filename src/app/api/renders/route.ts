import { application } from "@/server/app/application";
import { type ListedRender, renderBody } from "@/contract/renders";
import { lookOn } from "@/core/look/camera";
import { depthLabel } from "@/core/image/image";
import { describedFormat } from "@/formats/formats";
import { containerOf } from "@/formats/movies";
import { encodingNamed } from "@/server/colour/library";
import { hasFfmpeg } from "@/server/footage/movies/ffmpeg";
import { moviesOf } from "@/server/render/movies";
import { depthsFor } from "@/server/render/output";
import { clipped, countOf } from "@/core/frame/ranges";
import { framesOfShot } from "@/server/shots/shot";
import { notFound, Refusal } from "@/server/errors/errors";
import { readBody, respond } from "@/server/http/reply";
import { findShot, listRenders } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond<ListedRender[]>(async () =>
    Promise.all(
      (await listRenders((await application()).db)).map(async ({ summary, ...render }) => ({
        ...render,
        view: summary!.view,
        movies: await moviesOf(render),
      })),
    ),
  );

/** A day and more at 24 frames a second. */
const MAX_FRAMES = 3_000_000;

/** What is ordered, held against what the formats write. */
const order = renderBody.superRefine(({ format, depth, compression }, context) => {
  const { name, compressions } = describedFormat(`x.${format}`)!;
  const depths = depthsFor(`x.${format}`, compression);
  if (containerOf(`x.${format}`) && !hasFfmpeg())
    context.addIssue({
      code: "custom",
      path: ["format"],
      message: `${name} is written through ffmpeg, which the server does not have`,
    });
  if (!depths.includes(depth))
    context.addIssue({
      code: "custom",
      path: ["depth"],
      message: `${name} is written with ${depths.map(depthLabel).join(", ")}`,
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
    if (rest.encoding && (await encodingNamed(db, rest.encoding)).table)
      throw new Refusal("invalid", "encoding: a table works one way only; choose another to write in");
    const frames = clipped(framesOfShot(found.footage, found.shot), first, last);
    const count = countOf(frames);
    if (!count) throw new Refusal("invalid", `The shot has no frames from ${first} to ${last}`);
    if (count > MAX_FRAMES)
      throw new Refusal("invalid", `${count} frames are more than a render takes (${MAX_FRAMES})`);
    const look = lookOn(rest.look, found.shot);
    const { id } = await queue.add({ ...rest, look, frames, frameRate: found.shot.frameRate });
    return { id };
  });
