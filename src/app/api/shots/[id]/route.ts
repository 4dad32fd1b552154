import { application } from "@/server/app/application";
import { z } from "zod";
import { ENCODING_NAMES } from "@/core/colour/encodings";
import { notFound, readBody, respond } from "@/server/api/respond";
import { findShot, lookOf, saveLook, updateShot, versionsOf } from "@/store/queries";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context) =>
  respond(async () => {
    const { id } = await params;
    const { db, demo } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const { shot, footage, production } = found;
    return { ...shot, footage, production, progress: demo.shots[id] ?? 1, look: await lookOf(db, id), versions: await versionsOf(db, id) };
  });

const millimetres = z.number().positive().max(1000);
const change = z
  .object({ name: z.string().min(1).max(120), encoding: z.enum(ENCODING_NAMES), sensorWidth: millimetres, sensorHeight: millimetres, frameRate: z.number().positive().max(1000) })
  .partial()
  .strict();

export const PATCH = (request: Request, { params }: Context) =>
  respond(async () => {
    const { id } = await params;
    const { db } = await application();
    const found = await findShot(db, id);
    if (!found) throw notFound(`The shot ${id}`);
    const body = await readBody(request, change);
    await updateShot(db, id, { ...body, ...(body.encoding ? { encodingReason: "chosen by hand" } : {}) });
    const look = await lookOf(db, id);
    if (look && (body.sensorWidth || body.sensorHeight)) {
      const { width, height } = look.camera.sensor;
      await saveLook(db, id, { ...look, camera: { ...look.camera, sensor: { width: body.sensorWidth ?? width, height: body.sensorHeight ?? height } } });
    }
    return {};
  });
