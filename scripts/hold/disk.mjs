// npm run hold -- disk: a data folder on a disk of its own (a tmpfs; needs root on Linux) that is filled to the last
// byte, and emptied.
import { spawnSync } from "node:child_process";
import {
  closeSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  rmSync,
  statfsSync,
  statSync,
  truncateSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ask, demoComputed, doctor, numbers, pause, png, startServer, stopServer, unfinishedIn } from "./lib.mjs";

const PORT = 3394;
const DISK_MIB = 400;

/** Takes what is left of the disk, to the last block. */
function fill(folder) {
  const file = openSync(join(folder, "filler"), "a");
  for (const size of [2 ** 20, 4096, 512, 1]) {
    try {
      while (writeSync(file, Buffer.alloc(size)) === size);
    } catch {
      // full for pieces of this size
    }
  }
  closeSync(file);
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
}

export async function disk() {
  const mount = mkdtempSync(join(tmpdir(), "halo-disk-"));
  const made = spawnSync("mount", ["-t", "tmpfs", "-o", `size=${DISK_MIB}m`, "tmpfs", mount]);
  if (made.status !== 0)
    return { report: { skipped: "a tmpfs cannot be mounted here; this trial needs root on Linux" }, met: false };
  const data = join(mount, "data");
  const env = { HALO_DEMO_SIZE: "64x36" };
  const random = numbers(7);
  const report = {};
  let server = await startServer(data, PORT, env);
  try {
    await demoComputed(server);
    const detail = async (id) => (await ask(PORT, "GET", `/api/shots/${id}/look`)).json();
    const save = async (id, name) => {
      const { look, revision } = await detail(id);
      return (await ask(PORT, "PUT", `/api/shots/${id}/look`, { look: { ...look, name }, revision })).status;
    };
    const send = async (batch) => {
      const bytes = png(random, 640, 360);
      return (await ask(PORT, "PUT", `/api/intake/${batch}/files/a.png?at=0&size=${bytes.length}`, bytes)).status;
    };
    const queue = async (format, depth) => {
      const { look } = await detail("TL-010");
      const order = {
        shotId: "TL-010",
        versionName: "now",
        look,
        format,
        depth,
        first: 1,
        last: 6,
        ...(format === "exr" ? { compression: "ZIP" } : format === "y4m" ? { compression: "444" } : {}),
      };
      const added = await ask(PORT, "POST", "/api/renders", order);
      return { status: added.status, id: added.json()?.id };
    };
    const renderOf = async (id) => (await ask(PORT, "GET", "/api/renders")).json().find((entry) => entry.id === id);
    const ended = async (id) => {
      for (let tries = 0; tries < 120; tries++) {
        const found = await renderOf(id);
        if (found && !["queued", "running"].includes(found.state)) return found;
        await pause(500);
      }
      return renderOf(id);
    };

    report.before = { upload: await send("disk-batch-one"), look: await save("TL-010", "Before") };
    report.bytesLeftWhenFull = fill(mount);
    report.full = {
      upload: await send("disk-batch-two"),
      look: await save("TL-010", "Full"),
      reads: (await ask(PORT, "GET", "/api/shots/TL-010/frames/1")).status,
      page: (await ask(PORT, "GET", "/bench/TL-010")).status,
    };
    report.full.queued = (await queue("exr", "float")).status;
    // A little room: enough for the database to take an order, and not enough for frames beside it.
    truncateSync(join(mount, "filler"), statSync(join(mount, "filler")).size - 40 * 2 ** 20);
    const [exr, y4m] = [await queue("exr", "float"), await queue("y4m", "10")];
    report.full.ordered = [exr.status, y4m.status];
    const failed = await Promise.all([exr, y4m].map(async ({ id }) => id && (await ended(id))));
    report.full.renders = failed.map((render) => render && `${render.state}: ${render.failed[0]?.reason ?? ""}`);
    const files = failed.flatMap((render) =>
      render && existsSync(join(data, "renders", render.folder))
        ? readdirSync(join(data, "renders", render.folder))
        : [],
    );
    report.full.filesLeft = files;
    // Killed on a full disk, with something left that may be freed.
    server.child.kill("SIGKILL");
    await server.ended;
    rmSync(join(mount, "filler"));
    mkdirSync(join(data, "renders"), { recursive: true });
    writeFileSync(join(data, "renders", ".left.1234.part"), Buffer.alloc(24 * 2 ** 20));
    report.bytesLeftAtStart = fill(mount);
    server = await startServer(data, PORT, env);
    report.startMs = Math.round(server.startMs);
    report.afterStart = {
      reads: (await ask(PORT, "GET", "/api/shots/TL-010")).status,
      look: await save("TL-010", "Started on a full disk"),
      left: unfinishedIn(data),
    };
    // Room again: everything goes on by itself, without a restart.
    rmSync(join(mount, "filler"));
    await pause(3000);
    const again = await queue("exr", "float");
    const png8 = await ended(again.id);
    report.roomAgain = {
      upload: await send("disk-batch-three"),
      look: await save("TL-010", "Room"),
      render: `${png8.state} ${png8.done}`,
      name: (await detail("TL-010")).look.name,
    };
  } catch (error) {
    console.error(report, server.said());
    throw error;
  } finally {
    await stopServer(server);
  }
  report.faults = doctor(data).faults.map(({ what }) => what);
  spawnSync("umount", [mount]);
  rmSync(mount, { recursive: true, force: true });
  const { before, full, afterStart, roomAgain } = report;
  const met =
    before.upload === 200 &&
    before.look === 200 &&
    full.upload === 507 &&
    [200, 507].includes(full.look) &&
    full.reads === 200 &&
    full.page === 200 &&
    [200, 507].includes(full.queued) &&
    full.ordered.every((status) => status === 200) &&
    full.renders.every((state) => /^failed: the disk is full/.test(state)) &&
    full.filesLeft.every((name) => name.startsWith(".halo")) &&
    afterStart.reads === 200 &&
    [200, 507].includes(afterStart.look) &&
    !afterStart.left.length &&
    roomAgain.upload === 200 &&
    roomAgain.look === 200 &&
    roomAgain.render === "done 6" &&
    roomAgain.name === "Room" &&
    !report.faults.length &&
    report.startMs < 10_000;
  return { report, met };
}
