import { z } from "zod";

/** Letters, digits and a few signs: a name stands in headers and file names. */
export const userName = z
  .string()
  .trim()
  .min(1)
  .max(60)
  .regex(
    /^[\p{L}\p{N}][\p{L}\p{N} ._@-]*$/u,
    "holds letters, digits, spaces and . _ @ - alone, and begins with one of the first two",
  );

/** Shorter passphrases can be guessed. */
export const MIN_PASSPHRASE = 10;
export const MAX_PASSPHRASE = 1000;

/** POST /api/session: what is wrong with it is not said more closely than that it is. */
export const signInBody = z.object({ name: z.string().max(200), passphrase: z.string().max(MAX_PASSPHRASE) }).strict();

/** DELETE /api/session */
export const signOutBody = z
  .object({ everywhere: z.boolean().default(false).describe("on every machine and in every browser") })
  .strict();

/** GET /api/session: who is signed in; null where nobody has to be. */
export interface Session {
  name: string | null;
}
