/** Who is let in: where any user exists, a session or a token is wanted for everything but to sign in. */
import type { Database } from "../../store/database";
import { hasUsers } from "../../store/people";
import { steadyNow } from "../waiting/clock";
import { sessionUser, tokenUser } from "./sessions";

/** The header by which the server's own front tells what lies behind it who asks. What came with a request is dropped. */
export const ASKED_BY = "x-halo-asked-by";

/** By the same means: the address a request came from. */
export const ASKED_FROM = "x-halo-asked-from";

/** Whether there are users is asked at most so often, ms. */
const ASKS_EVERY_MS = 1000;

const asked = new WeakMap<Database, { at: number; answer: Promise<boolean> }>();

/** Whether anybody has to sign in. */
export function wantsUsers(db: Database): Promise<boolean> {
  const before = asked.get(db);
  if (before && steadyNow() - before.at < ASKS_EVERY_MS) return before.answer;
  const answer = hasUsers(db);
  answer.catch(() => asked.delete(db));
  asked.set(db, { at: steadyNow(), answer });
  return answer;
}

/** What is answered to anybody: the way in, and what every page is made of, which holds nothing of anyone's. */
const OPEN = [/^\/sign-in$/, /^\/api\/session$/, /^\/_next\/static\/[^%]+$/, /^\/(icon\.svg|favicon\.ico)$/];
/** `path`: without steps upwards, which are refused before. */
export const isOpen = (path: string) => !path.includes("..") && OPEN.some((pattern) => pattern.test(path));

/** By whom a request is made, by its session or its token; null where by nobody who is known. */
export const userOf = async (
  db: Database,
  headers: { cookie?: string; authorization?: string },
): Promise<string | null> =>
  headers.authorization === undefined ? sessionUser(db, headers.cookie) : tokenUser(db, headers.authorization);

/** Who asked for something, as the front told it; null where nobody has to say. */
export function askedBy(request: Request): string | null {
  const told = request.headers.get(ASKED_BY);
  return told === null ? null : decodeURIComponent(told);
}

export const askedFrom = (request: Request): string => request.headers.get(ASKED_FROM) ?? "";

/** Whether a browser speaks HTTPS with whatever stands before the server. */
export const cameSecurely = (request: Request): boolean => /^https:/i.test(request.headers.get("origin") ?? "");

const LOOPBACK = /^(127\.\d+\.\d+\.\d+|::1|localhost)$/i;
export const isLoopback = (host: string) => LOOPBACK.test(host);
