// npm run hold -- flood [requests]: everything the server answers, asked for all at once, with the largest bodies it
// takes; beside it a client that reads nothing of what it asks for, while a look is saved every half second.
import { mkdtempSync, readFileSync } from "node:fs";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ask, demoComputed, memoryOf, pause, remove, startServer, stopServer } from "./lib.mjs";

const PORT = 3392;
const MIB = 2 ** 20;
/** Frames of tracks, two of which are nearly as large as a look may be (200,000 values). */
const TRACK_FRAMES = 19_900;
const LARGE_VERSIONS = 20;
const TABLE_BYTES = 15 * MIB;
/** Connections that ask for a frame and read nothing. */
const UNREAD = 40;

const MAX_LOOP_DELAY_MS = 250;
const MAX_MEMORY_MIB = 2560;
const SLOWEST_ANSWER_S = 30;
const SLOWEST_SAVE_MS = 2000;

/** A look that is as large as it may be: two tracks of many frames, every digit of each value written. */
function largeLook(look) {
  const row = (from) => Array.from({ length: TRACK_FRAMES }, (_, i) => from + 0.1 * Math.sin(i + from));
  const track = (id) => ({
    id,
    name: id,
    model: "similarity",
    reference: 0,
    region: { x: 0, y: 0, width: 10, height: 10 },
    first: 0,
    x: row(1),
    y: row(2),
    scale: row(1),
    rotation: row(3),
    confidence: row(0.5),
  });
  return { ...look, tracks: [track("one"), track("two")] };
}

function cubeText(bytes) {
  const size = 64;
  const digits = Math.floor(bytes / size ** 3 / 3) - 3;
  const lines = [`LUT_3D_SIZE ${size}`];
  for (let i = 0; i < size ** 3; i++)
    lines.push(
      [i % size, Math.floor(i / size) % size, Math.floor(i / size ** 2)]
        .map((v) => (v / size).toFixed(digits))
        .join(" "),
    );
  return lines.join("\n");
}

const correctionsText = () =>
  `<?xml version="1.0"?><ColorCorrectionCollection>${'<ColorCorrection id="a"><SOPNode><Slope>1 1 1</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection>'.repeat(9000)}</ColorCorrectionCollection>`;

/** What is asked beside pictures, over and over. */
const LISTS = [
  "/api/shots",
  "/api/shots/TL-010",
  "/api/shots/TL-010/look",
  "/api/shots/TL-010/uses",
  "/api/shots/TL-010/lens-data",
  "/api/looks",
  "/api/stills",
  "/api/renders",
  "/api/tables",
  "/api/encodings",
  "/api/encodings/acescct/ramp",
  "/api/profiles",
  "/api/intake-folder",
  "/api/none",
];

/** Asks for frames on connections whose answers nobody reads. Gives what ends them. */
function unread(path) {
  const sockets = Array.from({ length: UNREAD }, () => {
    const socket = connect(PORT, "127.0.0.1", () =>
      socket.write(`GET ${path} HTTP/1.1\r\nHost: 127.0.0.1:${PORT}\r\n\r\n`),
    );
    socket.pause();
    socket.on("error", () => {});
    return socket;
  });
  return () => sockets.forEach((socket) => socket.destroy());
}

async function prepare(look) {
  const large = largeLook(look);
  const versions = [];
  for (let i = 0; i < LARGE_VERSIONS; i++) {
    const { status, json } = await ask(PORT, "POST", "/api/shots/TL-020/versions", { look: large });
    if (status !== 200) throw new Error(`A large version was not kept: ${status} ${json().error}`);
    versions.push(json().id);
  }
  const table = await ask(PORT, "PUT", "/api/tables", { file: "large.cube", text: cubeText(TABLE_BYTES) });
  if (table.status !== 200) throw new Error(`A large table was not kept: ${table.status} ${table.json().error}`);
  const still = await ask(PORT, "POST", "/api/stills", { shotId: "TL-010", frame: 1, look });
  if (still.status !== 200) throw new Error(`A still was not kept: ${still.status} ${still.json().error}`);
  return { versions, still: still.json().id, large };
}

