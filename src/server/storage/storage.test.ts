import { spawn } from "node:child_process";
import {
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from "node:fs";
import { open, readFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { openData } from "../app/open";
import { streamOf } from "../render/movies";
import { linkOrCopy, linkTo } from "./content";
import { clearDataFolder, prepareDataFolder } from "./data-folder";
import { isDiskFull, sweepUnfinished, writeAll, writeWhole } from "./files";
import { beginBeats, type Holder, StillBeats } from "./heartbeat";
import { lockFolder } from "./lock";
import { dataRoot } from "./roots";
import { withLock } from "./turn";

const scratch = () => mkdtempSync(join(tmpdir(), "halo-storage-"));

describe("the lock of a data folder", () => {
  test("is one process's at a time, by whatever path; the second is told who has it", async () => {
    const folder = scratch();
    const link = join(scratch(), "link");
    symlinkSync(folder, link);
    const first = await lockFolder(folder, "the server");
    await expect(lockFolder(join(link, "..", "link"), "another")).rejects.toThrow(
      new RegExp(`is in use by process ${process.pid} \\(the server, since 2\\d{3}-`),
    );
    await first.release();
    await (await lockFolder(folder, "another")).release();
  });
  test("goes with its process, however that ends, and a number left in a file says nothing", async () => {
    const folder = scratch();
    const { dev, ino } = statSync(folder);
    writeFileSync(join(folder, "server.pid"), String(process.ppid));
    const hold = `require("net").createServer().listen("\\0pale-halo-data-${dev}-${ino}", () => console.log("held"))`;
    const child = spawn(process.execPath, ["-e", hold], { stdio: ["ignore", "pipe", "inherit"] });
    await new Promise((resolve) => child.stdout.once("data", resolve));
    await expect(lockFolder(folder, "second")).rejects.toThrow(/in use by/);
    child.kill("SIGKILL");
    await new Promise((resolve) => child.once("exit", resolve));
    await (await lockFolder(folder, "third")).release();
  });
});

describe("a data folder that several containers share", () => {
  const holder = { pid: 7, program: "the server", since: "2026-01-01T00:00:00.000Z" };
  test("is held as long as its holder's file changes, wherever that is", async () => {
    const folder = scratch();
    const first = await beginBeats(folder, holder, { place: "one container" });
    await expect(beginBeats(folder, holder, { place: "another" })).rejects.toThrow(StillBeats);
    await expect(lockFolder(folder, "here")).rejects.toThrow(/in use by process 7 .* in another container/);
    first.end();
    await (await lockFolder(folder, "here")).release();
    expect(existsSync(join(folder, ".holder"))).toBe(false);
  });
  test("is taken when that file changes no more", async () => {
    const folder = scratch();
    const first = await beginBeats(folder, holder, { place: "one container" });
    const last = await readFile(join(folder, ".holder"));
    first.end();
    writeFileSync(join(folder, ".holder"), last);
    await (await lockFolder(folder, "the next")).release();
  }, 20_000);
  test("taken from a holder that stood still, it is that one's no more", async () => {
    const folder = scratch();
    const other = await new Promise<Holder>((resolve) => {
      void beginBeats(folder, holder, { place: "one container", lost: resolve }).then(() =>
        writeFileSync(join(folder, ".holder"), JSON.stringify({ ...holder, program: "the next", id: "x", beat: 0 })),
      );
    });
    expect(other.program).toBe("the next");
  });
});

describe("the data folder", () => {
  test("is made for its owner alone", () => {
    const folder = join(scratch(), "new", "data");
    prepareDataFolder(folder);
    expect(statSync(folder).mode & 0o777).toBe(0o700);
  });
  test("is not somebody else's, nor a file", () => {
    const foreign = scratch();
    writeFileSync(join(foreign, "thesis.txt"), "");
    expect(() => prepareDataFolder(foreign)).toThrow(/holds other things \(thesis\.txt\).*name an empty folder/);
    expect(() => prepareDataFolder(join(foreign, "thesis.txt"))).toThrow(/is a file; HALO_DATA names a folder/);
    expect(existsSync(join(foreign, ".pale-halo"))).toBe(false);
  });
  test("is cleared of what the application made, and of nothing else", () => {
    const folder = scratch();
    prepareDataFolder(folder);
    mkdirSync(join(folder, "renders"));
    writeFileSync(join(folder, "note.txt"), "keep");
    clearDataFolder(folder);
    expect(readdirSync(folder).sort()).toEqual([".pale-halo", "note.txt"]);
    prepareDataFolder(folder); // it is known by its mark now
  });
  test.each(["footage", "renders", "database", "a.part"])(
    "that holds “%s” and bears no mark is left alone",
    async (name) => {
      const folder = scratch();
      mkdirSync(join(folder, name));
      writeFileSync(join(folder, name, "take.0001.exr.part"), "work of years");
      process.env.HALO_DATA = folder;
      for (const how of [{ clears: true }, { fresh: true, clears: true }, { makes: false }])
        await expect(openData("a test", how)).rejects.toThrow(/is not marked as Pale Halo's/);
      expect(readdirSync(join(folder, name))).toEqual(["take.0001.exr.part"]);
      delete process.env.HALO_DATA;
    },
  );
  test("is not made by who only looks into it", async () => {
    const folder = join(scratch(), "none");
    process.env.HALO_DATA = folder;
    await expect(openData("a test", { makes: false })).rejects.toThrow(/there is no such data folder/);
    expect(existsSync(folder)).toBe(false);
    delete process.env.HALO_DATA;
  });
  test("set to nothing is an error", () => {
    const before = process.env.HALO_DATA;
    process.env.HALO_DATA = "";
    expect(() => dataRoot()).toThrow(/HALO_DATA is set but empty/);
    if (before === undefined) delete process.env.HALO_DATA;
    else process.env.HALO_DATA = before;
  });
});

describe("writing", () => {
  test("a disk that takes nothing is said to be full, and leaves nothing behind", async () => {
    const full = await open("/dev/full", "w");
    const error = await writeAll(full, Buffer.alloc(100)).catch((thrown: unknown) => thrown);
    await full.close();
    expect(isDiskFull(error)).toBe(true);
    expect(isDiskFull(new Error("other", { cause: { code: "53100" } }))).toBe(true);
    expect(isDiskFull(new Error("other"))).toBe(false);
  });
  test("a write that takes less than it is given is gone on with", async () => {
    const taken: number[] = [];
    const stingy = {
      write: (bytes: Uint8Array, at: number, count: number) => {
        const some = Math.min(7, count);
        taken.push(...bytes.subarray(at, at + some));
        return Promise.resolve({ bytesWritten: some, buffer: bytes });
      },
    };
    const bytes = Uint8Array.from({ length: 100 }, (_, i) => i);
    await writeAll(stingy as never, bytes);
    expect(taken).toEqual([...bytes]);
  });
  test("a file is whole or not there, and what was left unfinished is swept", async () => {
    const folder = scratch();
    await writeWhole(join(folder, "a.bin"), Buffer.from("whole"));
    expect(await readFile(join(folder, "a.bin"), "utf8")).toBe("whole");
    await expect(writeWhole(join(folder, "not", "there.bin"), Buffer.from("x"))).rejects.toThrow(/ENOENT/);
    mkdirSync(join(folder, "deep", ".b.1234.part"), { recursive: true });
    writeFileSync(join(folder, "deep", "c.exr.part"), "");
    await sweepUnfinished(folder);
    expect(readdirSync(folder, { recursive: true }).sort()).toEqual(["a.bin", "deep"]);
  });
});

test("content that has as many links as its file system counts to is copied", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-links-"));
  const first = join(folder, "first");
  writeFileSync(first, "bytes");
  let links = 1;
  // Where a file system counts further than this one's 65,000, there is nothing to try.
  for (; links < 70_000; links++)
    try {
      linkSync(first, join(folder, String(links)));
    } catch (error) {
      expect((error as NodeJS.ErrnoException).code).toBe("EMLINK");
      break;
    }
  const more = join(folder, "more");
  await linkOrCopy(first, more);
  expect(readFileSync(more, "utf8")).toBe("bytes");
  if (links < 70_000) expect(statSync(more).nlink).toBe(1);
  await linkTo(first, more);
  expect(readFileSync(more, "utf8")).toBe("bytes");
  rmSync(folder, { recursive: true });
}, 60_000);

test("a file is opened for who reads it, and closed again", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-stream-"));
  const path = join(folder, "a");
  writeFileSync(path, Buffer.alloc(600_000, 7));
  const opened = () => readdirSync("/proc/self/fd").filter((fd) => isOpen(fd, path)).length;
  for (let i = 0; i < 20; i++) new Response(streamOf(path));
  expect(opened()).toBe(0);
  const reader = streamOf(path).getReader();
  await reader.read();
  expect(opened()).toBe(1);
  await reader.cancel();
  expect((await new Response(streamOf(path)).arrayBuffer()).byteLength).toBe(600_000);
  expect(opened()).toBe(0);
});

const isOpen = (fd: string, path: string) => {
  try {
    return readlinkSync(join("/proc/self/fd", fd)) === path;
  } catch {
    return false;
  }
};

test("work on one thing is done in turn, also after work that failed; work on another is not waited for", async () => {
  const order: string[] = [];
  const work =
    (name: string, ms: number, fails = false) =>
    async () => {
      await new Promise((resolve) => setTimeout(resolve, ms));
      order.push(name);
      if (fails) throw new Error(name);
    };
  const all = [
    withLock("a", work("first", 30, true)),
    withLock("a", work("second", 1)),
    withLock("b", work("other", 5)),
  ];
  await Promise.allSettled(all);
  expect(order).toEqual(["other", "first", "second"]);
});
