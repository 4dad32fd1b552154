/** Renders as they are ordered: one, or a delivery of many. */
import { MAX_RENDERS, type QueueDelivery } from "../../contract/deliveries";
import { compactDate, stemFrom, stemOfShot } from "../../contract/naming";
import { RENDER_FORMATS, RENDER_MOVIES, renderBody, type RenderOrder } from "../../contract/renders";
import { clipped, countOf, firstOf, lastOf, type Ranges } from "../../core/frame/ranges";
import { depthLabel } from "../../core/image/image";
import { slateOfRender } from "../../core/slate/slate";
import { lookOn } from "../../core/look/camera";
import { describedFormat } from "../../formats/formats";
import { containerOf } from "../../formats/movies";
import type { Database } from "../../store/database";
import { findShot, lookOf } from "../../store/queries";
import { findVersion } from "../../store/versions";
import { encodingNamed } from "../colour/library";
import { notFound, Refusal } from "../errors/errors";
import { hasFfmpeg } from "../footage/movies/ffmpeg";
import { renderRoots } from "../storage/named-roots";
import { framesOfShot } from "../shots/shot";
import { depthsFor } from "../render/output";
import type { RenderQueue } from "./queue";

/** A day and more at 24 frames a second. */
const MAX_FRAMES = 3_000_000;

/** What is ordered, held against what the formats write. */
export const checkedOrder = renderBody.superRefine(({ format, depth, compression }, context) => {
  const { name, compressions } = describedFormat(`x.${format}`)!;
  const depths = depthsFor(`x.${format}`, compression);
  const refuse = (path: string, message: string) => context.addIssue({ code: "custom", path: [path], message });
  if (containerOf(`x.${format}`) && !hasFfmpeg())
    refuse("format", `${name} is written through ffmpeg, which the server does not have`);
  if (!depths.includes(depth)) refuse("depth", `${name} is written with ${depths.map(depthLabel).join(", ")}`);
  if (compression && !compressions.includes(compression))
    refuse("compression", `${name} is written with ${compressions.join(", ") || "no choice of compression"}`);
});

/** Frames that a render is of: some of a shot's, and handles beyond its in and out as far as there is footage. */
function framesFor(
  { shot, footage }: NonNullable<Awaited<ReturnType<typeof findShot>>>,
  { first, last, handles = 0 }: { first: number; last: number; handles?: number },
): Ranges {
  const own = framesOfShot(footage, shot);
  if (!handles) return clipped(own, first, last);
  const whole = framesOfShot(footage, { ...shot, firstFrame: null, lastFrame: null });
  return clipped(whole, Math.max(first, firstOf(own)) - handles, Math.min(last, lastOf(own)) + handles);
}

type Ordered = RenderOrder & { handles?: number; stem?: string; madeBy?: string | null };

/** Queues one render. Throws Refusal for what cannot be made. */
export async function addRender(db: Database, queue: RenderQueue, order: Ordered): Promise<{ id: number }> {
  const { first, last, handles, slate: asked, ...rest } = order;
  const found = await findShot(db, rest.shotId);
  if (!found) throw notFound(`The shot ${rest.shotId}`);
  if (rest.encoding && (await encodingNamed(db, rest.encoding)).table)
    throw new Refusal("invalid", "encoding: a table works one way only; choose another to write in");
  if (rest.into && !renderRoots().some(({ name }) => name === rest.into!.root))
    throw new Refusal("invalid", `into.root: there is no root ${rest.into.root}; roots are named in HALO_RENDER_ROOTS`);
  const frames = framesFor(found, { first, last, handles });
  const count = countOf(frames);
  if (!count) throw new Refusal("invalid", `${found.shot.name} has no frames from ${first} to ${last}`);
  if (count > MAX_FRAMES) throw new Refusal("invalid", `${count} frames are more than a render takes (${MAX_FRAMES})`);
  const look = lookOn(rest.look, found.shot);
  const { shot } = found;
  const of = { shot: stemOfShot(shot), version: rest.versionName, date: compactDate() };
  const slate = asked && slateOfRender(asked, of);
  const { id } = await queue.add({ ...rest, slate, look, frames, frameRate: found.shot.frameRate });
  return { id };
}

const FORMATS = { ...RENDER_FORMATS, ...RENDER_MOVIES };
/** The look of a shot that is meant: a version of it, or the one it wears. */
async function lookMeant(db: Database, shotId: string, versionId: number | null) {
  if (versionId === null) {
    const worn = await lookOf(db, shotId);
    if (!worn) throw notFound(`The shot ${shotId}`);
    return { name: "now", look: worn.look };
  }
  const version = await findVersion(db, shotId, versionId);
  if (!version) throw notFound(`Version ${versionId} of ${shotId}`);
  return { name: version.name, look: version.body };
}

/** The orders of a delivery: every shot and version in every format. Throws where one of them cannot be made. */
async function ordersOf(db: Database, { delivery, of }: QueueDelivery): Promise<Ordered[]> {
  const { formats, encoding, carried, slate, besides, into, handles, only, naming } = delivery;
  const count = of.length * formats.length;
  if (count > MAX_RENDERS)
    throw new Refusal("invalid", `${count} renders are more than one order takes (${MAX_RENDERS})`);
  const orders: Ordered[] = [];
  for (const { shotId, versionId } of of) {
    const found = await findShot(db, shotId);
    if (!found) throw notFound(`The shot ${shotId}`);
    const { name, look } = await lookMeant(db, shotId, versionId);
    const frames = framesOfShot(found.footage, found.shot);
    const { first, last } = only ?? { first: firstOf(frames), last: lastOf(frames) };
    if (!countOf(framesFor(found, { first, last, handles })))
      throw new Refusal("invalid", `${found.shot.name} has no frames from ${first} to ${last}`);
    const stem = stemFrom(naming, { shot: stemOfShot(found.shot), version: name, date: compactDate() });
    for (const format of formats) {
      const coded = FORMATS[format];
      const order = checkedOrder.parse({
        ...{ shotId, versionName: versionId === null ? "the look as it is now" : name, look, ...coded, encoding },
        ...(carried && coded.format === "exr" ? { carried } : {}),
        ...{ first, last, into, slate, besides },
      });
      orders.push({ ...order, handles, stem });
    }
  }
  return orders;
}

/** Queues a delivery: all of it, or, where a part of it cannot be made, none. Gives the renders' numbers. */
export async function addDelivery(
  db: Database,
  queue: RenderQueue,
  wanted: QueueDelivery,
  madeBy: string | null = null,
): Promise<number[]> {
  const orders = await ordersOf(db, wanted);
  const ids: number[] = [];
  for (const order of orders) ids.push((await addRender(db, queue, { ...order, madeBy })).id);
  return ids;
}
