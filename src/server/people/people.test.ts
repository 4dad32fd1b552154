import { afterEach, expect, test, vi } from "vitest";
import { endSessions, findUser } from "../../store/people";
import { openTestStore } from "../../testing/store";
import { isLoopback, isOpen, userOf, wantsUsers } from "./admission";
import { Attempts, countedFor } from "./attempts";
import { isPassphrase, keptPassphrase } from "./passphrase";
import { COOKIE, SESSION_SECONDS, sessionCookie, sessionUser } from "./sessions";
import { signIn } from "./sign-in";
import { addUserNamed, changePassphraseOf, makeToken, removeTokenNamed, removeUserNamed, tokensListed } from "./users";

const PASSPHRASE = "funicular in winter";
const valueOf = (header: string) => header.split(";")[0]!;
afterEach(() => void vi.useRealTimers());

async function openWithAda() {
  const store = await openTestStore();
  await addUserNamed(store.db, "Ada", PASSPHRASE);
  return store;
}

test("a passphrase is kept with a salt of its own, and is right only as it was given", async () => {
  const [one, other] = [await keptPassphrase(PASSPHRASE), await keptPassphrase(PASSPHRASE)];
  expect(one).not.toBe(other);
  expect(one).not.toContain("funicular");
  expect(await isPassphrase(PASSPHRASE, one)).toBe(true);
  expect(await isPassphrase(`${PASSPHRASE} `, one)).toBe(false);
  expect(await isPassphrase("", one)).toBe(false);
  expect(await isPassphrase("", undefined)).toBe(false);
  // The same letters, composed or not.
  expect(await isPassphrase("Geba\u0308ude zehn", await keptPassphrase("Gebäude zehn"))).toBe(true);
});

test("after a few wrong ones each takes longer, by name and by address; a right one starts anew", () => {
  let now = 0;
  const attempts = new Attempts(() => now);
  const at = (name: string, address = "a") => countedFor(name, address);
  for (let i = 0; i < 5; i++) {
    expect(attempts.waitFor(at("Ada"))).toBe(0);
    attempts.count(at("Ada"));
  }
  expect(attempts.waitFor(at("Ada"))).toBe(2);
  expect(attempts.waitFor(at("Ada", "b"))).toBe(0);
  expect(attempts.waitFor(at("Bo"))).toBe(0);
  now += 2000;
  expect(attempts.waitFor(at("Ada"))).toBe(0);
  attempts.count(at("Ada"));
  expect(attempts.waitFor(at("Ada"))).toBe(4);
  for (let i = 0; i < 20; i++) attempts.count(at("Ada"));
  expect(attempts.waitFor(at("Ada"))).toBe(15 * 60);
  attempts.forget(at("Ada"));
  expect(attempts.waitFor(at("Ada"))).toBe(0);
  // One name from many places, and many names from one place.
  for (let i = 0; i < 20; i++) attempts.count(at("Cleo", `place ${i}`));
  expect(attempts.waitFor(at("Cleo", "another"))).toBeGreaterThan(0);
  for (let i = 0; i < 50; i++) attempts.count(at(`name ${i}`, "z"));
  expect(attempts.waitFor(at("Dora", "z"))).toBeGreaterThan(0);
});

test("a session is its user's until it is ended, however its cookie is brought", async () => {
  const { db, client } = await openWithAda();
  const cookie = await sessionCookie(db, "Ada", false);
  expect(cookie).toMatch(/; Path=\/; Max-Age=\d+; HttpOnly; SameSite=Strict$/);
  expect(await sessionCookie(db, "Ada", true)).toMatch(/; Secure$/);
  const own = valueOf(cookie);
  expect(await sessionUser(db, own)).toBe("Ada");
  expect(await sessionUser(db, `theme=dark; ${own}`)).toBe("Ada");
  // Changed, made up, empty, or two of them: one was put there by somebody else.
  const changed = own.slice(0, -12) + (own.at(-12) === "A" ? "B" : "A") + own.slice(-11);
  for (const bad of [undefined, "", `${COOKIE}=`, `${COOKIE}=Ada`, changed, `${own}; ${own}`, own.replace(COOKIE, "x")])
    expect(await sessionUser(db, bad)).toBe(null);
  vi.useFakeTimers({ now: Date.now() + (SESSION_SECONDS + 120) * 1000, toFake: ["Date"] });
  expect(await sessionUser(db, own)).toBe(null);
  vi.useRealTimers();
  await new Promise((resolve) => setTimeout(resolve, 5));
  await endSessions(db, "Ada");
  expect(await sessionUser(db, own)).toBe(null);
  await new Promise((resolve) => setTimeout(resolve, 5));
  const fresh = valueOf(await sessionCookie(db, "Ada", false));
  expect(await sessionUser(db, fresh)).toBe("Ada");
  await new Promise((resolve) => setTimeout(resolve, 5));
  await changePassphraseOf(db, "Ada", "another winter");
  expect(await sessionUser(db, fresh)).toBe(null);
  const last = valueOf(await sessionCookie(db, "Ada", false));
  await removeUserNamed(db, "Ada");
  expect(await sessionUser(db, last)).toBe(null);
  // A database of its own has a secret of its own.
  const other = await openWithAda();
  expect(await sessionUser(other.db, last)).toBe(null);
  await client.close();
  await other.client.close();
});

