import { z } from "zod";
import type { Database } from "../../store/database";
import { findShot, lookOf, saveLook, type ShotChange, updateShots } from "../../store/queries";
import { GAPS } from "../../store/schema";
import { encodingNamed } from "../colour/library";
import type { DemoProgress } from "../demo/demo";
import { framesOfShot, hasDepth } from "../footage/shot";
import { notFound, Refusal } from "./respond";

const millimetres = z.number().positive().max(1000);
const frameNumber = z.number().int().nonnegative().max(1e7).nullable();

export const shotChangeSchema = z
  .object({
    name: z.string().trim().min(1).max(120),
    encoding: z.string().min(1).max(120),
    sensorWidth: millimetres,
    sensorHeight: millimetres,
    squeeze: z.number().min(0.25).max(4),
    desqueezed: z.boolean(),
    frameRate: z.number().positive().max(1000),
    firstFrame: frameNumber,
    lastFrame: frameNumber,
    gaps: z.enum(GAPS),
    depthChannel: z.string().max(255).nullable(),
    notes: z.string().max(10_000),
  })
  .partial()
  .strict();

/** A shot as it is told: with its footage and production, the frames in use, how much of it is there, and whether it has depth. */
export const toldShot = (
  { shot, footage, production }: NonNullable<Awaited<ReturnType<typeof findShot>>>,
  demo: DemoProgress,
) => ({
  ...shot,
  footage,
  production,
  frames: framesOfShot(footage, shot),
  progress: demo.shots[shot.id] ?? 1,
  hasDepth: hasDepth(footage, shot),
});

/** Changes shots together, and what their looks hold of it: sensor, squeeze, and the view of a look nothing was done to yet. */
export async function changeShots(
  db: Database,
  ids: string[],
  change: z.infer<typeof shotChangeSchema>,
): Promise<void> {
  const found = await Promise.all(ids.map((id) => findShot(db, id)));
  const missing = found.findIndex((entry) => !entry);
  if (missing >= 0) throw notFound(`The shot ${ids[missing]}`);
  for (const entry of found) {
    const { frames, channels } = entry!.footage;
    const [first, last] = [
      change.firstFrame ?? entry!.shot.firstFrame ?? frames[0]!,
      change.lastFrame ?? entry!.shot.lastFrame ?? frames.at(-1)!,
    ];
    if (first > last || first > frames.at(-1)! || last < frames[0]!)
      throw new Refusal(
        400,
        `${entry!.shot.name}: in and out: the footage has frames ${frames[0]} to ${frames.at(-1)}, and in must not be after out`,
      );
    if (change.depthChannel && channels.length && !channels.includes(change.depthChannel))
      throw new Refusal(
        400,
        `${entry!.shot.name}: has no channel “${change.depthChannel}”; it has ${channels.join(", ")}`,
      );
  }
  const encoding = change.encoding === undefined ? null : (await encodingNamed(db, change.encoding)).encoding;
  const row: ShotChange = { ...change, ...(encoding ? { encodingReason: "chosen by hand" } : {}) };
  if (Object.keys(row).length) await updateShots(db, ids, row);
  for (const id of ids) {
    const look = await lookOf(db, id);
    if (!look) continue;
    const { sensor, squeeze } = look.camera;
    const camera = {
      sensor: { width: change.sensorWidth ?? sensor.width, height: change.sensorHeight ?? sensor.height },
      squeeze: change.squeeze ?? squeeze,
    };
    const view =
      encoding && !look.elements.length && look.view.kind !== "lut"
        ? { ...look.view, kind: encoding.family === "display" ? ("plain" as const) : ("soft" as const) }
        : look.view;
    if (JSON.stringify([camera, view]) !== JSON.stringify([look.camera, look.view]))
      await saveLook(db, id, { ...look, camera, view });
  }
}
