import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, expect, type Page, test } from "@playwright/test";
import { freePort, startServer } from "../scripts/serve.mjs";
import { listen } from "./bench-page";
import { serious } from "./serious";

const PASSPHRASE = "last car down";

/** A server on data of its own, with a user and a token of theirs; what it says goes into a file. */
async function serverWithUser() {
  const folder = mkdtempSync(join(tmpdir(), "halo-people-"));
  const data = join(folder, "data");
  mkdirSync(data);
  writeFileSync(join(data, ".pale-halo"), "");
  const halo = (args: string[], input = "") =>
    execFileSync("bin/halo", args, { env: { ...process.env, HALO_DATA: data }, input, stdio: ["pipe", "pipe", "pipe"] })
      .toString()
      .trim();
  halo(["user", "add", "Ada"], `${PASSPHRASE}\n`);
  const token = halo(["token", "make", "Ada", "nightly"]);
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const server = startServer(data, port, { stdio: ["ignore", "pipe", "pipe"], env: { HALO_DEMO: "no" } });
  let said = "";
  for (const stream of [server.stdout!, server.stderr!]) stream.on("data", (part: Buffer) => (said += part.toString()));
  const end = async () => {
    if (server.exitCode !== null) return;
    const gone = new Promise((done) => server.once("exit", done));
    server.kill();
    await gone;
  };
  const answers = () =>
    fetch(`${address}/api/session`).then(
      ({ ok }) => ok,
      () => false,
    );
  await expect.poll(answers, { timeout: 60_000 }).toBe(true);
  return { address, token, folder, data, said: () => said, halo, end };
}

async function signIn(page: Page, passphrase: string): Promise<void> {
  await page.getByLabel("Name").fill("Ada");
  await page.getByLabel("Passphrase").fill(passphrase);
  await page.getByRole("button", { name: "Sign in" }).click();
}

const newPage = async (browser: Browser, address: string) => (await browser.newContext({ baseURL: address })).newPage();

test("where there is a user one signs in, goes on where one was going, and is signed out everywhere at once", async ({
  browser,
}) => {
  const { address, token, folder, said, halo, end } = await serverWithUser();
  try {
    const page = await newPage(browser, address);
    const console = listen(page);
    await page.goto("/cabinet");
    await expect(page).toHaveURL(/\/sign-in\?to=%2Fcabinet$/);
    expect(console).toEqual([]);
    expect(await serious(page)).toEqual([]);
    await signIn(page, "first car up");
    await expect(page.getByRole("alert").filter({ hasText: "do not belong together" })).toBeVisible();
    await signIn(page, PASSPHRASE);
    await expect(page).toHaveURL(/\/cabinet$/);
    await expect(page.getByRole("button", { name: "Ada", exact: true })).toBeVisible();
    // The cookie is not a script's, and goes to no other site.
    const [cookie] = await page.context().cookies();
    expect(cookie).toMatchObject({ name: "pale-halo-session", httpOnly: true, sameSite: "Strict", path: "/" });
    expect(await page.evaluate(() => document.cookie)).toBe("");
    // The way on leads nowhere else.
    const other = await newPage(browser, address);
    await other.goto("/sign-in?to=https%3A%2F%2Fevil.example%2Fbench");
    await signIn(other, PASSPHRASE);
    await expect(other).toHaveURL(new RegExp(`^${address}/`));
    await expect(other.getByRole("button", { name: "Ada", exact: true })).toBeVisible();

    // A session that somebody chose beforehand is none.
    const fixed = await newPage(browser, address);
    await fixed.context().addCookies([{ ...cookie!, value: "chosen-by-somebody-else", url: undefined }]);
    await fixed.goto("/renders");
    await expect(fixed).toHaveURL(/\/sign-in/);
    await signIn(fixed, PASSPHRASE);
    await expect(fixed).toHaveURL(/\/renders$/);
    expect((await fixed.context().cookies())[0]!.value).not.toBe("chosen-by-somebody-else");

    // Signed out everywhere: the others too, and a copy of an old cookie.
    await page.getByRole("button", { name: "Ada", exact: true }).click();
    await page.getByRole("menuitem", { name: "Sign out everywhere" }).click();
    await expect(page).toHaveURL(/\/sign-in/);
    await other.goto("/footage");
    await expect(other).toHaveURL(/\/sign-in/);
    const stolen = await fetch(`${address}/api/shots`, { headers: { cookie: `${cookie!.name}=${cookie!.value}` } });
    expect(stolen.status).toBe(401);

    // A program has a token; nothing of it, nor of the passphrase, is in what the server says or keeps.
    const asked = (authorization: string) => fetch(`${address}/api/shots`, { headers: { authorization } });
    expect((await asked(`Bearer ${token}`)).status).toBe(200);
    expect((await asked(`Bearer ${token}x`)).status).toBe(401);
    expect(said()).not.toContain(token);
    expect(said()).not.toContain(PASSPHRASE);
    await end();
    expect(halo(["token", "list"])).toMatch(/^[0-9a-f]{8} of Ada, nightly, since \d{4}-\d\d-\d\d$/);
    expect(halo(["user", "remove", "Ada"])).toContain("may not come in any more");
    expect(halo(["user", "list"])).toBe("nobody has to say who they are");
    expect(halo(["token", "list"])).toBe("");
  } finally {
    await end();
    rmSync(folder, { recursive: true, force: true });
  }
});

test("a server that others could reach does not start without a user, unless that is meant", () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-open-"));
  const file = join(folder, "said");
  const run = () =>
    execFileSync("sh", ["-c", `timeout 60 node dist/server.mjs > ${file} 2>&1 || true`], {
      env: {
        ...process.env,
        ...{ HOST: "0.0.0.0", PORT: "1", HALO_DATA: join(folder, "data"), HALO_ROOT: process.cwd(), HALO_DEMO: "no" },
        NODE_ENV: "production",
      },
    });
  try {
    run();
    expect(readFileSync(file, "utf8")).toMatch(/Pale Halo: HOST: at 0\.0\.0\.0 others can reach it/);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
