import type { Database } from "../../store/database";
import { findUser } from "../../store/people";
import { Refusal } from "../errors/errors";
import { Attempts, countedFor } from "./attempts";
import { isPassphrase } from "./passphrase";
import { sessionCookie } from "./sessions";

/** Parts of the server are built apart and would each count for themselves. */
const holder = globalThis as { paleHaloAttempts?: Attempts };
const attempts = (holder.paleHaloAttempts ??= new Attempts());

/**
 * Signs a user in: gives the header that begins a session. Throws Refusal where name and passphrase do not belong
 * together, which is not said more closely, and where there were too many tries. `from`: the address it came from.
 */
export async function signIn(
  db: Database,
  name: string,
  passphrase: string,
  { from, isSecure }: { from: string; isSecure: boolean },
): Promise<string> {
  const counted = countedFor(name, from);
  const wait = attempts.waitFor(counted);
  if (wait) throw new Refusal("too-often", `Too many passphrases were wrong; try again in ${wait} s`);
  attempts.count(counted);
  const user = await findUser(db, name);
  if (!(await isPassphrase(passphrase, user?.passphrase)))
    throw new Refusal("stranger", "Name and passphrase do not belong together");
  attempts.forget(counted);
  return sessionCookie(db, name, isSecure);
}
