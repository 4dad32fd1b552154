import { randomBytes, scrypt, timingSafeEqual } from "node:crypto";
import { Gate } from "../waiting/gate";
import { steadyNow } from "../waiting/clock";

/**
 * Passphrases are kept as scrypt (RFC 7914) makes them, with a salt of their own each: 32 MiB and tenths of a second of
 * a core for every guess.
 */
const COST = { N: 2 ** 15, r: 8, p: 1 };
const MEMORY = 64 * 2 ** 20;
const KEY_BYTES = 32;
const SALT_BYTES = 16;

/** As many at once, so that guessing keeps nobody else from their work. */
const AT_ONCE = 2;
const WAITS_AT_MOST_MS = 20_000;
const gate = new Gate(AT_ONCE);

const derived = (passphrase: string, salt: Buffer, { N, r, p }: typeof COST): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    // What looks alike is alike, however it was typed.
    scrypt(passphrase.normalize("NFKC"), salt, KEY_BYTES, { N, r, p, maxmem: MEMORY }, (error, key) =>
      error ? reject(error) : resolve(key),
    ),
  );

/** A passphrase as it is kept. */
export async function keptPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const key = await derived(passphrase, salt, COST);
  return ["scrypt", COST.N, COST.r, COST.p, salt.toString("base64"), key.toString("base64")].join("$");
}

/** Whether a passphrase is the one that was kept. Takes as long where there is none. Throws Busy. */
export async function isPassphrase(passphrase: string, kept: string | undefined): Promise<boolean> {
  const leave = await gate.enter(1, { until: steadyNow() + WAITS_AT_MOST_MS });
  try {
    const [, N, r, p, salt = "", key = ""] = kept?.split("$") ?? [];
    const cost = kept ? { N: Number(N), r: Number(r), p: Number(p) } : COST;
    const found = await derived(passphrase, Buffer.from(salt, "base64"), cost);
    const wanted = Buffer.from(key, "base64");
    return wanted.length === found.length && timingSafeEqual(wanted, found);
  } finally {
    leave();
  }
}
