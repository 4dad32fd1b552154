import { readFile } from "node:fs/promises";
import { basename, extname } from "node:path";
import type { RawImage } from "../core/image/image";
import { FileError } from "./error";
import { readExr } from "./exr/read";
import { readRaster } from "./raster/raster";

export interface Format {
  name: string;
  extensions: string[];
  read: string[];
  write: string[];
  note: string;
}

/** Every format there is: what is read, what is written. */
export const FORMATS: Format[] = [
  { name: "OpenEXR", extensions: [".exr"], read: ["half", "float"], write: ["half", "float"], note: "Scan lines; none, RLE, ZIPS, ZIP and PIZ read, ZIP written; R, G, B, A and Z; any data window" },
  { name: "PNG", extensions: [".png"], read: ["8", "16"], write: ["8", "16"], note: "Grey, RGB, with or without alpha" },
  { name: "TIFF", extensions: [".tif", ".tiff"], read: ["8", "16", "float"], write: ["16"], note: "Written with deflate" },
  { name: "JPEG", extensions: [".jpg", ".jpeg"], read: ["8"], write: [], note: "Read only" },
];

export const formatOf = (file: string) => FORMATS.find(({ extensions }) => extensions.includes(extname(file).toLowerCase()));

/** Files above this are refused before they are read. */
const LARGEST_FILE = 1.5 * 2 ** 30;

export function readImage(file: string, bytes: Buffer): Promise<RawImage> {
  const format = formatOf(file);
  if (!format) return Promise.reject(new FileError(basename(file), `is of a kind that is not read; ${FORMATS.flatMap(({ extensions }) => extensions).join(", ")} are`));
  if (!bytes.length) return Promise.reject(new FileError(basename(file), "is empty"));
  return format.name === "OpenEXR" ? Promise.resolve().then(() => readExr(basename(file), bytes)) : readRaster(basename(file), bytes);
}

export async function loadImage(path: string): Promise<RawImage> {
  let bytes: Buffer;
  try {
    bytes = await readFile(path);
  } catch (error) {
    throw new FileError(path, (error as NodeJS.ErrnoException).code === "ENOENT" ? "there is no such file" : `cannot be opened (${(error as NodeJS.ErrnoException).code})`);
  }
  if (bytes.length > LARGEST_FILE) throw new FileError(path, "is larger than 1.5 GiB");
  return readImage(path, bytes);
}
