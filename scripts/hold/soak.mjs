// npm run hold -- soak [minutes]: opens, edits, plays, renders, cancels and removes at random against a running server,
// and looks at its memory and at whether database and folders agree in the end.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  ask,
  demoComputed,
  doctor,
  median,
  memoryOf,
  numbers,
  pause,
  png,
  remove,
  startServer,
  stopServer,
  unfinishedIn,
} from "./lib.mjs";

const PORT = 3395;
const AT_ONCE = 4;
const MINUTE = 60_000;

export async function soak(minutes = 10) {
  const data = join(mkdtempSync(join(tmpdir(), "halo-soak-")), "data");
  const server = await startServer(data, PORT, { HALO_DEMO_SIZE: "640x360" });
  console.error("The demo footage is being computed …");
  await demoComputed(server);
  const random = numbers(42);
  const pick = (list) => list[Math.floor(random() * list.length)];
  const counts = {};
  const unexpected = [];
  let serial = 0;
  const call = async (method, path, body, allowed = [200]) => {
    const answer = await ask(PORT, method, path, body);
    counts[answer.status] = (counts[answer.status] ?? 0) + 1;
    if (!allowed.includes(answer.status))
      unexpected.push(`${method} ${path}: ${answer.status} ${answer.bytes.toString().slice(0, 200)}`);
    return answer;
  };
  const shots = async () => (await call("GET", "/api/shots")).json();
  const own = async () => (await shots()).filter(({ id }) => id.startsWith("shot-"));
  const frameOf = ({ frames }) => frames[0][0] + Math.floor(random() * (frames.at(-1)[1] - frames[0][0] + 1));
  const lookOf = async (id) => (await call("GET", `/api/shots/${id}/look`, undefined, [200, 404])).json();

  const deeds = {
    async open() {
      const { id } = pick(await shots());
      await call("GET", pick([`/bench/${id}`, "/footage", "/cabinet", "/renders"]));
      await call("GET", "/api/profiles");
    },
    async play() {
      const shot = pick(await shots());
      const first = frameOf(shot);
      for (let frame = first; frame < first + 12 && frame <= shot.frames.at(-1)[1]; frame++)
        await call("GET", `/api/shots/${shot.id}/frames/${frame}?divide=${pick([1, 2, 4])}`, undefined, [200, 404]);
    },
    async sheet() {
      for (const shot of await shots())
        await call("GET", `/api/shots/${shot.id}/thumbnail?frame=${frameOf(shot)}`, undefined, [200, 404]);
    },
    async edit() {
      const { id } = pick(await shots());
      for (let step = 0; step < 8; step++) {
        const { look, revision } = await lookOf(id);
        if (!look) return;
        const elements = look.elements.map((element) => ({ ...element, strength: Math.round(random() * 200) / 100 }));
        await call("PUT", `/api/shots/${id}/look`, { look: { ...look, elements }, revision }, [200, 404, 409]);
      }
    },
    async version() {
      const { id } = pick(await shots());
      const { look } = await lookOf(id);
      const { versions } = (await call("GET", `/api/shots/${id}`, undefined, [200, 404])).json();
      if (!look || !versions) return;
      await call("POST", `/api/shots/${id}/versions`, { look }, [200, 404]);
      if (versions.length > 4)
        await call("DELETE", `/api/shots/${id}/versions/${pick(versions).id}`, undefined, [200, 404]);
    },
    async takeIn() {
      const batch = `soak-batch-${serial++}`;
      for (let number = 1; number <= 4; number++) {
        const bytes = png(random, 320, 180);
        await call("PUT", `/api/intake/${batch}/files/roll.000${number}.png?at=0&size=${bytes.length}`, bytes);
      }
      await call("GET", `/api/intake/${batch}`);
      if (random() < 0.2) return call("DELETE", `/api/intake/${batch}`);
      return call("POST", `/api/intake/${batch}`, [
        { folder: "", pattern: "roll.%04d.png", first: 1, take: true, gaps: "hold" },
      ]);
    },
    async render() {
      const shot = pick(await shots());
      const { look } = await lookOf(shot.id);
      if (!look) return;
      const [format, depth] = pick([
        ["png", "8"],
        ["exr", "half"],
        ["dpx", "10"],
        ["y4m", "10"],
      ]);
      await call(
        "POST",
        "/api/renders",
        { shotId: shot.id, versionName: "now", look, format, depth, first: 1, last: 3 },
        [200, 404],
      );
    },
    async cancel() {
      const under = (await call("GET", "/api/renders"))
        .json()
        .filter(({ state }) => state === "queued" || state === "running");
      // More is ordered than is rendered: the line is kept short.
      for (const { id } of under.slice(random() < 0.5 ? 0 : 4))
        await call("POST", `/api/renders/${id}/cancel`, undefined, [200, 404, 409]);
    },
    async removeRender() {
      const done = (await call("GET", "/api/renders"))
        .json()
        .filter(({ state }) => !["queued", "running"].includes(state));
      for (const { id } of done.slice(2)) await call("DELETE", `/api/renders/${id}`, undefined, [200, 404, 409]);
    },
    async removeShot() {
      for (const { id } of (await own()).slice(6)) await call("DELETE", `/api/shots/${id}`, undefined, [200, 404, 409]);
    },
  };

  const begun = Date.now();
  const samples = [];
  const watch = setInterval(() => samples.push({ at: Date.now() - begun, mib: memoryOf(server.child.pid) }), 500);
  const names = Object.keys(deeds);
  const user = async () => {
    while (Date.now() - begun < minutes * MINUTE) {
      const name = pick(names);
      counts[name] = (counts[name] ?? 0) + 1;
      await deeds[name]();
      await pause(random() * 150);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, user));
  clearInterval(watch);
  const between = (from, to) => median(samples.filter(({ at }) => at >= from && at < to).map(({ mib }) => mib));
  const [first, last] = [between(0.75 * MINUTE, 1.25 * MINUTE), between((minutes - 0.5) * MINUTE, minutes * MINUTE)];
  const ended = await stopServer(server);
  const { faults } = doctor(data, "--deep");
  const report = {
    minutes,
    counts,
    memoryAfterAMinuteMiB: Math.round(first),
    memoryAtTheEndMiB: Math.round(last),
    ratio: Number((last / first).toFixed(2)),
    everyMinuteMiB: Array.from({ length: minutes }, (_, i) => Math.round(between(i * MINUTE, (i + 1) * MINUTE))),
    unexpected: unexpected.slice(0, 10),
    unexpectedCount: unexpected.length,
    faults: faults.map(({ what }) => what),
    left: unfinishedIn(data),
    ended,
  };
  remove(join(data, ".."));
  return {
    report,
    met: report.ratio <= 1.2 && !unexpected.length && !faults.length && !report.left.length && ended.code === 0,
  };
}
