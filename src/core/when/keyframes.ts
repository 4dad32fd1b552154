import { z } from "zod";
import { monotoneCubic } from "../maths/interpolate";
import { FEWEST_POINTS } from "../maths/curve";
import { type Generator, type Kind, numberSchema, frameSchema, type TimedValue } from "./generator";

const MAX_KEYFRAMES = 1000;
/** As many as a polygon has; a curve has fewer. */
const MAX_POINTS = 64;

/** How a keyframe goes on to the next one. */
export const EASES = {
  smooth: "Smooth, through its neighbours",
  ease: "Eased in and out",
  linear: "Straight",
  hold: "Held until the next",
} as const;
export type Ease = keyof typeof EASES;
const EASE_NAMES = Object.keys(EASES) as [Ease, ...Ease[]];

const point = z.tuple([numberSchema, numberSchema]);
const value = z.union([
  numberSchema,
  z.tuple([numberSchema, numberSchema, numberSchema]),
  z.array(point).min(FEWEST_POINTS).max(MAX_POINTS),
]);
type Value = z.infer<typeof value>;

const kindOf = (of: Value): Kind =>
  typeof of === "number" ? "number" : typeof of[0] === "number" ? "triple" : "points";

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
  .max(MAX_KEYFRAMES)
  .refine((keys) => keys.every((key, i) => i === 0 || key.frame > keys[i - 1]!.frame), "frames must ascend")
  .refine(
    (keys) => keys.every((key) => kindOf(key.value) === kindOf(keys[0]!.value)),
    "values must all be numbers, all be triples, or all be points",
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
  value: (keys, _, { frame }) => {
    switch (kindOf(keys[0]!.value)) {
      case "number":
        return numberAt(keys, (entry) => entry as number, frame);
      case "triple":
        return [0, 1, 2].map((c) => numberAt(keys, (entry) => (entry as number[])[c]!, frame));
      case "points":
        return pointsAt(keys, frame);
    }
  },
  kind: (keys) => kindOf(keys[0]!.value),
  // Points are held to their curve's axes by themselves.
  numbers: (keys) => keys.flatMap((key) => (kindOf(key.value) === "points" ? [] : (key.value as number[]))),
};

/** Points go along together; where a keyframe has another number of them, those before it hold until it. */
function pointsAt(keys: Keyframes, frame: number): [number, number][] {
  const here = keys.findLast((key) => key.frame <= frame) ?? keys[0]!;
  const points = here.value as [number, number][];
  const alike = keys.filter(({ value }) => (value as []).length === points.length);
  const next = keys.find((key) => key.frame > frame);
  if (next && (next.value as []).length !== points.length) return points;
  return points.map((_, i) => {
    const along = (axis: 0 | 1) => numberAt(alike, (entry) => (entry as [number, number][])[i]![axis], frame);
    return [along(0), along(1)];
  });
}

function keyframe(value: TimedValue, frame: number, ease: Ease = "smooth"): Keyframe {
  return { frame, value: (typeof value === "number" ? value : [...value]) as Value, ease };
}

/**
 * Keyframes with a value set at a frame: the one that is there changes, a new one goes on as the one before it does.
 */
export function withKeyframe(keys: Keyframes, frame: number, value: TimedValue): Keyframes {
  const before = keys.findLast((key) => key.frame <= frame);
  const others = keys.filter((key) => key.frame !== frame);
  return [...others, keyframe(value, frame, before?.ease)].sort((a, b) => a.frame - b.frame);
}
