// npm run hold -- bodies: very large bodies: memory stays small, a refused one is not read, a movie is kept whole.
import { mkdtempSync, statSync } from "node:fs";
import { request as httpRequest } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ask, demoComputed, memoryOf, numbers, pause, png, remove, startServer, stopServer } from "./lib.mjs";

const PORT = 3393;
const PIECE = Buffer.alloc(2 ** 20, 0x55);

/** Sends a body of so many bytes that nobody holds: `head`, then filler. Gives the answer, and how much was taken. */
function pour(method, path, size, head, origin = `http://127.0.0.1:${PORT}`) {
  return new Promise((done) => {
    let taken = 0;
    const sent = httpRequest(
      { host: "127.0.0.1", port: PORT, method, path, headers: { origin, "content-length": size } },
      (answer) => {
        let text = "";
        answer.on("data", (part) => (text += part));
        answer.on("end", () => done({ status: answer.statusCode, text, taken }));
        answer.on("error", () => done({ status: answer.statusCode, text, taken }));
      },
    );
    sent.on("error", (error) => done({ status: 0, text: error.message, taken }));
    const more = () => {
      while (taken < size) {
        const piece = taken === 0 ? head : PIECE.subarray(0, Math.min(PIECE.length, size - taken));
        taken += piece.length;
        if (!sent.write(piece)) return sent.once("drain", more);
      }
      sent.end();
    };
    more();
  });
}

export async function bodies() {
  const data = join(mkdtempSync(join(tmpdir(), "halo-bodies-")), "data");
  const server = await startServer(data, PORT, { HALO_DEMO_SIZE: "64x36" });
  await demoComputed(server);
  const still = png(numbers(1));
  await ask(PORT, "PUT", `/api/intake/bodies-batch/files/a.png?at=0&size=${still.length}`, still);
  const decision = { folder: "", pattern: "a.png", first: 1, take: true, gaps: "hold" };
  const [shotId] = (await ask(PORT, "POST", "/api/intake/bodies-batch", [decision])).json().shots;
  const { look } = (await ask(PORT, "GET", `/api/shots/${shotId}/look`)).json();
  const { id } = (
    await ask(PORT, "POST", "/api/renders", {
      shotId,
      versionName: "now",
      look,
      format: "png",
      depth: "8",
      first: 1,
      last: 1,
    })
  ).json();
  const folder = async () => (await ask(PORT, "GET", "/api/renders")).json().find((entry) => entry.id === id);
  while ((await folder()).state !== "done") await pause(300);
  const before = memoryOf(server.child.pid);
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(server.child.pid))), 50);
  // What these bytes are is seen before more of them is read than the first few.
  const exrHead = Buffer.alloc(64);
  const MIB = 2 ** 20;
  const upload = await pour(
    "PUT",
    `/api/intake/bodies-batch-b/files/big.exr?at=0&size=${1100 * MIB}`,
    1100 * MIB,
    exrHead,
  );
  const foreign = await pour(
    "PUT",
    `/api/intake/bodies-batch-c/files/big.exr?at=0&size=${1100 * MIB}`,
    1100 * MIB,
    exrHead,
    "http://evil.example",
  );
  const long = await pour(
    "PUT",
    `/api/intake/bodies-batch-d/files/big.exr?at=0&size=${1600 * MIB}`,
    1600 * MIB,
    exrHead,
  );
  const webm = Buffer.from("1a45dfa3934282847765626d", "hex");
  const movie = await pour("PUT", `/api/renders/${id}/movie?kind=webm`, 1700 * MIB, webm);
  const kept =
    statSync(join(data, "renders", (await folder()).folder, `${shotId}.webm`), { throwIfNoEntry: false })?.size ?? 0;
  const noMovie = await pour("PUT", `/api/renders/${id}/movie?kind=mp4`, 5 * MIB, Buffer.from("no movie at all"));
  const empty = await ask(PORT, "PUT", `/api/renders/${id}/movie?kind=webm`, Buffer.alloc(0));
  clearInterval(watch);
  await stopServer(server);
  remove(join(data, ".."));
  const report = {
    upload: `${upload.status} ${upload.text}`.slice(0, 90),
    foreign: foreign.status,
    foreignTakenMiB: Math.round(foreign.taken / MIB),
    tooLong: long.status,
    tooLongTakenMiB: Math.round(long.taken / MIB),
    movie: movie.status,
    movieKeptWhole: kept === 1700 * MIB,
    noMovie: noMovie.status,
    emptyMovie: empty.status,
    memoryBeforeMiB: Math.round(before),
    mostMemoryMiB: Math.round(most),
  };
  const met =
    upload.status === 422 &&
    foreign.status === 403 &&
    foreign.taken < 64 * MIB &&
    long.status === 413 &&
    movie.status === 200 &&
    report.movieKeptWhole &&
    noMovie.status === 400 &&
    empty.status === 400 &&
    most - before < 300;
  return { report, met };
}
