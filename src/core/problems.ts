/** What is wrong with a value by its schema: where, what it is, and what would be right. */
import type { z } from "zod";

type Issue = z.core.$ZodIssue;
type Path = readonly PropertyKey[];

export interface Problem {
  path: Path;
  message: string;
}

const MAX_SHOWN = 40;

/** A value as it is told. */
function shown(value: unknown): string {
  if (typeof value === "string") return `“${value.length > MAX_SHOWN ? `${value.slice(0, MAX_SHOWN)}…` : value}”`;
  if (Array.isArray(value)) return `a list of ${value.length}`;
  if (value && typeof value === "object") return "an object";
  return String(value);
}

const KINDS: Record<string, string> = {
  string: "a text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
  array: "a list",
  object: "an object",
  record: "an object",
  tuple: "a list",
  null: "null",
};

const at = (value: unknown, path: Path): unknown =>
  path.reduce<unknown>((inside, key) => (inside as Record<PropertyKey, unknown> | undefined)?.[key], value);

/** Edits that make one word of another (Levenshtein). */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(next[j - 1]! + 1, row[j]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}

/** Words are meant for one another if so few of their letters differ. */
const NEAR = 2;

/** The word that was probably meant, as a question; nothing where none is near. */
function meant(value: unknown, words: readonly unknown[]): string {
  if (typeof value !== "string") return "";
  const near = words
    .filter((word): word is string => typeof word === "string")
    .map((word) => ({ word, edits: distance(word.toLowerCase(), value.toLowerCase()) }))
    .sort((a, b) => a.edits - b.edits)[0];
  return near && near.edits <= NEAR ? `; did you mean “${near.word}”?` : "";
}

/** More words than these are told only where none of them is near what was written. */
const MAX_LISTED = 12;
const listed = (words: readonly unknown[]) => words.map(shown).join(", ");

function choice(value: unknown, words: readonly unknown[]): string {
  const near = meant(value, words);
  if (near && words.length > MAX_LISTED) return `there is no ${shown(value)}${near}`;
  const must = words.length === 1 ? `must be ${shown(words[0])}` : `must be one of ${listed(words)}`;
  return value === undefined ? `is missing; it ${must}` : `${must}; it is ${shown(value)}${near}`;
}

/** The alternatives' own problems that are nearest to what was written: those that lie deepest, and are fewest. */
function nearest(alternatives: readonly (readonly Issue[])[]): readonly Issue[] {
  const deepest = (issues: readonly Issue[]) => Math.max(...issues.map(({ path }) => path.length));
  const ranked = alternatives
    .filter((issues) => issues.length)
    .toSorted((a, b) => deepest(b) - deepest(a) || a.length - b.length);
  return ranked[0] ?? [];
}

const bound = (value: unknown, limit: unknown, origin: string, side: "most" | "least"): string => {
  if (origin === "array") return `must have at ${side} ${String(limit)} entries; it has ${(value as unknown[]).length}`;
  if (origin === "string") return `must have at ${side} ${String(limit)} characters; it has ${String(value).length}`;
  return `must be at ${side} ${String(limit)}; it is ${shown(value)}`;
};

/** How the library's own words begin; any other are a schema's, and say it better. */
const ITS_OWN = /^(Invalid|Too (small|big)|Unrecognized)/;

function wordsOf(issue: Issue, value: unknown): string {
  if (!ITS_OWN.test(issue.message)) return issue.message;
  switch (issue.code) {
    case "invalid_type": {
      const must = `must be ${KINDS[issue.expected] ?? issue.expected}`;
      return value === undefined ? `is missing; it ${must}` : `${must}; it is ${shown(value)}`;
    }
    case "invalid_value":
      return choice(value, issue.values);
    case "too_big":
      return bound(value, issue.maximum, issue.origin, "most");
    case "too_small":
      return bound(value, issue.minimum, issue.origin, "least");
    case "unrecognized_keys":
      return `has no ${issue.keys.map((key) => `“${key}”`).join(", ")}`;
    default:
      return issue.message;
  }
}

function problemsIn(issue: Issue, value: unknown, path: Path): Problem[] {
  const whole = [...path, ...issue.path];
  if (issue.code !== "invalid_union") return [{ path: whole, message: wordsOf(issue, at(value, whole)) }];
  const { discriminator } = issue as { discriminator?: string };
  const options = (issue as { options?: unknown[] }).options;
  if (discriminator && options) return [{ path: whole, message: choice(at(value, whole), options) }];
  // Where every alternative is of another kind altogether, all of them are told.
  const flat = issue.errors.flat();
  if (flat.length && flat.every(({ code, path: own }) => own.length === 0 && code === "invalid_value"))
    return [
      {
        path: whole,
        message: choice(
          at(value, whole),
          flat.flatMap((one) => (one as { values: unknown[] }).values),
        ),
      },
    ];
  const inner = nearest(issue.errors);
  if (!inner.length) return [{ path: whole, message: issue.message }];
  return inner.flatMap((one) => problemsIn(one, value, whole));
}

/** Everything that is wrong with a value; empty where it fits its schema. */
export function problemsOf(schema: z.ZodType, value: unknown): Problem[] {
  const result = schema.safeParse(value);
  return result.success ? [] : result.error.issues.flatMap((issue) => problemsIn(issue as Issue, value, []));
}

/** A problem in a line: `elements.1.params.grade: what is wrong`. */
export const problemText = ({ path, message }: Problem): string =>
  path.length ? `${path.map(String).join(".")}: ${message}` : message;

/** The same as lines. */
export const problems = (schema: z.ZodType, value: unknown): string[] => problemsOf(schema, value).map(problemText);
