import { isMovieName } from "@/core/image/movies";
import type { DragEvent } from "react";

/** A file with the path it has in what was dropped. */
export interface Dropped {
  path: string;
  file: File;
}

export const isMovie = ({ path }: Dropped) => isMovieName(path);

/** Everything dropped, folders opened. */
export async function droppedFiles(event: DragEvent): Promise<Dropped[]> {
  const entries = [...event.dataTransfer.items]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry != null);
  if (!entries.length) return chosenFiles(event.dataTransfer.files);
  const found: Dropped[] = [];
  const read = (reader: FileSystemDirectoryReader) =>
    new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
  const walk = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.name.startsWith(".")) return;
    if (entry.isFile)
      found.push({
        path: entry.fullPath.replace(/^\//, ""),
        file: await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)),
      });
    else {
      const reader = (entry as FileSystemDirectoryEntry).createReader();
      for (let part = await read(reader); part.length; part = await read(reader))
        for (const child of part) await walk(child);
    }
  };
  for (const entry of entries) await walk(entry);
  return found;
}

export const chosenFiles = (files: Iterable<File>): Dropped[] =>
  [...files]
    .filter(({ name }) => !name.startsWith("."))
    .map((file) => ({ path: file.webkitRelativePath || file.name, file }));

const hex = (bytes: ArrayBuffer) =>
  [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, "0")).join("");

/** A name for these very files: dropped again, they go on where they broke off. */
export async function batchOf(files: Dropped[]): Promise<string> {
  const words = files
    .map(({ path, file }) => `${path} ${file.size} ${file.lastModified}`)
    .sort()
    .join("\n");
  return hex(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(words))).slice(0, 32);
}

/**
 * Files above this are sent without asking whether their content is here: hashing needs them whole in memory, bytes.
 */
const HASHED_UP_TO = 256 * 2 ** 20;

export async function contentOf(file: File): Promise<string | undefined> {
  return file.size > 0 && file.size <= HASHED_UP_TO
    ? hex(await crypto.subtle.digest("SHA-256", await file.arrayBuffer()))
    : undefined;
}
