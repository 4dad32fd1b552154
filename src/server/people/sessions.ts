import { createHash, randomBytes } from "node:crypto";
import { sealData, unsealData } from "iron-session";
import type { Database } from "../../store/database";
import { findUser, keptSetting, tokenWith } from "../../store/people";

/** A session is a sealed cookie: who signed in, and when. */
export const COOKIE = "pale-halo-session";
/** After so long one signs in again, s. */
export const SESSION_SECONDS = 7 * 24 * 3600;
const SECRET_BYTES = 48;

interface Sealed {
  name: string;
  /** ms since 1970 */
  begun: number;
}

const secrets = new WeakMap<Database, Promise<string>>();

/** The secret lies in the database: every server of a farm reads the sessions of all. */
function secretOf(db: Database): Promise<string> {
  let found = secrets.get(db);
  if (!found) {
    found = keptSetting(db, "session secret", randomBytes(SECRET_BYTES).toString("base64url"));
    found.catch(() => secrets.delete(db));
    secrets.set(db, found);
  }
  return found;
}

/** The header that begins a session in a browser. `isSecure`: it came over HTTPS. */
export async function sessionCookie(db: Database, name: string, isSecure: boolean): Promise<string> {
  const sealed: Sealed = { name, begun: Date.now() };
  const value = await sealData(sealed, { password: await secretOf(db), ttl: SESSION_SECONDS });
  return cookieText(value, SESSION_SECONDS, isSecure);
}

/** The header that ends it. */
export const noCookie = (isSecure: boolean) => cookieText("", 0, isSecure);

const cookieText = (value: string, seconds: number, isSecure: boolean) =>
  `${COOKIE}=${value}; Path=/; Max-Age=${seconds}; HttpOnly; SameSite=Strict${isSecure ? "; Secure" : ""}`;

function cookieIn(header: string | undefined): string | null {
  const own = (header ?? "")
    .split(/;\s*/)
    .filter((one) => one.startsWith(`${COOKIE}=`))
    .map((one) => one.slice(COOKIE.length + 1));
  // Two of one name: one of them was put there by somebody else.
  return own.length === 1 && own[0] ? own[0] : null;
}

/** Whose session a request carries; null where it carries none that holds. `cookies`: its Cookie header. */
export async function sessionUser(db: Database, cookies: string | undefined): Promise<string | null> {
  const value = cookieIn(cookies);
  if (!value) return null;
  // What was not sealed with the secret, or is too old, is empty.
  const { name, begun } = await unsealData<Partial<Sealed>>(value, {
    password: await secretOf(db),
    ttl: SESSION_SECONDS,
  }).catch(() => ({}) as Partial<Sealed>);
  if (typeof name !== "string" || typeof begun !== "number") return null;
  const user = await findUser(db, name);
  return user && begun >= user.sessionsFrom.getTime() ? name : null;
}

export const tokenDigest = (token: string) => createHash("sha256").update(token).digest("hex");

/** Whose token a request carries as a bearer; null where it carries none that there is. */
export async function tokenUser(db: Database, authorization: string | undefined): Promise<string | null> {
  const [, bearer] = /^Bearer +(\S+)$/i.exec(authorization ?? "") ?? [];
  return bearer ? ((await tokenWith(db, tokenDigest(bearer)))?.userName ?? null) : null;
}
