// npm run hold -- flood [requests]: asks for cold frames and thumbnails all at once, while a look is saved every half second.
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ask, demoComputed, memoryOf, pause, remove, startServer, stopServer } from "./lib.mjs";

const PORT = 3392;

export async function flood(count = 500) {
  const data = join(mkdtempSync(join(tmpdir(), "halo-flood-")), "data");
  let server = await startServer(data, PORT);
  console.error("The demo footage is being computed …");
  const shots = await demoComputed(server);
  await stopServer(server);
  // Started anew, nothing is in memory.
  server = await startServer(data, PORT);
  const paths = Array.from({ length: count }, (_, i) => {
    const { id, frames } = shots[i % shots.length];
    const frame = frames[0][0] + (Math.floor(i / shots.length) % (frames.at(-1)[1] - frames[0][0] + 1));
    const kinds = [
      `frames/${frame}?divide=1`,
      `frames/${frame}?divide=2`,
      `thumbnail?frame=${frame}`,
      `frames/${frame}?divide=1&plane=light`,
      `thumbnail?frame=${frame}&width=800`,
    ];
    return `/api/shots/${id}/${kinds[Math.floor(i / 7) % kinds.length]}`;
  });
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(server.child.pid))), 100);
  const { look, lookRevision } = (await ask(PORT, "GET", "/api/shots/TL-010")).json();
  const saves = [];
  let flooding = true;
  const saving = (async () => {
    for (let revision = lookRevision; flooding;) {
      const begun = performance.now();
      const saved = await ask(PORT, "PUT", "/api/shots/TL-010/look", { look, revision });
      saves.push(performance.now() - begun);
      if (saved.status !== 200) throw new Error(`A look was not saved: ${saved.status}`);
      revision = saved.json().revision;
      await pause(500);
    }
  })();
  const answers = await Promise.all(
    paths.map(async (path) => {
      const begun = performance.now();
      const { status, headers, bytes } = await ask(PORT, "GET", path);
      return { status, path, ms: performance.now() - begun, retry: headers?.["retry-after"], bytes: bytes.length };
    }),
  );
  flooding = false;
  await saving;
  clearInterval(watch);
  const by = (status) => answers.filter((answer) => answer.status === status).length;
  const report = {
    requests: count,
    answered: by(200),
    refused: by(503),
    other: answers
      .filter(({ status }) => ![200, 503].includes(status))
      .map(({ status, path }) => `${status} ${path}`)
      .slice(0, 5),
    refusedWithoutRetryAfter: answers.filter(({ status, retry }) => status === 503 && !retry).length,
    megabytes: Math.round(answers.reduce((sum, { bytes }) => sum + bytes, 0) / 2 ** 20),
    slowestSeconds: Number((Math.max(...answers.map(({ ms }) => ms)) / 1000).toFixed(1)),
    mostMemoryMiB: Math.round(most),
    looksSaved: saves.length,
    slowestSaveMs: Math.round(Math.max(...saves)),
  };
  await stopServer(server);
  remove(join(data, ".."));
  return {
    report,
    met:
      !report.other.length &&
      !report.refusedWithoutRetryAfter &&
      report.slowestSeconds <= 30 &&
      report.mostMemoryMiB < 2560 &&
      report.slowestSaveMs <= 1000,
  };
}
