import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { request as plainRequest } from "node:http";
import { connect } from "node:net";
import { join } from "node:path";
import { expect, test } from "@playwright/test";

const address = new URL(process.env.HALO_TEST_ADDRESS ?? "http://127.0.0.1:3199");
const data = process.env.HALO_TEST_DATA!;
const fixture = (name: string) => readFileSync(join("src/formats/fixtures", name));

interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: string;
}

/** A request as a program makes it, with nothing that a browser would add. */
const ask = (
  method: string,
  path: string,
  { body, headers = {} }: { body?: Buffer | string; headers?: Record<string, string> } = {},
): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const own = method === "GET" ? {} : { origin: address.origin };
    const length = body === undefined ? {} : { "content-length": String(Buffer.byteLength(body)) };
    const sent = plainRequest(
      { host: address.hostname, port: address.port, method, path, headers: { ...own, ...length, ...headers } },
      (answer) => {
        let text = "";
        answer.on("data", (part: Buffer) => (text += part.toString("latin1")));
        answer.on("end", () => resolve({ status: answer.statusCode!, headers: answer.headers, body: text }));
      },
    );
    sent.on("error", reject);
    sent.end(body);
  });
const json = (method: string, path: string, value: unknown) => ask(method, path, { body: JSON.stringify(value) });
const exr = fixture("half-zip.exr");

test.describe("what is answered, and with what", () => {
  test("names of others, foreign and nameless writes, odd methods and addresses are refused, with the headers of everything else", async () => {
    const answers = await Promise.all([
      ask("GET", "/api/shots", { headers: { host: "evil.example" } }),
      ask("PUT", "/api/shots/TL-010/look", { headers: { origin: "null" } }),
      ask("PUT", "/api/shots/TL-010/look", { headers: { origin: "http://evil.example" } }),
      ask("PROPFIND", "/api/shots"),
      ask("GET", "/api/shots/%00"),
      ask("GET", "/api/shots/%E0%A4%A"),
      ask("GET", "/nowhere"),
      ask("GET", "/api/renders/x/frames/1"),
      ask("GET", "/"),
    ]);
    expect(answers.map(({ status }) => status)).toEqual([403, 403, 403, 405, 400, 400, 404, 404, 307]);
    for (const { headers } of answers) {
      expect(headers["content-security-policy"]).toMatch(/default-src 'self'/);
      expect(headers["x-content-type-options"]).toBe("nosniff");
      expect(headers["cross-origin-opener-policy"]).toBe("same-origin");
    }
  });
  test("what is not HTTP is answered, too", async () => {
    const said = await new Promise<string>((resolve) => {
      let text = "";
      const socket = connect(Number(address.port), address.hostname, () => socket.write("NONSENSE\r\n\r\n"));
      socket.on("data", (part) => (text += part.toString()));
      socket.on("close", () => resolve(text));
    });
    expect(said).toMatch(/^HTTP\/1\.1 400 /);
    expect(said).toMatch(/X-Content-Type-Options: nosniff/);
  });
  test("wrong input is the sender's fault, never the server's", async () => {
    const png = fixture("eight.png");
    const answers: [string, Promise<Answer>, number[]][] = [
      ["a render that is no number", ask("POST", "/api/renders/abc/cancel"), [404]],
      ["a number no id can be", ask("POST", "/api/renders/99999999999999/cancel"), [404]],
      ["a frame that is no number", ask("GET", "/api/shots/TL-010/frames/NaN"), [404]],
      ["a version that is none", json("PATCH", "/api/shots/TL-010/versions/x", { name: "a", revision: 1 }), [404]],
      ["a look that is no JSON", ask("PUT", "/api/shots/TL-010/look", { body: "{" }), [400]],
      ["a look that is none", json("PUT", "/api/shots/TL-010/look", { look: {}, revision: 1 }), [400]],
      ["a shot that is not there", json("PATCH", "/api/shots", { ids: ["none"], change: { notes: "x" } }), [404]],
      ["NUL in a name", json("PATCH", "/api/shots", { ids: ["TL-010"], change: { name: "a\0b" } }), [400]],
      ["a movie of a word that every object knows", ask("GET", "/api/renders/1/movie?kind=toString"), [400]],
      [
        "a name longer than names may be",
        ask("PUT", `/api/intake/test-batch-odd/files/${"n".repeat(300)}.png?at=0&size=${png.length}`, { body: png }),
        [400],
      ],
      ["a file of no size", ask("PUT", "/api/intake/test-batch-odd/files/a.png?at=0&size=0", { body: "" }), [400]],
      [
        "a start that is no number",
        ask("PUT", "/api/intake/test-batch-odd/files/a.png?at=x&size=10", { body: "" }),
        [400],
      ],
      ["a batch that is no name", ask("GET", "/api/intake/..%2F..%2Fetc"), [400, 404]],
    ];
    for (const [what, answer, statuses] of answers) expect(statuses, what).toContain((await answer).status);
    expect(
      (await ask("PUT", `/api/intake/test-batch-odd/files/a.png?at=0&size=${png.length}`, { body: png })).status,
    ).toBe(200);
    const below = await ask("PUT", `/api/intake/test-batch-odd/files/a.png/b.png?at=0&size=${png.length}`, {
      body: png,
    });
    expect([below.status, below.body]).toEqual([409, expect.stringMatching(/A file stands where a folder should/)]);
    await ask("DELETE", "/api/intake/test-batch-odd");
  });
  test("names keep their signs: they are decoded once", async () => {
    const names = ["100%.exr", "a%20b.exr", "ä + ö.exr"];
    for (const name of names) {
      const path = `/api/intake/test-batch-names/files/${encodeURIComponent(name)}?at=0&size=${exr.length}`;
      expect((await ask("PUT", path, { body: exr })).status).toBe(200);
    }
    expect(readdirSync(join(data, "intake/test-batch-names")).sort()).toEqual([...names].sort());
    await ask("DELETE", "/api/intake/test-batch-names");
  });
  test("one file sent eight times at once is one file, and equal ones share their content", async () => {
    const path = (name: string) => `/api/intake/test-batch-equal/files/${name}?at=0&size=${exr.length}`;
    const sent = await Promise.all(
      Array.from({ length: 8 }, (_, i) => ask("PUT", path(i < 5 ? "same.exr" : `other-${i}.exr`), { body: exr })),
    );
    expect(sent.map(({ status }) => status)).toEqual(Array(8).fill(200));
    const folder = join(data, "intake/test-batch-equal");
    expect(readdirSync(folder).length).toBe(4);
    expect(new Set(readdirSync(folder).map((name) => statSync(join(folder, name)).ino)).size).toBe(1);
    await ask("DELETE", "/api/intake/test-batch-equal");
  });
  test("an upload that broke off goes on from what reached the disk", async () => {
    const bytes = Buffer.concat([exr, Buffer.alloc(3_000_000, 1)]);
    const path = `/api/intake/test-batch-part/files/a.exr?at=0&size=${bytes.length}`;
    await new Promise<void>((resolve) => {
      const sent = plainRequest({
        host: address.hostname,
        port: address.port,
        method: "PUT",
        path,
        headers: { origin: address.origin, "content-length": bytes.length },
      });
      sent.on("error", () => resolve());
      sent.write(bytes.subarray(0, 2_000_000), () => setTimeout(() => sent.destroy(), 300));
    });
    const offer = async () =>
      JSON.parse(
        (await json("POST", "/api/intake/test-batch-part/offer", [{ path: "a.exr", size: bytes.length }])).body,
      ) as [{ received: number }];
    await expect.poll(async () => (await offer())[0].received).toBeGreaterThan(500_000);
    const [{ received }] = await offer();
    const rest = `/api/intake/test-batch-part/files/a.exr?at=${received}&size=${bytes.length}`;
    expect((await ask("PUT", rest, { body: bytes.subarray(received) })).status).toBe(200);
    await ask("DELETE", "/api/intake/test-batch-part");
  });
});

