// npm run hold -- kill [times]: kills the server (SIGKILL) at random moments of work and looks, after each start,
// whether all that was acknowledged is there, byte for byte, and nothing half-made is.
import { existsSync, mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  ask,
  demoComputed,
  doctor,
  numbers,
  pause,
  png,
  remove,
  sha256,
  startServer,
  stopServer,
  unfinishedIn,
} from "./lib.mjs";

const PORT = 3391;
const MAX_WORK_MS_LENGTH = 2500;

/** What the server said it did. */
const known = { uploads: new Map(), shots: new Map(), looks: new Map(), versions: new Map(), renders: new Map() };

/** Shots that were there after some start. */
const seen = new Set();

async function upload(random, serial) {
  const batch = `kill-batch-${serial}`;
  const files = Array.from({ length: 3 }, (_, i) => [`roll.000${i + 1}.png`, png(random)]);
  for (const [name, bytes] of files) {
    const sent = await ask(PORT, "PUT", `/api/intake/${batch}/files/${name}?at=0&size=${bytes.length}`, bytes);
    if (sent.status !== 200) return;
    known.uploads.set(`${batch}/${name}`, sha256(bytes));
  }
  const decision = { folder: "", pattern: "roll.%04d.png", first: 1, take: true, gaps: "hold" };
  const taken = await ask(PORT, "POST", `/api/intake/${batch}`, [decision]);
  if (taken.status !== 200) {
    // Whether it was taken in is not known: the batch may be there or be gone.
    for (const [name] of files) known.uploads.delete(`${batch}/${name}`);
    return;
  }
  for (const [name] of files) known.uploads.delete(`${batch}/${name}`);
  for (const id of taken.json().shots)
    known.shots.set(
      id,
      files.map(([, bytes]) => sha256(bytes)),
    );
}

/** The last look of a shot that was acknowledged, and those sent after it, of which any may stand. */
const lookState = (id) => known.looks.get(id) ?? known.looks.set(id, { acked: null, sent: [] }).get(id);

async function look(random) {
  const id = [...known.shots.keys()].at(Math.floor(random() * known.shots.size)) ?? "TL-010";
  const detail = await ask(PORT, "GET", `/api/shots/${id}`);
  if (detail.status !== 200) return;
  const { look: before, revision } = detail.json();
  const next = { ...before, name: `Look ${Math.floor(random() * 1e9)}` };
  const state = lookState(id);
  state.sent.push(next.name);
  const saved = await ask(PORT, "PUT", `/api/shots/${id}/look`, { look: next, revision });
  if (saved.status === 200) known.looks.set(id, { acked: next.name, sent: [] });
  if (random() < 0.3) {
    const kept = await ask(PORT, "POST", `/api/shots/${id}/versions`, { look: next });
    if (kept.status === 200) known.versions.set(`${id} ${kept.json().id}`, next.name);
  }
}

async function render(random) {
  const id = [...known.shots.keys()].at(Math.floor(random() * known.shots.size));
  if (!id) return;
  const { look: own } = (await ask(PORT, "GET", `/api/shots/${id}/look`)).json() ?? {};
  if (!own) return;
  const order = { shotId: id, versionName: "now", look: own, format: "png", depth: "8", first: 1, last: 3 };
  const added = await ask(PORT, "POST", "/api/renders", order);
  if (added.status === 200) known.renders.set(added.json().id, null);
}

async function work(random, round, stopped) {
  let serial = 0;
  const go = async (step) => {
    while (!stopped()) await step();
  };
  await Promise.all([
    go(() => upload(random, `${round}-${serial++}`)),
    go(() => look(random)),
    go(async () => {
      await render(random);
      await pause(700);
    }),
  ]);
}

