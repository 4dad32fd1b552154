import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { expect, test } from "@playwright/test";
import { Client } from "pg";
import { type Postgres, startPostgres } from "../scripts/postgres.mjs";
import { freePort, startServer } from "../scripts/serve.mjs";
import type { ListedRender } from "../src/contract/renders";
import { PARTS } from "../src/server/storage/data-folder";

/** A farm is killed at random moments: its renders are whole all the same, and what they are on one machine. */
const WORKERS = ["a", "b", "c"];
const SHOTS = ["TL-010", "TL-020", "TL-030"];
const FRAMES_OF_EACH = 20;
const KILLS = 12;
/** PostgreSQL is restarted before this one. */
const RESTART_BEFORE = 6;
const BETWEEN_KILLS_MS = [300, 1800] as const;
const WAITS_AT_MOST_S = 30;

const digest = (path: string) => createHash("sha256").update(readFileSync(path)).digest("hex");

/** Where PostgreSQL cannot be had, this is not tried, and it is said. */
async function postgresIn(folder: string): Promise<Postgres | null> {
  try {
    return await startPostgres(folder);
  } catch (error) {
    console.log(`PostgreSQL does not start here (${(error as Error).message}): the farm is not tried`);
    return null;
  }
}

interface Waiting {
  portion: number;
  since: number;
}

/** How long portions whose worker is gone wait for another, s: asked of the database again and again. */
function watchPortions(url: string) {
  let longest = 0;
  let isEnded = false;
  const waiting = new Map<number, Waiting>();
  const watching = (async () => {
    let client: Client | null = null;
    while (!isEnded) {
      try {
        if (!client) {
          client = new Client({ connectionString: url });
          client.on("error", () => (client = null));
          await client.connect();
        }
        const { rows } = await client.query<{ id: number; alone: boolean }>(
          `select p.id, p.state = 'leased' and not exists (
             select from workers w where w.id = p.worker_id and w.heard_at > now() - interval '2 seconds') as alone
           from portions p`,
        );
        for (const { id, alone } of rows) {
          const before = waiting.get(id);
          if (alone && !before) waiting.set(id, { portion: id, since: performance.now() });
          if (alone || !before) continue;
          longest = Math.max(longest, (performance.now() - before.since) / 1000);
          waiting.delete(id);
        }
      } catch {
        client = null; // PostgreSQL is restarted.
      }
      await pause(250);
    }
    await client?.end().catch(() => {});
  })();
  return async () => {
    isEnded = true;
    await watching;
    return { longest, stillWaiting: [...waiting.keys()] };
  };
}

