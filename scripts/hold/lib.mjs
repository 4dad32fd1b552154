// What the long trials share: a server of their own, requests as a page makes them, and small pictures to send.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { Agent, request as httpRequest } from "node:http";
import { join } from "node:path";
import { deflateSync } from "node:zlib";
import { root } from "../lib.mjs";
import { startServer as spawnServer } from "../serve.mjs";

export const pause = (ms) => new Promise((done) => setTimeout(done, ms));
export const sha256 = (bytes) => createHash("sha256").update(bytes).digest("hex");

/** A repeatable generator of numbers from 0 to 1. */
export function numbers(seed) {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

const STARTS_WITHIN_MS = 60_000;

/** Starts a server on a data folder; gives its process, its address, and how long it took to answer, ms. */
export async function startServer(data, port, env = {}) {
  const begun = performance.now();
  const child = spawnServer(data, port, { stdio: ["ignore", "pipe", "pipe"], env });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (part) => (said = (said + part).slice(-20_000)));
  const ended = new Promise((done) => child.once("exit", (code, signal) => done({ code, signal })));
  const end = Date.now() + STARTS_WITHIN_MS;
  while (!said.includes("is served at")) {
    if (child.exitCode !== null || Date.now() > end) throw new Error(`The server did not start: ${said}`);
    await pause(20);
  }
  return { child, ended, port, data, said: () => said, startMs: performance.now() - begun };
}

export async function stopServer({ child, ended }, signal = "SIGTERM") {
  child.kill(signal);
  return ended;
}

const agent = new Agent({ keepAlive: true, maxSockets: Infinity });

/** A request as a page of the application makes it. Resolves with status 0 where the connection broke. */
export function ask(port, method, path, body, { timeout = 120_000 } = {}) {
  const isJson = body !== undefined && !Buffer.isBuffer(body);
  const bytes = body === undefined ? null : isJson ? Buffer.from(JSON.stringify(body)) : body;
  return new Promise((done) => {
    const broken = (error) =>
      done({ status: 0, error: String(error?.message ?? error), bytes: Buffer.alloc(0), json: () => null });
    const headers = {
      origin: `http://127.0.0.1:${port}`,
      ...(bytes ? { "content-length": bytes.length } : {}),
      ...(isJson ? { "content-type": "application/json" } : {}),
    };
    const sent = httpRequest({ host: "127.0.0.1", port, method, path, headers, agent, timeout }, (answer) => {
      const parts = [];
      answer.on("data", (part) => parts.push(part));
      answer.on("error", broken);
      answer.on("aborted", () => broken("aborted"));
      answer.on("end", () => {
        const all = Buffer.concat(parts);
        done({
          status: answer.statusCode,
          headers: answer.headers,
          bytes: all,
          json: () => JSON.parse(all.toString() || "null"),
        });
      });
    });
    sent.on("timeout", () => sent.destroy(new Error("timed out")));
    sent.on("error", broken);
    sent.end(bytes);
  });
}

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function chunk(kind, data) {
  const body = Buffer.concat([Buffer.from(kind, "latin1"), data]);
  let crc = 0xffffffff;
  for (const byte of body) crc = CRC[(crc ^ byte) & 255] ^ (crc >>> 8);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length);
  body.copy(out, 4);
  out.writeUInt32BE((crc ^ 0xffffffff) >>> 0, body.length + 4);
  return out;
}

/** A PNG of noise: no two alike. */
export function png(random, width = 64, height = 36) {
  const rows = Buffer.alloc((width * 3 + 1) * height);
  for (let i = 0; i < rows.length; i++) rows[i] = i % (width * 3 + 1) ? Math.floor(random() * 256) : 0;
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width);
  head.writeUInt32BE(height, 4);
  head.set([8, 2, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from("89504e470d0a1a0a", "hex"),
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

/** Resident memory of a process and its children, MiB. */
export function memoryOf(pid) {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))[1]) / 1024;
  } catch {
    return 0;
  }
}

/** Names of what was left unfinished; parts of uploads are not among it: they are gone on with. */
export function unfinishedIn(data) {
  return ["renders", "footage", "content"].flatMap((part) => {
    const folder = join(data, part);
    if (!existsSync(folder)) return [];
    return readdirSync(folder, { recursive: true })
      .filter((name) => name.endsWith(".part"))
      .map((name) => join(part, name));
  });
}

/** What `halo doctor` says of a data folder that no server has. */
export function doctor(data, ...options) {
  const { stdout, stderr, status } = spawnSync(
    join(root, "bin/halo"),
    ["doctor", "--data", data, "--json", ...options],
    { encoding: "utf8", maxBuffer: 2 ** 28 },
  );
  if (!stdout) throw new Error(`halo doctor: ${stderr}`);
  return { status, faults: JSON.parse(stdout).faults };
}

export const remove = (folder) => rmSync(folder, { recursive: true, force: true });

/** Waits for what a server computes by itself. */
export async function demoComputed({ port }) {
  for (;;) {
    const shots = (await ask(port, "GET", "/api/shots")).json();
    if (shots?.length && shots.every(({ progress }) => progress === 1)) return shots;
    await pause(500);
  }
}

export function median(values) {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}
