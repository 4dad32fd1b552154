/**
 * Copies of the database for commands that only read, while a server has it open: the server writes one into the data
 * folder, which only its owner can read, and tells where.
 */
import { existsSync } from "node:fs";
import { open, readdir, readFile, rm } from "node:fs/promises";
import { connect, createServer } from "node:net";
import { join } from "node:path";
import { nameFor } from "./lock";

const ANSWERS_WITHIN_MS = 30_000;
const PRIVATE_FILE = 0o600;
const PREFIX = ".copy-";

const socketOf = (folder: string) => {
  const { name, isFile } = nameFor(folder);
  return { name: `${name}-copies`, isFile };
};

/** Writes a copy for each who asks, one after another. `dump`: the database as it is now, as an archive. */
export async function serveCopies(folder: string, dump: () => Promise<Blob>): Promise<{ end(): void }> {
  const { name, isFile } = socketOf(folder);
  let turn: Promise<unknown> = Promise.resolve();
  let count = 0;
  const written = async () => {
    const path = join(folder, `${PREFIX}${process.pid}-${count++}.part`);
    const file = await open(path, "wx", PRIVATE_FILE);
    try {
      await file.write(new Uint8Array(await (await dump()).arrayBuffer()));
    } finally {
      await file.close();
    }
    return path;
  };
  const server = createServer((socket) => {
    socket.on("error", () => {});
    turn = turn.then(written).then(
      (path) => socket.end(JSON.stringify({ path })),
      () => socket.destroy(),
    );
  });
  if (isFile) await rm(name, { force: true });
  // Of commands that were ended before they had read theirs.
  for (const left of (await readdir(folder)).filter((entry) => entry.startsWith(PREFIX)))
    await rm(join(folder, left), { force: true });
  // Reading commands can do without: what keeps this from listening keeps nothing else.
  server.on("error", () => {});
  server.listen(name);
  server.unref();
  return { end: () => void server.close() };
}

/** A copy of a database that a server has open; null where none gives one. */
export async function copyFrom(folder: string): Promise<Blob | null> {
  if (!existsSync(folder)) return null;
  const { name } = socketOf(folder);
  const said = await new Promise<string>((resolve) => {
    let text = "";
    const socket = connect(name);
    socket.setTimeout(ANSWERS_WITHIN_MS, () => socket.destroy());
    socket.on("data", (part) => (text += part.toString()));
    socket.on("error", () => {});
    socket.on("close", () => resolve(text));
  });
  if (!said) return null;
  const { path } = JSON.parse(said) as { path: string };
  try {
    return new Blob([await readFile(path)]);
  } finally {
    await rm(path, { force: true });
  }
}
