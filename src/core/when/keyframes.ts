import { z } from "zod";
import { monotoneCubic } from "../maths/interpolate";
import { type Generator, numberSchema, frameSchema, type TimedValue } from "./generator";

const MOST_KEYFRAMES = 1000;

/** How a keyframe goes on to the next one. */
export const EASES = {
  smooth: "Smooth, through its neighbours",
  ease: "Eased in and out",
  linear: "Straight",
  hold: "Held until the next",
} as const;
export type Ease = keyof typeof EASES;
const EASE_NAMES = Object.keys(EASES) as [Ease, ...Ease[]];

const value = z.union([numberSchema, z.tuple([numberSchema, numberSchema, numberSchema])]);

const schema = z
  .array(
    z
      .object({
        frame: frameSchema,
        value,
        ease: z.enum(EASE_NAMES).default("smooth").describe("how it goes on to the next key"),
      })
      .strict(),
  )
  .min(1)
  .max(MOST_KEYFRAMES)
  .refine((keys) => keys.every((key, i) => i === 0 || key.frame > keys[i - 1]!.frame), "frames must ascend")
  .refine(
    (keys) => keys.every((key) => Array.isArray(key.value) === Array.isArray(keys[0]!.value)),
    "values must all be numbers, or all be triples",
  );
export type Keyframes = z.infer<typeof schema>;
export type Keyframe = Keyframes[number];

const eased = (t: number) => t * t * (3 - 2 * t);

/** One number of the keyframes at a frame; held before the first and after the last. */
function numberAt(keys: Keyframes, of: (value: Keyframe["value"]) => number, at: number): number {
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
  return values[i]! + (values[i + 1]! - values[i]!) * (here.ease === "ease" ? eased(t) : t);
}

export const keyframes: Generator<Keyframes> = {
  label: "Keyframes",
  summary: "Values set at frames, and how it goes from one to the next.",
  schema,
  parameters: {},
  begin: (value, frame) => [keyframe(value, frame)],
  value: (keys, _, { frame }) =>
    Array.isArray(keys[0]!.value)
      ? [0, 1, 2].map((c) => numberAt(keys, (entry) => (entry as number[])[c]!, frame))
      : numberAt(keys, (entry) => entry as number, frame),
  kind: (keys) => (Array.isArray(keys[0]!.value) ? "triple" : "number"),
  numbers: (keys) => keys.flatMap((key) => key.value),
};

function keyframe(value: TimedValue, frame: number, ease: Ease = "smooth"): Keyframe {
  return { frame, value: typeof value === "number" ? value : [...value], ease };
}

/** Keyframes with a value set at a frame: the one that is there changes, a new one goes on as the one before it does. */
export function withKeyframe(keys: Keyframes, frame: number, value: TimedValue): Keyframes {
  const before = keys.findLast((key) => key.frame <= frame);
  const others = keys.filter((key) => key.frame !== frame);
  return [...others, keyframe(value, frame, before?.ease)].sort((a, b) => a.frame - b.frame);
}
