/** Why a service does not do what it is asked, in its own terms; `http` makes replies of them. */

export type RefusalKind =
  /** What was sent is not as it should be. */
  | "invalid"
  /** It comes from where nothing is taken from, or leads to where nothing is read. */
  | "foreign"
  | "missing"
  /** Who asks is not who they say. */
  | "stranger"
  | "too-often"
  /** It does not go with what is there by now. */
  | "conflict"
  | "too-large"
  /** A file that cannot be read. */
  | "unreadable"
  /** It is being made, and will be there. */
  | "not-yet"
  /** There is no room on the disk. */
  | "full";

/** A refusal; the message is for the person at the screen, `more` for the program that asked. */
export class Refusal extends Error {
  constructor(
    readonly kind: RefusalKind,
    message: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string) => new Refusal("missing", `${what} is not there`);

/** Too much is asked for at once. */
export class Busy extends Error {}
