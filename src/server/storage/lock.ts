import { rmSync, statSync } from "node:fs";
import { connect, createServer, type Server } from "node:net";
import { join } from "node:path";
import { beginBeats, type Holder, StillBeats } from "./heartbeat";
import { StartProblem } from "./roots";

const ANSWERS_WITHIN_MS = 2000;

/**
 * The name that one process at a time can listen on. It belongs to the folder itself, by device and inode, however its
 * path is written; on Linux and Windows it is no file, and the system gives it up with the process.
 */
export function nameFor(folder: string): { name: string; isFile: boolean } {
  const { dev, ino } = statSync(folder);
  const own = `pale-halo-data-${dev}-${ino}`;
  if (process.platform === "linux") return { name: `\0${own}`, isFile: false };
  if (process.platform === "win32") return { name: `\\\\.\\pipe\\${own}`, isFile: false };
  return { name: join(folder, ".lock"), isFile: true };
}

/** Asks whoever listens who it is; null where nobody does. */
const askHolder = (name: string): Promise<Holder | null> =>
  new Promise((resolve) => {
    let said = "";
    const socket = connect(name);
    socket.setTimeout(ANSWERS_WITHIN_MS, () => socket.destroy());
    socket.on("data", (part) => (said += part.toString()));
    socket.on("error", () => {});
    socket.on("close", () => {
      try {
        resolve(JSON.parse(said) as Holder);
      } catch {
        resolve(null);
      }
    });
  });

const listenOn = (server: Server, name: string): Promise<NodeJS.ErrnoException | null> =>
  new Promise((resolve) => {
    server.once("error", (error) => resolve(error));
    server.listen(name, () => resolve(null));
  });

const holderOf = (own: Holder): string => `process ${own.pid} (${own.program}, since ${own.since})`;

/**
 * Takes a data folder for this process until it ends or lets go. The database in it takes one process at a time: two
 * would destroy it. Throws StartProblem that says who has it.
 */
export async function lockFolder(folder: string, program: string): Promise<{ release(): Promise<void> }> {
  const { name, isFile } = nameFor(folder);
  const own: Holder = { pid: process.pid, program, since: new Date().toISOString() };
  const server = createServer((socket) => {
    socket.on("error", () => {});
    socket.end(JSON.stringify(own));
  });
  let problem = await listenOn(server, name);
  if (problem?.code === "EADDRINUSE" && isFile && !(await askHolder(name))) {
    // A socket file outlives its process: nobody answers on it any more.
    rmSync(name, { force: true });
    problem = await listenOn(server, name);
  }
  if (problem) {
    const holder = await askHolder(name);
    throw inUse(folder, holder ? holderOf(holder) : "another process");
  }
  server.unref();
  const close = () => new Promise<void>((resolve) => server.close(() => resolve()));
  try {
    const beats = await beginBeats(folder, own);
    return {
      async release() {
        beats.end();
        await close();
      },
    };
  } catch (error) {
    await close();
    throw error instanceof StillBeats ? inUse(folder, `${holderOf(error.holder)} in another container`) : error;
  }
}

const inUse = (folder: string, who: string) =>
  new StartProblem(`${folder} is in use by ${who}. Stop it, or name another folder with HALO_DATA`);