/** What is missing or wrong of what was acknowledged. */
async function verify(data) {
  const wrong = [];
  const shots = new Map((await ask(PORT, "GET", "/api/shots")).json().map((shot) => [shot.id, shot]));
  // What was once there after a start stays, also where nobody was told that it was done.
  for (const id of seen) if (!shots.has(id)) wrong.push(`shot ${id} was there before`);
  for (const id of shots.keys()) seen.add(id);
  // Footage that nobody was told of is gone, not lying about.
  const homes = new Set([...shots.values()].map(({ footage }) => footage.folder));
  const folders = existsSync(join(data, "footage")) ? readdirSync(join(data, "footage")) : [];
  for (const name of folders)
    if (name !== "tarn-line" && !homes.has(join("footage", name))) wrong.push(`footage ${name} is nobody's`);
  for (const [path, hash] of known.uploads) {
    const file = join(data, "intake", path);
    if (!existsSync(file) || sha256(readFileSync(file)) !== hash) wrong.push(`upload ${path}`);
  }
  for (const [id, hashes] of known.shots) {
    const shot = shots.get(id);
    const frames = hashes.map((hash, i) => {
      const file = shot && join(data, shot.footage.folder, `roll.000${i + 1}.png`);
      return file && existsSync(file) && sha256(readFileSync(file)) === hash;
    });
    if (!frames.every(Boolean)) wrong.push(`shot ${id}`);
  }
  for (const [id, { acked, sent }] of known.looks) {
    const { look: now } = (await ask(PORT, "GET", `/api/shots/${id}/look`)).json();
    if (acked !== null && now.name !== acked && !sent.includes(now.name))
      wrong.push(`look of ${id}: ${now.name}, was ${acked}`);
    known.looks.set(id, { acked: now.name, sent: [] });
  }
  for (const [key, name] of known.versions) {
    const [id, version] = key.split(" ");
    const kept = await ask(PORT, "GET", `/api/shots/${id}/versions/${version}`);
    if (kept.status !== 200 || kept.json().body.name !== name) wrong.push(`version ${key}`);
  }
  const renders = new Map((await ask(PORT, "GET", "/api/renders")).json().map((entry) => [entry.id, entry]));
  // The list holds the newest two hundred.
  const listed = [...known.renders.keys()].sort((a, b) => a - b).slice(-150);
  for (const id of listed) if (!renders.has(id)) wrong.push(`render ${id}`);
  return wrong;
}

export async function kill(times = 200) {
  const data = join(mkdtempSync(join(tmpdir(), "halo-kill-")), "data");
  const env = { HALO_DEMO_SIZE: "64x36" };
  const random = numbers(20261128);
  const starts = [];
  const wrong = [];
  let server = await startServer(data, PORT, env);
  await demoComputed(server);
  for (let round = 1; round <= times; round++) {
    let stopped = false;
    const working = work(random, round, () => stopped);
    await pause(random() * MAX_WORK_MS_LENGTH);
    server.child.kill("SIGKILL");
    stopped = true;
    await server.ended;
    await working;
    server = await startServer(data, PORT, env);
    starts.push(server.startMs);
    const found = [
      ...(await verify(data)),
      ...unfinishedIn(data)
        .filter((name) => !name.startsWith("renders"))
        .map((name) => `left: ${name}`),
    ];
    wrong.push(...found.map((what) => `round ${round}: ${what}`));
    if (found.length || round % 10 === 0)
      console.error(
        `${round} of ${times}: ${wrong.length} wrong; slowest start ${Math.round(Math.max(...starts))} ms; ${known.shots.size} shots, ${known.versions.size} versions, ${known.renders.size} renders`,
        found,
      );
  }
  await pause(2000);
  // What was rendering when it was killed is gone on with to its end.
  const end = Date.now() + 300_000;
  while (
    (await ask(PORT, "GET", "/api/renders")).json().some(({ state }) => state === "queued" || state === "running") &&
    Date.now() < end
  )
    await pause(1000);
  const states = (await ask(PORT, "GET", "/api/renders")).json().map(({ state }) => state);
  await stopServer(server);
  const { faults } = doctor(data, "--deep");
  const report = {
    kills: times,
    slowestStartMs: Math.round(Math.max(...starts)),
    shots: known.shots.size,
    versions: known.versions.size,
    renders: known.renders.size,
    unfinishedRenders: states.filter((state) => state !== "done").length,
    left: unfinishedIn(data),
    faults: faults.map(({ what }) => what),
    wrong,
  };
  remove(join(data, ".."));
  return {
    report,
    met:
      !wrong.length &&
      !faults.length &&
      !report.left.length &&
      report.slowestStartMs < 10_000 &&
      !report.unfinishedRenders,
  };
}
