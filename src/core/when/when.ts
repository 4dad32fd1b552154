import { z } from "zod";
import { valueOf } from "./address";
import type { Generator, Kind } from "./generator";
import { keyframes, type Keyframes } from "./keyframes";
import { type Noise, noise } from "./noise";
import { type Ramp, ramp } from "./ramp";
import { type Table, table } from "./table";

/** How values change over time, by the name under which a look holds it. Resolved where a look is resolved at a frame. */
export const GENERATORS = { keys: keyframes, noise, ramp, table };

export type Timed = { keys: Keyframes } | { noise: Noise } | { ramp: Ramp } | { table: Table };

export const timedSchema: z.ZodType<Timed> = z.union([
  z.object({ keys: keyframes.schema }).strict(),
  z.object({ noise: noise.schema }).strict(),
  z.object({ ramp: ramp.schema }).strict(),
  z.object({ table: table.schema }).strict(),
]);

function generatorOf(timed: Timed): { generator: Generator<unknown>; data: unknown } {
  const [[name, data]] = Object.entries(timed) as [[keyof typeof GENERATORS, unknown]];
  return { generator: GENERATORS[name] as Generator<unknown>, data };
}

/** A value at a frame. `base`: what the look says without it; noise is added to it. `frameRate`: frames a second. */
export function timedValue(timed: Timed, base: unknown, frame: number, frameRate: number): unknown {
  const { generator, data } = generatorOf(timed);
  return generator.value(data, base, frame, frameRate);
}

/** The numbers that something is given outright; noise gives none of its own. */
export function numbersIn(timed: Timed): readonly number[] {
  const { generator, data } = generatorOf(timed);
  return generator.numbers(data);
}

export function kindOf(timed: Timed): Kind {
  const { generator, data } = generatorOf(timed);
  return generator.kind(data);
}

/** What names into plain data lead to, as something that may be timed; null where it may not. */
export function kindAt(target: unknown, names: readonly string[]): Kind | null {
  const found = valueOf(target, names);
  if (typeof found === "number") return "number";
  const isTriple = Array.isArray(found) && found.length === 3 && found.every((entry) => typeof entry === "number");
  return isTriple ? "triple" : null;
}
