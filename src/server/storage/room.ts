import { statfs } from "node:fs/promises";

/** Left free for the database, which cannot go on without, bytes. */
const RESERVE = 48 * 2 ** 20;

const diskFull = () => Object.assign(new Error("The disk is full"), { code: "ENOSPC" });

/** Bytes that may be written where `folder` lies. */
async function roomIn(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return Math.max(0, bavail * bsize - RESERVE);
}

/** Throws the system's own "no space" where so many bytes would leave too little for the database. */
export async function ensureRoom(folder: string, bytes: number): Promise<void> {
  if (bytes > (await roomIn(folder))) throw diskFull();
}
