import { availableParallelism } from "node:os";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { LAMP_ROOM_LOG } from "../../demo/encodings";
import { DEMO_SIZE, extensionOf, frameFile, makeShot, SHOTS } from "../../demo/footage";
import { demoLooks } from "../../demo/looks";
import { demoProfiles } from "../../demo/glass/profiles";
import type { Database } from "../../store/database";
import {
  addShot,
  ensureProduction,
  findShot,
  keepVersion,
  listEncodings,
  putEncoding,
  putProfiles,
} from "../../store/queries";
import { built, dataRoot, demoSize } from "../root";

/** How far the computing of the demo footage is, a shot at a time. */
export interface DemoProgress {
  /** 0 to 1 by shot id. */
  shots: Record<string, number>;
}

export const PRODUCTION = { id: "tarn-line", name: "Tarn Line" };
const FOLDER = "footage/tarn-line";

/** Enters the demo production and its glass, and starts computing what footage is missing. What a user changed stays. */
export async function prepareDemo(db: Database): Promise<DemoProgress> {
  const size = demoSize(DEMO_SIZE);
  await ensureProduction(db, PRODUCTION.id, PRODUCTION.name);
  await putProfiles(db, demoProfiles());
  if (!(await listEncodings(db)).some(({ id }) => id === LAMP_ROOM_LOG.id)) await putEncoding(db, LAMP_ROOM_LOG);
  for (const [position, shot] of SHOTS.entries()) {
    const { id, name, frames, sensor, delivered } = shot;
    if (await findShot(db, id)) continue;
    const numbers = Array.from({ length: frames }, (_, i) => i + 1);
    const look = demoLooks()[id]!;
    await addShot(
      db,
      {
        id: `demo-${id}`,
        folder: FOLDER,
        pattern: `${id}.%04d.${extensionOf(shot)}`,
        frames: numbers,
        ...size,
        framesPerSecond: 24,
        ...(delivered === "log"
          ? { depth: "10", format: "DPX", channels: ["R", "G", "B"] }
          : { depth: "half", format: "OpenEXR", channels: ["A", "B", "G", "R", "Z"] }),
      },
      {
        id,
        productionId: PRODUCTION.id,
        footageId: `demo-${id}`,
        name,
        ...(delivered === "log"
          ? { encoding: LAMP_ROOM_LOG.id, encodingReason: "delivered with its encoding’s data sheet" }
          : { encoding: "linear-ap1", encodingReason: "computed in working light" }),
        sensorWidth: sensor.width,
        sensorHeight: sensor.height,
        position,
      },
      look,
    );
    await keepVersion(db, id, "As opened", look);
  }
  const folder = join(dataRoot(), FOLDER);
  const complete = (shot: (typeof SHOTS)[number]) =>
    Array.from({ length: shot.frames }, (_, i) => existsSync(frameFile(folder, shot, i + 1))).every(Boolean);
  const progress: DemoProgress = { shots: Object.fromEntries(SHOTS.map((shot) => [shot.id, complete(shot) ? 1 : 0])) };
  void (async () => {
    for (const shot of SHOTS) {
      if (progress.shots[shot.id] === 1) continue;
      await makeShot(
        shot,
        folder,
        size,
        built("demo-worker.mjs"),
        availableParallelism(),
        (done, of) => (progress.shots[shot.id] = Math.min(0.99, done / of)),
      );
      progress.shots[shot.id] = 1;
    }
  })().catch((error: Error) => console.error(`Demo footage: ${error.message}`));
  return progress;
}