export async function flood(count = 700) {
  const data = join(mkdtempSync(join(tmpdir(), "halo-flood-")), "data");
  let server = await startServer(data, PORT);
  console.error("The demo footage is being computed …");
  const shots = await demoComputed(server);
  const { look } = (await ask(PORT, "GET", "/api/shots/TL-010/look")).json();
  const { versions, still, large } = await prepare(look);
  await stopServer(server);
  // Started anew, nothing is in memory.
  const loopFile = join(data, "..", "loop.json");
  const watching = {
    NODE_OPTIONS: `--import ${join(import.meta.dirname, "watch-loop.mjs")}`,
    HALO_LOOP_FILE: loopFile,
  };
  server = await startServer(data, PORT, watching);
  const restartMs = Math.round(server.startMs);
  const pictures = Array.from({ length: count }, (_, i) => {
    const { id, frames } = shots[i % shots.length];
    const frame = frames[0][0] + (Math.floor(i / shots.length) % (frames.at(-1)[1] - frames[0][0] + 1));
    const kinds = [
      `/api/shots/${id}/frames/${frame}?divide=1`,
      `/api/shots/${id}/frames/${frame}?divide=2`,
      `/api/shots/${id}/thumbnail?frame=${frame}`,
      `/api/shots/${id}/frames/${frame}?divide=1&plane=light`,
      `/api/shots/${id}/thumbnail?frame=${frame}&width=800`,
      `/api/stills/${still}/picture?format=jpg&width=${200 + (i % 50)}`,
      LISTS[i % LISTS.length],
      i % 5 ? LISTS[(i + 7) % LISTS.length] : `/api/shots/TL-020/versions/${versions[i % versions.length]}`,
      i % 20 ? LISTS[(i + 3) % LISTS.length] : "/api/tables/large",
    ];
    return ["GET", kinds[Math.floor(i / 7) % kinds.length]];
  });
  const bodies = [
    ...Array.from({ length: 4 }, () => [
      "POST",
      "/api/corrections",
      { file: "a.ccc", text: correctionsText().slice(0, 2 * MIB) },
    ]),
    ["PUT", "/api/tables", { file: "again.cube", text: cubeText(TABLE_BYTES) }],
    ["POST", "/api/shots/TL-020/versions", { look: large }],
    ["POST", "/api/shots/TL-020/versions", { look: large }],
    [
      "POST",
      "/api/shots/TL-020/versions",
      {
        look: {
          ...look,
          when: Object.fromEntries(
            Array.from({ length: 90_000 }, (_, i) => [`a${i}.params.gain`, { keys: [{ frame: 1, value: 1 }] }]),
          ),
        },
      },
    ],
  ];
  const orders = [...pictures, ...bodies];
  process.kill(server.child.pid, "SIGUSR2");
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(server.child.pid))), 100);
  const endUnread = unread("/api/shots/TL-010/frames/3?divide=1");
  const { revision: stands } = (await ask(PORT, "GET", "/api/shots/TL-010/look")).json();
  const saves = [];
  let flooding = true;
  const saving = (async () => {
    for (let revision = stands; flooding;) {
      const begun = performance.now();
      const saved = await ask(PORT, "PUT", "/api/shots/TL-010/look", { look, revision });
      saves.push(performance.now() - begun);
      if (saved.status !== 200) throw new Error(`A look was not saved: ${saved.status}`);
      revision = saved.json().revision;
      await pause(500);
    }
  })();
  const answers = await Promise.all(
    orders.map(async ([method, path, body]) => {
      const begun = performance.now();
      const { status, headers, bytes } = await ask(PORT, method, path, body);
      return { status, path, ms: performance.now() - begun, retry: headers?.["retry-after"], bytes: bytes.length };
    }),
  );
  flooding = false;
  await saving;
  await pause(1000);
  const loop = JSON.parse(readFileSync(loopFile, "utf8"));
  endUnread();
  clearInterval(watch);
  const by = (status) => answers.filter((answer) => answer.status === status).length;
  const isExpected = ({ status, path }) =>
    [200, 503].includes(status) ||
    (path === "/api/none" && status === 404) ||
    (path.endsWith("/versions") && status === 400) ||
    (path === "/api/corrections" && status === 422);
  const report = {
    requests: orders.length,
    answered: by(200),
    refused: by(503),
    other: answers
      .filter((answer) => !isExpected(answer))
      .map(({ status, path }) => `${status} ${path}`)
      .slice(0, 5),
    refusedWithoutRetryAfter: answers.filter(({ status, retry }) => status === 503 && !retry).length,
    megabytes: Math.round(answers.reduce((sum, { bytes }) => sum + bytes, 0) / MIB),
    slowestSeconds: Number((Math.max(...answers.map(({ ms }) => ms)) / 1000).toFixed(1)),
    slowestPath: answers.reduce((a, b) => (a.ms > b.ms ? a : b)).path,
    mostMemoryMiB: Math.round(most),
    loopDelayMs: Object.fromEntries(Object.entries(loop).map(([name, ms]) => [name, Math.round(ms)])),
    looksSaved: saves.length,
    slowestSaveMs: Math.round(Math.max(...saves)),
    restartMs,
  };
  await stopServer(server);
  remove(join(data, ".."));
  return {
    report,
    met:
      !report.other.length &&
      !report.refusedWithoutRetryAfter &&
      report.slowestSeconds <= SLOWEST_ANSWER_S &&
      report.mostMemoryMiB < MAX_MEMORY_MIB &&
      report.loopDelayMs.p99 < MAX_LOOP_DELAY_MS &&
      report.slowestSaveMs <= SLOWEST_SAVE_MS,
  };
}
