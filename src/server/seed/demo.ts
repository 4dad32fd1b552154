import { availableParallelism } from "node:os";
import { existsSync } from "node:fs";
import { copyFile, mkdir, rename } from "node:fs/promises";
import { setTimeout } from "node:timers/promises";
import { join } from "node:path";
import { between, rangesOf } from "../../core/frame/ranges";
import { LAMP_ROOM_LOG } from "../../demo/encodings";
import { DEMO_SIZE, extensionOf, frameFile, makeShots, openingFrame, SHOTS } from "../../demo/footage";
import type { DemoShot } from "../../demo/scenes/shot";
import type { Asked } from "../../demo/work-order";
import { demoLooks } from "../../demo/looks";
import { demoProfiles } from "../../demo/glass/profiles";
import type { Database } from "../../store/database";
import { addShot, listFootage } from "../../store/queries";
import { addProduction, hasProduction } from "../../store/productions";
import { addShippedProfiles } from "../../store/profiles";
import { listEncodings, putEncoding } from "../../store/colour";
import { keepVersion } from "../../store/versions";
import { hasFfmpeg } from "../footage/movies/ffmpeg";
import { beginMaking, makerOf } from "../footage/making";
import { discard, temporaryFor } from "../storage/files";
import { built } from "../../formats/project";
import { dataRoot, demoSize } from "../storage/roots";
import { announceMovie, CAMERA_MOVIE, makeCameraMovie, RECORDED } from "./camera-movie";

export const PRODUCTION = { id: "tarn-line", name: "Tarn Line" };
const FOLDER = "footage/tarn-line";

