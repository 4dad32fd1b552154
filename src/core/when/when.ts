import { z } from "zod";
import { LARGEST_FRAME } from "../frame/ranges";
import { monotoneCubic } from "../maths/interpolate";
import { smoothNoise, steppedNoise } from "../maths/noise";

/** How values change over time: keyframes, or what generates them. Plain data; resolved in the compile step. */
const MOST_KEYS = 1000;
/** Nothing here is measured in more than this; a parameter's own range is narrower. */
const LARGEST_VALUE = 1e6;
const number = z.number().min(-LARGEST_VALUE).max(LARGEST_VALUE);
const value = z.union([number, z.tuple([number, number, number])]);
const frame = z.number().int().min(-LARGEST_FRAME).max(LARGEST_FRAME);

export const timedSchema = z.union([
  z
    .object({
      keys: z
        .array(
          z
            .object({
              frame,
              value,
              ease: z
                .enum(["hold", "linear", "smooth", "ease"])
                .default("smooth")
                .describe("how it goes on to the next key"),
            })
            .strict(),
        )
        .min(1)
        .max(MOST_KEYS)
        .refine((keys) => keys.every((key, i) => i === 0 || key.frame > keys[i - 1]!.frame), "frames must ascend")
        .refine(
          (keys) => keys.every((key) => Array.isArray(key.value) === Array.isArray(keys[0]!.value)),
          "values must all be numbers, or all be triples",
        ),
    })
    .strict(),
  z
    .object({
      noise: z
        .object({
          amplitude: z.number().min(0).max(1e4),
          rate: z.number().positive().max(1000).describe("Hz"),
          seed: z.number().int().min(0).max(9999).default(1),
          stepped: z.boolean().default(false),
        })
        .strict(),
    })
    .strict(),
  z
    .object({
      ramp: z
        .object({ from: number, to: number, first: frame, last: frame })
        .strict()
        .refine(({ first, last }) => last > first, { path: ["last"], message: "must come after first" }),
    })
    .strict(),
  z.object({ table: z.object({ first: frame, values: z.array(number).min(1).max(100_000) }).strict() }).strict(),
]);
export type Timed = z.infer<typeof timedSchema>;

/** The numbers that something is given outright; noise gives none of its own. */
export function numbersIn(timed: Timed): number[] {
  if ("keys" in timed) return timed.keys.flatMap((key) => key.value);
  if ("ramp" in timed) return [timed.ramp.from, timed.ramp.to];
  return "table" in timed ? timed.table.values : [];
}
type Keys = Extract<Timed, { keys: unknown }>["keys"];

const ease = (t: number) => t * t * (3 - 2 * t);

/** One number of the keys at a frame; held before the first and after the last. */
function keyed(keys: Keys, of: (value: Keys[number]["value"]) => number, at: number): number {
  const values = keys.map((key) => of(key.value));
  if (at <= keys[0]!.frame) return values[0]!;
  const i = keys.findLastIndex((key) => key.frame <= at);
  if (i === keys.length - 1) return values.at(-1)!;
  const [here, next] = [keys[i]!, keys[i + 1]!];
  const t = (at - here.frame) / (next.frame - here.frame);
  if (here.ease === "hold") return values[i]!;
  // A smooth key runs through its neighbours without overshooting them.
  if (here.ease === "smooth")
    return monotoneCubic(
      keys.map((key) => key.frame),
      values,
    )(at);
  return values[i]! + (values[i + 1]! - values[i]!) * (here.ease === "ease" ? ease(t) : t);
}

/** A value at a frame. `base`: what the look says without it; noise is added to it. */
export function timedValue(timed: Timed, base: unknown, at: number, frameRate: number): unknown {
  if ("keys" in timed) {
    const [first] = timed.keys;
    if (!Array.isArray(first!.value)) return keyed(timed.keys, (entry) => entry as number, at);
    return [0, 1, 2].map((c) => keyed(timed.keys, (entry) => (entry as number[])[c]!, at));
  }
  if ("noise" in timed) {
    const { amplitude, rate, seed, stepped } = timed.noise;
    const noise = amplitude * (stepped ? steppedNoise : smoothNoise)(seed, (at / frameRate) * rate);
    return typeof base === "number" ? base + noise : noise;
  }
  if ("ramp" in timed) {
    const { from, to, first, last } = timed.ramp;
    return from + (to - from) * Math.min(1, Math.max(0, (at - first) / (last - first)));
  }
  const { first, values } = timed.table;
  return values[Math.min(values.length - 1, Math.max(0, at - first))]!;
}