test("signing in says no more than that something is wrong, and soon not even that", async () => {
  const { db, client } = await openWithAda();
  const at = { from: "198.51.100.7", isSecure: false };
  expect(await sessionUser(db, valueOf(await signIn(db, "Ada", PASSPHRASE, at)))).toBe("Ada");
  const wrong = "Name and passphrase do not belong together";
  await expect(signIn(db, "Ada", "wrong one", at)).rejects.toThrow(wrong);
  await expect(signIn(db, "Nobody", "wrong one", at)).rejects.toThrow(wrong);
  // All at once: each counts before it is looked at.
  const tries = await Promise.allSettled(Array.from({ length: 12 }, () => signIn(db, "Bea", "guess", at)));
  const said = tries.map((one) => (one as PromiseRejectedResult).reason as Error).map(({ message }) => message);
  expect(said.filter((message) => message === wrong)).toHaveLength(5);
  expect(said.filter((message) => /^Too many passphrases were wrong; try again in \d+ s$/.test(message))).toHaveLength(
    7,
  );
  await client.close();
}, 30_000);

test("a token is told once, holds for its user, and ends with it or with them", async () => {
  const { db, client } = await openWithAda();
  const { id, token } = await makeToken(db, "Ada", "nightly");
  const bearing = (text: string) => userOf(db, { authorization: `Bearer ${text}` });
  expect(await bearing(token)).toBe("Ada");
  expect(await bearing(`${token}x`)).toBe(null);
  expect(await userOf(db, { authorization: token })).toBe(null);
  // A token that is wrong is not made good by a session.
  const cookie = valueOf(await sessionCookie(db, "Ada", false));
  expect(await userOf(db, { authorization: "Bearer wrong", cookie })).toBe(null);
  expect(JSON.stringify(await tokensListed(db))).not.toContain(token);
  await removeTokenNamed(db, id);
  expect(await bearing(token)).toBe(null);
  const second = await makeToken(db, "Ada", "");
  await removeUserNamed(db, "Ada");
  expect(await bearing(second.token)).toBe(null);
  await expect(makeToken(db, "Ada", "")).rejects.toThrow("The user Ada is not there");
  await client.close();
});

test("a user has a name that can be written anywhere, and a passphrase that is not guessed at once", async () => {
  const { db, client } = await openTestStore();
  expect(await wantsUsers(db)).toBe(false);
  for (const name of ["", " ", "../etc", "a\nb", "a;b", "-a", "x".repeat(61)])
    await expect(addUserNamed(db, name, PASSPHRASE)).rejects.toThrow(/^The name/);
  await expect(addUserNamed(db, "Ada", "short")).rejects.toThrow("10 to 1000 characters");
  expect(await addUserNamed(db, " Zoë K. ", PASSPHRASE)).toBe("Zoë K.");
  await expect(addUserNamed(db, "Zoë K.", PASSPHRASE)).rejects.toThrow("already");
  expect((await findUser(db, "Zoë K."))!.passphrase).toMatch(/^scrypt\$32768\$8\$1\$/);
  await client.close();
});

test("nothing but the way in is open, and only the loopback is the loopback", () => {
  const open = ["/sign-in", "/api/session", "/_next/static/chunks/a.js", "/icon.svg", "/favicon.ico"];
  const closed = [
    "/",
    "/_next/static/../../api/shots",
    "/_next/static/%2e%2e/%2e%2e/api/shots",
    "/sign-in/x",
    "/api/session/x",
    "/api/shots",
    "/_next/image",
    "/_next/data/x",
    "/bench/TL-010",
  ];
  expect(open.filter((path) => !isOpen(path))).toEqual([]);
  expect(closed.filter(isOpen)).toEqual([]);
  expect(["127.0.0.1", "127.9.9.9", "::1", "localhost"].every(isLoopback)).toBe(true);
  expect(["0.0.0.0", "::", "192.0.2.7", "localhost.example", "127.0.0.1.example"].some(isLoopback)).toBe(false);
});
