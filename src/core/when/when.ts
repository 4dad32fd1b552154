import { z } from "zod";
import { valueOf } from "./address";
import { type Follow, follow } from "./follow";
import type { Generator, Kind, Moment } from "./generator";
import { keyframes, type Keyframes } from "./keyframes";
import { type Noise, noise } from "./noise";
import { type Ramp, ramp } from "./ramp";
import { type TableValues, table } from "./table";

/**
 * How values change over time, by the name under which a look holds it. Resolved where a look is resolved at a frame.
 */
export const GENERATORS = { keys: keyframes, ramp, table, track: follow, noise };
export type GeneratorName = keyof typeof GENERATORS;

/** What gives a value its course; noise may waver about it, or about a value that stands still. */
type Course = { keys: Keyframes } | { ramp: Ramp } | { table: TableValues } | { track: Follow };
export type Timed = (Course & { noise?: Noise }) | { noise: Noise };

const wavering = { noise: noise.schema.optional() };
export const timedSchema: z.ZodType<Timed> = z.union([
  z.object({ keys: keyframes.schema, ...wavering }).strict(),
  z.object({ ramp: ramp.schema, ...wavering }).strict(),
  z.object({ table: table.schema, ...wavering }).strict(),
  z.object({ track: follow.schema, ...wavering }).strict(),
  z.object({ noise: noise.schema }).strict(),
]);

interface Driver {
  generator: Generator<unknown>;
  data: unknown;
}

/** What moves something, one after another: its course, then the noise on top. */
function partsOf(timed: Timed): Driver[] {
  const names = (Object.keys(GENERATORS) as GeneratorName[]).filter(
    (name) => (timed as Record<string, unknown>)[name] !== undefined,
  );
  return names.map((name) => ({
    generator: GENERATORS[name] as Generator<unknown>,
    data: (timed as Record<string, unknown>)[name],
  }));
}

/** The generator that gives the course; noise where nothing else moves it. */
export const courseOf = (timed: Timed): GeneratorName =>
  (Object.keys(GENERATORS) as GeneratorName[]).find((name) => (timed as Record<string, unknown>)[name] !== undefined)!;

/** A value at a moment. `base`: what the look says without what moves it. */
export const timedValue = (timed: Timed, base: unknown, moment: Moment): unknown =>
  partsOf(timed).reduce((value, { generator, data }) => generator.value(data, value, moment), base);

/** The numbers that something is given outright; noise gives none of its own. */
export const numbersIn = (timed: Timed): readonly number[] =>
  partsOf(timed).flatMap(({ generator, data }) => generator.numbers(data));

/** Numbers or triples, by its course. */
export function kindOf(timed: Timed): Kind {
  const { generator, data } = partsOf(timed)[0]!;
  return generator.kind(data);
}

const isPoint = (entry: unknown) =>
  Array.isArray(entry) && entry.length === 2 && entry.every((part) => typeof part === "number");

/** What names into plain data lead to, as something that may be timed; null where it may not. */
export function kindAt(target: unknown, names: readonly string[]): Kind | null {
  const found = valueOf(target, names);
  if (typeof found === "number") return "number";
  const isTriple = Array.isArray(found) && found.length === 3 && found.every((entry) => typeof entry === "number");
  if (isTriple) return "triple";
  return Array.isArray(found) && found.length > 0 && found.every(isPoint) ? "points" : null;
}
