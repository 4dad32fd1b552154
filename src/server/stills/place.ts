import { join } from "node:path";
import { dataRoot } from "../storage/roots";

const NUMBER_DIGITS = 4;

/** Under the data root. */
const nameOfFolder = (id: number) => join("stills", String(id).padStart(NUMBER_DIGITS, "0"));

export const folderOfStill = (id: number) => join(dataRoot(), nameOfFolder(id));

export const fileNameOfStill = (shotId: string) => `${shotId}.%04d.exr`;

/** Where a still lies: a folder of its own under the data root, and the pattern of its file. */
export const placeOfStill = ({ id, shotId }: { id: number; shotId: string }) => ({
  folder: nameOfFolder(id),
  pattern: fileNameOfStill(shotId),
});