/** What paths into an element's, or the whole path's, area begin with. */
export const WHERE_PATH = "where.";

/** What is timed once an area (by its number) is taken away: its own paths go, those of the areas after it move up. */
export function withoutArea(when: Record<string, Timed> | undefined, area: number): Record<string, Timed> | undefined {
  if (!when) return undefined;
  return Object.fromEntries(
    Object.entries(when).flatMap(([name, timed]) => {
      const match = /^where\.areas\.(\d+)\.(.*)$/.exec(name);
      const number = Number(match?.[1]);
      if (!match || number < area) return [[name, timed] as const];
      return number === area ? [] : [[`where.areas.${number - 1}.${match[2]}`, timed] as const];
    }),
  );
}

/** What is timed once something acts everywhere. */
export const withoutWhere = (when: Record<string, Timed> | undefined): Record<string, Timed> | undefined =>
  when && Object.fromEntries(Object.entries(when).filter(([name]) => !name.startsWith(WHERE_PATH)));

/** What may be timed: a number, or three (a colour, or one a channel). */
export type Kind = "number" | "triple";

export const kindOf = (timed: Timed): Kind =>
  "keys" in timed && Array.isArray(timed.keys[0]!.value) ? "triple" : "number";

/** What a path into `where` leads to, or null where it leads to neither a number nor three. */
export function kindAt(target: { where?: unknown }, path: string): Kind | null {
  if (!path.startsWith(WHERE_PATH)) return null;
  const found = path
    .split(".")
    .reduce<unknown>(
      (at, name) =>
        typeof at === "object" && at !== null && Object.hasOwn(at, name)
          ? (at as Record<string, unknown>)[name]
          : undefined,
      target,
    );
  if (typeof found === "number") return "number";
  return Array.isArray(found) && found.length === 3 && found.every((entry) => typeof entry === "number")
    ? "triple"
    : null;
}

/** Sets what a path of names and numbers leads to; other parts are shared. Throws RangeError where it leads nowhere. */
function withValue(target: unknown, path: string[], set: (before: unknown) => unknown): unknown {
  if (!path.length) return set(target);
  const [name, ...rest] = path;
  if (typeof target !== "object" || target === null || (rest.length > 0 && !(name! in target)))
    throw new RangeError(`when: “${name}” leads nowhere`);
  const changed = withValue((target as Record<string, unknown>)[name!], rest, set);
  if (Array.isArray(target)) return target.map((entry, i) => (String(i) === name ? changed : entry));
  return { ...target, [name!]: changed };
}

/** An area of the whole path at a frame; what is timed in it is named as in an element. */
export const whereAt = <W>(where: W, when: Record<string, Timed>, frame: number, frameRate: number): W =>
  atFrame({ params: {}, where, when }, frame, frameRate).where;

/**
 * An element with everything that is timed set to its value at a frame. Names are parameters, or `strength`, `mix`, or a path
 * into `where` such as `where.areas.0.x`. `defaults`: what parameters are where the look leaves them out.
 */
export function atFrame<E extends { params: Record<string, unknown>; when?: Record<string, Timed> }>(
  element: E,
  frame: number,
  frameRate: number,
  defaults: Record<string, unknown> = {},
): E {
  let out: unknown = element;
  for (const [name, timed] of Object.entries(element.when ?? {})) {
    const path =
      name === "strength" || name === "mix" || name.startsWith(WHERE_PATH) ? name.split(".") : ["params", name];
    out = withValue(out, path, (before) => timedValue(timed, before ?? defaults[name], frame, frameRate));
  }
  return out as E;
}
