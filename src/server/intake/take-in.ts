import { createHash, randomBytes } from "node:crypto";
import { existsSync } from "node:fs";
import { readdir, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import type { Decision, FoundGroup, TakenIn } from "../../contract/intake";
import type { Database } from "../../store/database";
import { addShot, findFootage, listFootage, placeFootage, shotsOf } from "../../store/queries";
import { findProduction, openProduction } from "../../store/productions";
import { countOf, firstOf } from "../../core/frame/ranges";
import { describedFormat } from "../../formats/formats";
import { notFound, Refusal } from "../errors/errors";
import { encodingNamed } from "../colour/library";
import { linkOrCopy } from "../storage/content";
import { shownName } from "../footage/sequence";
import { wholeFolder } from "../storage/files";
import { keptFolder } from "../storage/named-roots";
import { dataRoot } from "../storage/roots";
import { withLock } from "../storage/turn";
import { findingOf, rootOf } from "./finding";
import { squeezeSchema } from "../../core/frame/camera";
import { firstLook } from "./first-look";
import { leave } from "./receive";
import { contentIdIn, waitingFor } from "./waiting";
import { type Location, realRoots } from "./places";

/**
 * The sensor assumed until the user says otherwise: as wide as a Super 35 frame, as high as the frame's shape asks for.
 */
const SENSOR_WIDTH = 24.9;
const DEFAULT_RATE = 24;

/** The squeeze that a file's pixel aspect says, where a camera can have it. */
function squeezeOf({ pixelAspect = 1 }: FoundGroup): number {
  const found = squeezeSchema.safeParse(Number(pixelAspect.toFixed(4)));
  return found.success ? found.data : 1;
}

/**
 * Makes a shot of each group that is wanted, in a production; the one footage goes into where none is named. Frames are linked into a folder that appears whole, and the shot after it.
 */
export const takeIn = (
  db: Database,
  location: Location,
  decisions: Decision[],
  production?: string | null,
): Promise<TakenIn> =>
  withLock(`intake ${location.kind === "batch" ? location.id : location.path}`, async () => {
    const into = production ? await findProduction(db, production) : await openProduction(db);
    if (!into) throw notFound(`The production ${production}`);
    return takeInNow(db, location, decisions, into.id);
  });

async function takeInNow(
  db: Database,
  location: Location,
  decisions: Decision[],
  productionId: string,
): Promise<TakenIn> {
  const root = await rootOf(location);
  const { groups, refused } = await findingOf(location);
  if (!groups.length) throw new Refusal("invalid", "Nothing here could be taken in");
  const shots: string[] = [];
  for (const group of groups) {
    const decision = decisions.find(
      ({ folder, pattern, first }) =>
        folder === group.folder && pattern === group.pattern && first === firstOf(group.numbers),
    );
    if (!decision?.take) continue;
    if (group.gaps.length && decision.gaps === "refuse") {
      refused.push({
        name: group.pattern,
        reason: `has ${countOf(group.gaps)} missing frames, which you asked to refuse`,
      });
      continue;
    }
    const waiting = location.kind === "folder" && (await waitingFor(db, join(root, group.folder), group));
    if (waiting) {
      await placeFootage(db, waiting.id, keptFolder(await realRoots(), join(root, group.folder)));
      shots.push(...(await shotsOf(db, waiting.id)).map((shot) => shot.id));
      continue;
    }
    const id = await footageId(root, location, group);
    // Beside its removal, or another taking of the same frames, it would be there by half.
    shots.push(await withLock(`footage ${id}`, () => addGroup(db, location, root, group, id, decision, productionId)));
  }
  if (location.kind === "batch") await leave(location.id);
  return { shots, refused };
}

/** Footage that stays where it is is told apart by place, size and time; sent footage by its bytes. */
async function footageId(root: string, location: Location, { folder, files }: FoundGroup): Promise<string> {
  if (location.kind === "batch") return contentIdIn(join(root, folder), files);
  const hash = createHash("sha256");
  for (const name of files) {
    const path = join(root, folder, name);
    const { size, mtimeMs } = await stat(path);
    hash.update([path, size, mtimeMs].join(" "));
  }
  return hash.digest("hex").slice(0, 24);
}

const MAX_NAME_LENGTH = 60;

/** What a shot is called whose files have such names: without their number and extension. */
function shotNameOf(pattern: string): string {
  const extension = describedFormat(pattern)?.extensions.find((end) => pattern.toLowerCase().endsWith(end)) ?? "";
  const bare = pattern.slice(0, pattern.length - extension.length).replace(/[._-]?%0\d+d/, "");
  return bare.slice(0, MAX_NAME_LENGTH) || "Untitled";
}

async function addGroup(
  db: Database,
  location: Location,
  root: string,
  group: FoundGroup,
  id: string,
  { gaps, encoding: chosen }: Decision,
  productionId: string,
): Promise<string> {
  const { folder, pattern, files, numbers, width, height, depth, format, channels, framesPerSecond, timeCode } = group;
  const squeeze = squeezeOf(group);
  const home = location.kind === "folder" ? keptFolder(await realRoots(), join(root, folder)) : join("footage", id);
  const place = join(dataRoot(), home);
  const known = location.kind === "batch" ? await findFootage(db, id) : undefined;
  if (location.kind === "batch" && !(known && existsSync(place))) {
    await wholeFolder(place, async (building) => {
      for (const name of files) await linkOrCopy(join(root, folder, name), join(building, name));
    });
    // A production that came from elsewhere waits for them: they are its shot's.
    const [waiting] = known ? await shotsOf(db, id) : [];
    if (waiting) return waiting.id;
  }
  const encoding = chosen ?? group.encoding;
  const { family } = await encodingNamed(db, encoding);
  const shot = `shot-${randomBytes(4).toString("hex")}`;
  const name = shotNameOf(shownName(pattern));
  // Squeezed pixels are as wide on the sensor as others; the picture is shown wider.
  const sensor = { width: SENSOR_WIDTH, height: Number(((SENSOR_WIDTH * height) / width).toFixed(2)) };
  await addShot(
    db,
    { id, folder: home, pattern, frames: numbers, width, height, depth, format, channels, framesPerSecond, timeCode },
    {
      id: shot,
      productionId,
      footageId: id,
      name,
      encoding,
      encodingReason: encoding === group.encoding ? group.reason : "chosen when it was taken in",
      sensorWidth: sensor.width,
      sensorHeight: sensor.height,
      squeeze,
      frameRate: framesPerSecond ?? DEFAULT_RATE,
      gaps,
      position: 1000,
    },
    firstLook(name, sensor, squeeze, family === "display"),
  );
  return shot;
}

/** Names of folders that `footageId` gives. */
const FOOTAGE_ID = /^[0-9a-f]{24}$/;

/**
 * Removes folders of footage that was being taken in when the server died: what was not entered was not acknowledged
 * either.
 */
export async function sweepFootage(db: Database): Promise<void> {
  const root = join(dataRoot(), "footage");
  const known = new Set((await listFootage(db)).map(({ id }) => id));
  for (const name of await readdir(root).catch(() => []))
    if (FOOTAGE_ID.test(name) && !known.has(name)) await rm(join(root, name), { recursive: true, force: true });
}