test("a second server on the same data is told who has it, and ends with 1; so is a command", () => {
  const env = { ...process.env, HALO_DATA: data, PORT: "3987", NODE_ENV: "production" } as NodeJS.ProcessEnv;
  const second = spawnSync(process.execPath, ["dist/server.mjs"], { env, encoding: "utf8", timeout: 60_000 });
  expect([second.status, second.stderr]).toEqual([
    1,
    expect.stringMatching(/is in use by process \d+ \(the server, since /),
  ]);
  expect(second.stdout).not.toMatch(/is served/);
  const command = spawnSync("bin/halo", ["doctor"], { env, encoding: "utf8" });
  expect([command.status, command.stderr]).toEqual([2, expect.stringMatching(/is in use by process/)]);
  const broken = mkdtempSync(join(tmpdir(), "halo-broken-"));
  mkdirSync(join(broken, "database"));
  writeFileSync(join(broken, ".pale-halo"), "");
  writeFileSync(join(broken, "database", "PG_VERSION"), "99\n");
  const damaged = spawnSync(process.execPath, ["dist/server.mjs"], {
    env: { ...env, HALO_DATA: broken },
    encoding: "utf8",
    timeout: 60_000,
  });
  expect([damaged.status, damaged.stderr]).toEqual([
    1,
    expect.stringMatching(/^Pale Halo: the database in .* does not open .* Put back a copy/m),
  ]);
  expect(damaged.stdout).not.toMatch(/is served/);
  const unset = spawnSync(process.execPath, ["dist/server.mjs"], { env: { ...env, HALO_DATA: "" }, encoding: "utf8" });
  expect([unset.status, unset.stderr]).toEqual([1, expect.stringMatching(/^Pale Halo: HALO_DATA is set but empty/m)]);
});

test("tables are kept apart, removed when nothing uses them, and what they held is gone", async () => {
  const cube = (value: string) => `LUT_3D_SIZE 2\n${`${value} ${value} ${value}\n`.repeat(8)}`;
  const keep = async (file: string, value: string) =>
    JSON.parse((await json("PUT", "/api/tables", { file, text: cube(value) })).body) as { id: string };
  const [one, two] = [await keep("Test Print.cube", "0.1"), await keep("test_print.cube", "0.9")];
  expect(one.id).not.toBe(two.id);
  const hash = async (id: string) =>
    createHash("sha256")
      .update((await ask("GET", `/api/tables/${id}`)).body)
      .digest("hex");
  expect(await hash(one.id)).not.toBe(await hash(two.id));
  for (const { id } of [one, two]) expect((await ask("DELETE", `/api/tables/${id}`)).status).toBe(200);
  expect((await ask("GET", `/api/tables/${one.id}`)).status).toBe(404);
  expect(existsSync(join(data, "database"))).toBe(true);
});
