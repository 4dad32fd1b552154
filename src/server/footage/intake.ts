import { createHash, randomBytes } from "node:crypto";
import { mkdir, readdir, readFile, rename, rm, writeFile } from "node:fs/promises";
import { basename, join } from "node:path";
import { encodingByName } from "../../core/colour/encodings";
import { plainLook } from "../../demo/looks";
import { FileError } from "../../formats/error";
import { formatOf, FORMATS, readImage } from "../../formats/formats";
import type { Database } from "../../store/database";
import { addShot } from "../../store/queries";
import { Refusal } from "../api/respond";
import { PRODUCTION } from "../demo/demo";
import { dataRoot } from "../root";
import { guessEncoding } from "./encoding";
import { groupNames } from "./sequence";

/** A batch is what was dropped together; it waits in a folder of its own until it is taken in, and leaves nothing behind. */
const waiting = (batch: string) => join(dataRoot(), "intake", batch);
const BATCH = /^[a-z0-9-]{8,64}$/;
const LARGEST_FILE = 1.5 * 2 ** 30;
const MOST_FILES = 10_000;
/** The sensor assumed until the user says otherwise: as wide as the demo's, as high as the frame's shape asks for. */
const SENSOR_WIDTH = 24.9;

function checkNames(batch: string, name: string): string {
  if (!BATCH.test(batch)) throw new Refusal(400, "The batch has no proper name");
  const plain = basename(name);
  if (plain !== name || !plain || plain.startsWith(".") || plain.length > 200 || /[\\/\0]/.test(plain)) throw new Refusal(400, `${name}: is not a file name that can be taken in`);
  return plain;
}

/** Checks one file by reading it whole, and keeps it with its batch. Throws FileError for what cannot be taken in. */
export async function receiveFile(batch: string, name: string, body: ReadableStream<Uint8Array> | null) {
  const plain = checkNames(batch, name);
  if (!formatOf(plain)) throw new FileError(plain, `is of a kind that is not read; ${FORMATS.flatMap(({ extensions }) => extensions).join(", ")} are`);
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
    size += part.value.length;
    if (size > LARGEST_FILE) throw new FileError(plain, "is larger than 1.5 GiB");
    chunks.push(part.value);
  }
  const bytes = Buffer.concat(chunks);
  const image = await readImage(plain, bytes);
  const folder = waiting(batch);
  await mkdir(folder, { recursive: true });
  if ((await readdir(folder)).length >= MOST_FILES) throw new Refusal(413, `More than ${MOST_FILES} files in one batch`);
  await writeFile(join(folder, plain), bytes);
  return { name: plain, width: image.width, height: image.height, depth: image.pixels.depth, format: formatOf(plain)!.name, ...guessEncoding(image) };
}

/** Makes a shot of each sequence or still of a batch. Frames of another size than their first are refused by name. */
export async function takeIn(db: Database, batch: string) {
  checkNames(batch, "x");
  const folder = waiting(batch);
  const names = await readdir(folder).catch(() => [] as string[]);
  if (!names.length) throw new Refusal(400, "Nothing of this batch could be taken in");
  const made: string[] = [];
  const refused: { name: string; reason: string }[] = [];
  for (const group of groupNames(names)) {
    const first = await readImage(group.files[0]!, await readFile(join(folder, group.files[0]!)));
    const hash = createHash("sha256");
    const frames: number[] = [];
    const files: string[] = [];
    for (const [i, name] of group.files.entries()) {
      const bytes = await readFile(join(folder, name));
      const { width, height } = await readImage(name, bytes);
      if (width !== first.width || height !== first.height) {
        refused.push({ name, reason: `is ${width}x${height} pixels; its sequence is ${first.width}x${first.height}` });
        continue;
      }
      hash.update(name).update(bytes);
      frames.push(group.frames[i]!);
      files.push(name);
    }
    const footageId = hash.digest("hex").slice(0, 24);
    const home = join("footage", footageId);
    await mkdir(join(dataRoot(), home), { recursive: true });
    for (const name of files) await rename(join(folder, name), join(dataRoot(), home, name));
    const { encoding, reason } = guessEncoding(first);
    const id = `shot-${randomBytes(4).toString("hex")}`;
    const name = group.pattern.replace(/[._-]?%0\d+d/, "").replace(/\.[^.]+$/, "").slice(0, 60) || "Untitled";
    const sensor = { width: SENSOR_WIDTH, height: Number(((SENSOR_WIDTH * first.height) / first.width).toFixed(2)) };
    await addShot(
      db,
      { id: footageId, folder: home, pattern: group.pattern, frames, width: first.width, height: first.height, depth: first.pixels.depth, format: formatOf(group.files[0]!)!.name },
      { id, productionId: PRODUCTION.id, footageId, name, encoding, encodingReason: reason, sensorWidth: sensor.width, sensorHeight: sensor.height, position: 1000 },
      plainLook(name, sensor, encodingByName(encoding).displayReferred),
    );
    made.push(id);
  }
  await rm(folder, { recursive: true, force: true });
  return { shots: made, refused };
}
