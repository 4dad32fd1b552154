import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { setTimeout } from "node:timers/promises";
import next from "next";
import { ASKED_AT, Gate, WAITS_AT_MOST_MS } from "../waiting/gate";
import { steadyNow } from "../waiting/clock";
import { ALLOW, carriesToken, MIN_TOKEN, ownNames, refusalOf, type Refused } from "../http/guard";
import { HEADERS } from "../http/headers";
import { Busy } from "../errors/errors";
import { answerFor } from "../http/reply";
import { ASKED_BY, ASKED_FROM, isLoopback, isOpen, userOf, wantsUsers } from "../people/admission";
import { removeBegun } from "../storage/files";
import { projectRoot } from "../../formats/project";
import { dataRoot, StartProblem } from "../storage/roots";
import type { Application } from "./application";

/**
 * The server: what is refused is refused here, before its body is read; the rest is Next.js. Run by `npm run demo` and
 * tests.
 */

/** A connection on which nothing moves for this long is given up, ms. */
const IDLE_MS = 600_000;
const HEAD_WITHIN_MS = 20_000;
/** Longer than browsers and programs keep a connection they do not use: one that is just taken up again is there. */
const KEEP_ALIVE_MS = 75_000;
/** What a refused request still sends is taken and thrown away for so long, ms. */
const CUT_OFF_MS = 300;
/** Connections the system holds until they are taken; one beyond them would try again only after seconds. */
const WAITING_CONNECTIONS = 4096;
/** How long a stop waits for what is under way, ms. */
const STOPS_WITHIN_MS = 8000;

const host = process.env.HOST ?? "127.0.0.1";
const port = Number(process.env.PORT ?? 3000);

function fail(error: unknown): never {
  const { line } = error as Partial<StartProblem>;
  console.error(line ? `Pale Halo: ${line}` : error);
  process.exit(1);
}

function refuse(response: ServerResponse, { status, message }: Refused): void {
  const headers = { "content-type": "application/json", ...(status === 405 ? { allow: ALLOW } : {}) };
  response.writeHead(status, headers).end(JSON.stringify({ error: message }));
}

/** Headers by which this front tells what lies behind it; what came with a request under their names is dropped. */
const OWN_HEADERS = [ASKED_AT, ASKED_BY, ASKED_FROM];

/** Where a page is that was asked for by somebody who has to sign in first. */
const wayIn = (url: string) => `/sign-in?to=${encodeURIComponent(url)}`;

/** Why a request is not served, or null: it is refused, or leads to where one signs in. */
async function refusalFor(
  { db }: Application,
  request: IncomingMessage,
  names: ReadonlySet<string>,
): Promise<Refused | { to: string } | null> {
  const { method = "", url = "", headers } = request;
  for (const name of OWN_HEADERS) delete headers[name];
  const isServersToken = carriesToken(headers, process.env.HALO_TOKEN ?? "") === true;
  const isWanted = await wantsUsers(db);
  const user = isWanted && !isServersToken ? await userOf(db, headers) : null;
  const refused = refusalOf(
    { method, url, headers },
    names,
    process.env.HALO_TOKEN ?? "",
    user !== null && headers.authorization !== undefined,
  );
  if (refused) return refused;
  headers[ASKED_FROM] = request.socket.remoteAddress ?? "";
  if (user !== null) headers[ASKED_BY] = encodeURIComponent(user);
  const path = url.split("?")[0]!;
  if (!isWanted || isServersToken || user !== null || isOpen(path)) return null;
  return method === "GET" && !path.startsWith("/api/")
    ? { to: wayIn(url) }
    : { status: 401, message: "Sign in first, or send a token of yours" };
}

/** Requests for pictures: many may come at once, and each takes its time. */
const PICTURES = /^\/api\/((shots|renders)\/[^/]+\/(frames\/|thumbnail|plate)|stills\/[^/]+\/(light|picture))/;
/**
 * As many are worked on at once; the rest wait outside, where they cost nothing, and leave the server to those who
 * save.
 */
const PICTURES_AT_ONCE = 24;
const pictures = new Gate(PICTURES_AT_ONCE);

type Handler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/**
 * Tells when an answer begins: what is sent from then on has limits of its own (frames/sending.ts), and holds up nobody
 * who waits for work.
 */
function onHead(response: ServerResponse, tell: () => void): void {
  const writeHead = response.writeHead.bind(response) as (...head: unknown[]) => ServerResponse;
  response.writeHead = ((...head: unknown[]) => {
    tell();
    return writeHead(...head);
  }) as typeof response.writeHead;
}