test("three workers, the application and PostgreSQL are killed, and every frame is there once", async () => {
  test.setTimeout(600_000);
  const folder = mkdtempSync(join(tmpdir(), "halo-farm-"));
  const database = mkdtempSync(join(tmpdir(), "halo-farm-database-"));
  rmSync(database, { recursive: true });
  const postgres = await postgresIn(database);
  test.skip(postgres === null, "PostgreSQL does not start here");
  const data = join(folder, "data");
  mkdirSync(join(data, PARTS[2]), { recursive: true });
  writeFileSync(join(data, ".pale-halo"), "");
  cpSync(join(process.env.HALO_TEST_DATA!, "footage/tarn-line"), join(data, "footage/tarn-line"), { recursive: true });
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const env = { DATABASE_URL: postgres!.url, HALO_DATA: data, HALO_DEMO_SIZE: "640x360" };
  const running = new Map<string, ChildProcess>();
  const start = (name: string) =>
    running.set(
      name,
      name === "application"
        ? startServer(data, port, { stdio: "ignore", env: { ...env, HALO_RENDERS: "elsewhere" } })
        : spawn("bin/halo", ["worker", "--name", name], { stdio: "ignore", env: { ...process.env, ...env } }),
    );
  const hasEnded = (name: string) => {
    const { exitCode, signalCode } = running.get(name)!;
    return exitCode !== null || signalCode !== null;
  };
  const kill = async (name: string) => {
    if (hasEnded(name)) return;
    const gone = new Promise((done) => running.get(name)!.once("exit", done));
    running.get(name)!.kill("SIGKILL");
    await gone;
  };
  const answers = (): Promise<boolean> =>
    fetch(`${address}/api/profiles`).then(
      ({ ok }) => ok,
      () => false,
    );
  const renders = async () => (await (await fetch(`${address}/api/renders`)).json()) as ListedRender[];
  try {
    start("application");
    await expect.poll(answers, { timeout: 60_000 }).toBe(true);
    for (const shotId of SHOTS) {
      const { look } = (await (await fetch(`${address}/api/shots/${shotId}/look`)).json()) as { look: object };
      const what = { shotId, versionName: "now", look, format: "png", depth: "16", first: 1, last: FRAMES_OF_EACH };
      const answer = await fetch(`${address}/api/renders`, {
        method: "POST",
        body: JSON.stringify(what),
        headers: { "content-type": "application/json", origin: address },
      });
      expect(answer.status).toBe(200);
    }
    const watched = watchPortions(postgres!.url);
    WORKERS.forEach(start);
    const victims = ["application", ...WORKERS];
    const killed: string[] = [];
    for (let i = 0; i < KILLS; i++) {
      const [least, most] = BETWEEN_KILLS_MS;
      await pause(least + Math.random() * (most - least));
      if (i === RESTART_BEFORE) await postgres!.restart();
      const victim = victims[Math.floor(Math.random() * victims.length)]!;
      killed.push(victim);
      await kill(victim);
      start(victim);
    }
    console.log(`killed: ${killed.join(", ")}`);
    // Who lost PostgreSQL while they began has ended by themselves, and is started anew as a system would.
    [...running.keys()].filter(hasEnded).forEach(start);
    await expect.poll(answers, { timeout: 60_000 }).toBe(true);
    await expect
      .poll(async () => (await renders()).map(({ state }) => state), { timeout: 300_000 })
      .toEqual(SHOTS.map(() => "done"));
    const { longest, stillWaiting } = await watched();
    console.log(`the longest wait of a portion whose worker was gone: ${longest.toFixed(1)} s`);
    expect(stillWaiting).toEqual([]);
    expect(longest).toBeLessThan(WAITS_AT_MOST_S);

    for (const render of await renders()) {
      expect([render.done, render.failed]).toEqual([FRAMES_OF_EACH, []]);
      const made = join(data, "renders", render.folder);
      const files = readdirSync(made).sort();
      const frames = Array.from({ length: FRAMES_OF_EACH }, (_, i) => `0${String(i + 1).padStart(3, "0")}`);
      const names = [...frames.map((frame) => `${render.shotId}.${frame}.png`), `${render.shotId}.png.recipe.json`];
      // Hidden ones are what killed workers had begun: taken away when the render ended.
      expect(files).toEqual(names);
      const again = join(folder, render.shotId);
      mkdirSync(again);
      const pattern = join(again, `${render.shotId}.%04d.png`);
      execFileSync("bin/halo", ["render", "--recipe", join(made, names.at(-1)!), "--out", pattern], { stdio: "pipe" });
      const digests = (place: string) => frames.map((frame) => digest(join(place, `${render.shotId}.${frame}.png`)));
      expect(digests(made)).toEqual(digests(again));
    }
    const client = new Client({ connectionString: postgres!.url });
    await client.connect();
    const { rows } = await client.query("select render_id, count(*)::int from rendered_frames group by 1 order by 1");
    await client.end();
    expect(rows).toEqual(SHOTS.map((_, i) => ({ render_id: i + 1, count: FRAMES_OF_EACH })));
  } finally {
    for (const one of running.values()) one.kill("SIGKILL");
    await postgres!.stop();
    for (const made of [folder, database]) rmSync(made, { recursive: true, force: true });
  }
});