/** Enters the demo production, once: what the user changes of it, or removes, stays so. */
async function seed(db: Database, size: { width: number; height: number }): Promise<void> {
  if (!(await addProduction(db, PRODUCTION.id, PRODUCTION.name))) return;
  if (!(await listEncodings(db)).some(({ id }) => id === LAMP_ROOM_LOG.id)) await putEncoding(db, LAMP_ROOM_LOG);
  for (const [position, shot] of SHOTS.entries()) {
    const { id, name, frames, sensor, delivered } = shot;
    const look = demoLooks()[id]!;
    await addShot(
      db,
      {
        id: `demo-${id}`,
        folder: FOLDER,
        pattern: `${id}.%04d.${extensionOf(shot)}`,
        frames: between(1, frames),
        ...size,
        framesPerSecond: 24,
        ...(delivered === "log"
          ? { depth: "10", format: "DPX", channels: ["R", "G", "B"] }
          : { depth: "half", format: "OpenEXR", channels: ["B", "G", "R", "Z"] }),
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
  if (hasFfmpeg()) await seedMovie(db, size);
}

/** The shot that came as a movie, where movies are read. */
async function seedMovie(db: Database, size: { width: number; height: number }): Promise<void> {
  const { id, name, file, footage, framesPerSecond, timeCode } = CAMERA_MOVIE;
  const look = demoLooks()[RECORDED.id]!;
  const frames = between(1, RECORDED.frames);
  await addShot(
    db,
    {
      ...{ id: footage, folder: FOLDER, pattern: file, frames, ...size, framesPerSecond, timeCode },
      ...{ depth: "10", format: "MOV", channels: ["Y", "Cb", "Cr"] },
    },
    {
      ...{ id, name, productionId: PRODUCTION.id, footageId: footage, position: SHOTS.length },
      ...{ encoding: LAMP_ROOM_LOG.id, encodingReason: "delivered with its encoding’s data sheet" },
      ...{ sensorWidth: RECORDED.sensor.width, sensorHeight: RECORDED.sensor.height },
    },
    look,
  );
  await keepVersion(db, id, "As opened", look);
}

/**
 * What was computed when the application was built: the frame the first visit opens on, and plates, which take longest.
 */
const AHEAD = "demo-ahead";

async function takeAhead(shots: readonly DemoShot[], folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const shot of shots) {
    const number = openingFrame(shot);
    const path = frameFile(folder, shot, number);
    const ahead = frameFile(built(AHEAD), shot, number);
    if (existsSync(path) || !existsSync(ahead)) continue;
    const temporary = temporaryFor(path);
    try {
      await copyFile(ahead, temporary);
      await rename(temporary, path);
    } catch {
      // What cannot be copied (a full disk) is computed, when there is room.
      await discard(temporary);
    }
  }
}

/** Time before footage that could not be computed (a full disk) is tried again, ms. */
const RETRY_AFTER_MS = 10_000;

/** The demo production: entered and computed from when it is opened, which may be long after the start, or never. */
export interface Demo {
  open(): Promise<void>;
  stop(): Promise<void>;
}

/** Enters the glass that ships with the application; and the demo where it is wanted, or was opened before. */
export async function prepareDemo(db: Database, isWanted: boolean): Promise<Demo> {
  await addShippedProfiles(db, demoProfiles());
  const control = new AbortController();
  let opened: ReturnType<typeof openDemo> | null = null;
  const open = async () => {
    // What was removed since may be opened anew.
    if (opened && !(await hasProduction(db, PRODUCTION.id))) opened = null;
    opened ??= openDemo(db, control.signal);
    // One that could not be entered (a full disk) may be tried again.
    await opened.catch((error: unknown) => {
      opened = null;
      throw error;
    });
  };
  if (isWanted || (await hasProduction(db, PRODUCTION.id))) await open();
  const stop = async () => {
    control.abort();
    await (
      await opened
    )?.computing;
  };
  return { open, stop };
}

/** Frames that were asked for are remembered so far back. */
const MAX_ASKED = 64;

/** Makes the footage of a shot known as being made. Gives what is told of each frame that was drawn. */
function announce(shot: DemoShot, folder: string, asked: Asked[]): (share: number, drawn?: number) => void {
  const fileOf = (number: number) => frameFile(folder, shot, number);
  const all = Array.from({ length: shot.frames }, (_, i) => i + 1);
  const there = new Set(all.filter((number) => existsSync(fileOf(number))));
  let progress = there.size / shot.frames;
  beginMaking(`demo-${shot.id}`, {
    ask(number) {
      if (progress === 1) return existsSync(fileOf(number));
      asked.unshift({ shotId: shot.id, number });
      asked.length = Math.min(asked.length, MAX_ASKED);
      return true;
    },
    there: () => rangesOf([...there].sort((a, b) => a - b)),
    progress: () => progress,
  });
  return (share, drawn) => {
    if (drawn !== undefined) there.add(drawn);
    progress = share < 1 ? Math.min(MAX_UNFINISHED, share) : 1;
  };
}
/** What is not all there is never told as done. */
const MAX_UNFINISHED = 0.99;

/** Enters the production, once, and begins to compute what footage of it is missing. */
async function openDemo(db: Database, signal: AbortSignal): Promise<{ computing: Promise<void> }> {
  const size = demoSize(DEMO_SIZE);
  await db.transaction((tx) => seed(tx as unknown as Database, size));
  const folder = join(dataRoot(), FOLDER);
  const here = new Set((await listFootage(db)).map(({ id }) => id));
  // Where ffmpeg went since, what there was of the movie stays as it is.
  const wantsMovie = here.has(CAMERA_MOVIE.footage) && hasFfmpeg();
  const wanted = SHOTS.filter((shot) => here.has(`demo-${shot.id}`) || (wantsMovie && shot === RECORDED));
  const isUsualSize = size.width === DEMO_SIZE.width && size.height === DEMO_SIZE.height;
  if (isUsualSize) await takeAhead(wanted, folder);
  const asked: Asked[] = [];
  const told = new Map(wanted.map((shot) => [shot.id, announce(shot, folder, asked)]));
  const movieIsThere = wantsMovie ? announceMovie(folder) : null;
  const made = [...wanted.map(({ id }) => `demo-${id}`), ...(movieIsThere ? [CAMERA_MOVIE.footage] : [])];
  const isDone = () => made.every((id) => makerOf(id)!.progress() === 1);
  const compute = async () => {
    while (!isDone() && !signal.aborted) {
      try {
        await makeShots(wanted, {
          folder,
          size,
          program: built("demo-worker.mjs"),
          threads: availableParallelism(),
          platesIn: isUsualSize ? built(AHEAD) : undefined,
          givesWay: true,
          asked: () => asked,
          progress: ({ id }, done, of, drawn) => told.get(id)!(done / of, drawn),
          signal,
        });
        for (const { id } of wanted) told.get(id)!(1);
        if (movieIsThere) {
          await makeCameraMovie(folder, signal);
          movieIsThere();
        }
      } catch (error) {
        if (signal.aborted) return;
        console.error(`Demo footage: ${(error as Error).message}`);
        await setTimeout(RETRY_AFTER_MS, undefined, { signal, ref: false }).catch(() => {});
      }
    }
  };
  return { computing: compute() };
}