async function whenThereIsRoom(request: IncomingMessage, response: ServerResponse, handle: Handler): Promise<void> {
  const askedAt = steadyNow();
  const gone = new AbortController();
  response.once("close", () => gone.abort());
  let leave: () => void;
  try {
    leave = await pictures.enter(1, { signal: gone.signal, until: askedAt + WAITS_AT_MOST_MS });
  } catch {
    const { status, headers, body } = await busyAnswer();
    if (!response.destroyed) response.writeHead(status, headers).end(body);
    return;
  }
  response.once("close", leave);
  if (response.destroyed) return leave();
  onHead(response, leave);
  request.headers[ASKED_AT] = String(askedAt);
  await handle(request, response);
}

/** What is answered where too much is asked for at once. */
async function busyAnswer(): Promise<{ status: number; headers: Record<string, string>; body: string }> {
  const answer = answerFor(new Busy());
  return { status: answer.status, headers: Object.fromEntries(answer.headers), body: await answer.text() };
}

const OPENS_WITHIN_MS = 60_000;
const LOOKS_EVERY_MS = 20;

/** Next.js opens the application (instrumentation.ts) some time after it is ready itself. */
async function opened(): Promise<Application> {
  const holder = globalThis as { paleHalo?: Promise<Application> };
  for (let waited = 0; !holder.paleHalo && waited < OPENS_WITHIN_MS; waited += LOOKS_EVERY_MS)
    await setTimeout(LOOKS_EVERY_MS);
  if (!holder.paleHalo) throw new StartProblem("the application did not open; build it with npm run build");
  return holder.paleHalo;
}

async function serve(): Promise<void> {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new StartProblem(`PORT: ${process.env.PORT} is no port; write a number from 1 to 65535`);
  const { HALO_TOKEN: token = "" } = process.env;
  if (token && token.length < MIN_TOKEN)
    throw new StartProblem(`HALO_TOKEN: is shorter than ${MIN_TOKEN} characters, and could be guessed`);
  dataRoot();
  process.env.HALO_SERVED = "yes";
  const app = next({ dev: false, dir: projectRoot(), hostname: host, port });
  await app.prepare();
  const application = await opened();
  const handle = app.getRequestHandler();
  if (!isLoopback(host) && process.env.HALO_OPEN !== "1" && !(await wantsUsers(application.db)))
    throw new StartProblem(
      `HOST: at ${host} others can reach it, and could change everything. ` +
        "Say who may come in with bin/halo user add NAME, or set HALO_OPEN=1 if everybody may",
    );
  const names = ownNames();
  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
    const refused = await refusalFor(application, request, names);
    if (refused) {
      if ("to" in refused) response.writeHead(303, { location: refused.to }).end();
      else refuse(response, refused);
      // What is still being sent is thrown away for a moment, so that the answer arrives, and then cut off.
      request.resume();
      globalThis.setTimeout(() => request.complete || request.destroy(), CUT_OFF_MS).unref();
      return;
    }
    await (PICTURES.test(request.url ?? "") ? whenThereIsRoom(request, response, handle) : handle(request, response));
  }
  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => {
      console.error(error);
      if (!response.headersSent)
        refuse(response, { status: 500, message: "The server could not do this; its log says why" });
      else response.destroy();
    });
  });
  server.requestTimeout = 0; // a large file on a slow line takes its time; what stands still is given up below
  server.headersTimeout = HEAD_WITHIN_MS;
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  server.setTimeout(IDLE_MS, (socket) => socket.destroy());
  server.on("clientError", (_error, socket) => {
    if (!socket.writable) return;
    const lines = Object.entries({ ...HEADERS, "Content-Type": "application/json", Connection: "close" }).map(
      ([name, value]) => `${name}: ${value}`,
    );
    socket.end(`HTTP/1.1 400 Bad Request\r\n${lines.join("\r\n")}\r\n\r\n{"error":"The request is not HTTP"}`);
  });
  const address = { port, host, backlog: WAITING_CONNECTIONS };
  await new Promise<void>((resolve, reject) => server.once("error", reject).listen(address, resolve)).catch(
    (error: NodeJS.ErrnoException) => {
      const taken = `Port ${port} on ${host} is taken. Choose another with PORT`;
      throw new StartProblem(
        error.code === "EADDRINUSE" ? taken : `${host}:${port} cannot be listened on (${error.code})`,
      );
    },
  );
  console.log(`Pale Halo is served at http://${host.includes(":") ? `[${host}]` : host}:${port}`);
  stopWhenTold(server, application);
}

function stopWhenTold(server: ReturnType<typeof createServer>, application: Application): void {
  let told = false;
  const stop = () => {
    if (told) return;
    told = true;
    server.close();
    server.closeAllConnections();
    const late = globalThis.setTimeout(() => process.exit(0), STOPS_WITHIN_MS);
    void application.close().then(
      () => {
        clearTimeout(late);
        removeBegun();
        process.exit(0);
      },
      (error: unknown) => fail(error),
    );
  };
  process.on("SIGINT", stop).on("SIGTERM", stop);
}

serve().catch(fail);
