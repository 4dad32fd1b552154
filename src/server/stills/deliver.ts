import { readFile } from "node:fs/promises";
import { join } from "node:path";
import sharp from "sharp";
import type { Database } from "../../store/database";
import type { ListedStill, Still } from "../../store/library";
import { findShot } from "../../store/queries";
import { encodingNamed } from "../colour/library";
import { viewTablesFor } from "../colour/tables";
import { frameFileOf, type ShotAsRead } from "../frames/frames";
import { readers } from "../readers/pool";
import type { Deadline } from "../waiting/gate";
import { notFound } from "../errors/errors";
import { fileOf, parseStored } from "../footage/sequence";
import { folderOfStill, placeOfStill } from "./place";

/** What a still lies in on the disk: working light. */
const ENCODING = "linear-ap1";

/** A still as frames of a shot are read: one frame of working light. */
export async function stillAsRead(db: Database, still: Still): Promise<ShotAsRead> {
  const found = await findShot(db, still.shotId);
  if (!found) throw notFound(`The shot ${still.shotId}`);
  const { width, height, frame } = still;
  return {
    shot: { ...found.shot, gaps: "refuse", depthChannel: null, firstFrame: null, lastFrame: null },
    footage: {
      ...found.footage,
      ...placeOfStill(still),
      id: `still ${still.id}`,
      frames: [[frame, frame]],
      width,
      height,
      format: "OpenEXR",
      depth: "half",
      part: null,
      layer: null,
    },
    encoded: await encodingNamed(db, ENCODING),
  };
}

/** About what a pixel takes in memory while it is read and shown, bytes. */
const PIXEL_BYTES = 48;

/** A still as a display shows it, through its own look's view; `width`: about so many pixels wide, or as it is. */
export async function stillPicture(
  db: Database,
  still: Still,
  format: "png" | "jpg",
  width: number | null,
  deadline: Deadline,
): Promise<Buffer> {
  const from = await stillAsRead(db, still);
  const file = frameFileOf(from, still.frame);
  const tables = await viewTablesFor(db, still.look);
  const task = { file, look: still.look, tables, frame: still.frame };
  const key = `still ${still.id}`;
  const weight = still.width * still.height * PIXEL_BYTES;
  const made = await readers().run("rendered", task, { key, name: key, weight, ...deadline });
  const image = sharp(made.codes, { raw: { width: made.width, height: made.height, channels: 4 } }).removeAlpha();
  const sized = width === null ? image : image.resize({ width, withoutEnlargement: true });
  return format === "png" ? sized.png().toBuffer() : sized.jpeg({ quality: JPEG_QUALITY }).toBuffer();
}
const JPEG_QUALITY = 90;

/** The file that a still's light lies in. */
export const pictureOfStill = (still: ListedStill): string =>
  fileOf(parseStored(join(folderOfStill(still.id), placeOfStill(still).pattern)), still.frame);

/** A still's light as it lies on the disk. */
export const stillFile = (still: ListedStill): Promise<Buffer> => readFile(pictureOfStill(still));
