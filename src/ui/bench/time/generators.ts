import type { TimedValue } from "@/core/when/generator";
import { GENERATORS, type Timed } from "@/core/when/when";

/** What may move a value beside keyframes, as it is offered. */
export type Offered = "noise" | "ramp" | "table" | "track";
export const OFFERED: readonly { name: Offered; label: string }[] = [
  { name: "noise", label: "Noise on top" },
  { name: "ramp", label: "A ramp instead" },
  { name: "table", label: "A table instead" },
  { name: "track", label: "Along with a track" },
];

/** Share of a value that noise begins with. */
const NOISE_SHARE = 0.1;

/** What moves a value once a generator is put on it: noise on top of what is there, everything else in its place. */
export function begun(
  name: Exclude<Offered, "track">,
  timed: Timed | undefined,
  value: TimedValue,
  frame: number,
): Timed {
  const noise = timed && "noise" in timed ? { noise: timed.noise } : {};
  switch (name) {
    case "noise": {
      const size = typeof value === "number" ? Math.abs(value) : 1;
      const own = GENERATORS.noise.begin(value, frame);
      return {
        ...timed,
        noise: { ...own, amplitude: size ? Number((size * NOISE_SHARE).toPrecision(2)) : own.amplitude },
      };
    }
    case "ramp":
      return { ramp: GENERATORS.ramp.begin(value, frame), ...noise };
    case "table":
      return { table: GENERATORS.table.begin(value, frame), ...noise };
  }
}

/** Reads a table of one number a line, or the last number of each line of a CSV; null where there is none. */
export function readTable(text: string): number[] | null {
  const numbers = text
    .split(/\r?\n/)
    .map((line) =>
      line
        .split(/[,;\t]/)
        .at(-1)!
        .trim(),
    )
    .filter((cell) => cell !== "")
    .map(Number);
  const values = numbers.filter((number, i) => Number.isFinite(number) || i > 0);
  return values.length && values.every(Number.isFinite) ? values : null;
}
