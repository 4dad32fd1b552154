import type { ReadingKind } from "@/core/measure/readings";

/** What a file's name says of what was shot; what it does not say is left out. */
export interface Guess {
  kind?: ReadingKind;
  /** T-stop. */
  stop?: number;
  /** mm */
  focalLength?: number;
  /** The second frame of two: the camera turned, or with the filter. */
  second?: boolean;
  /** Of a filter. */
  grade?: string;
}

const KINDS: readonly (readonly [RegExp, ReadingKind])[] = [
  [/edge|slant|sfr/, "edges"],
  [/flat|field|even/, "flat"],
  [/grid|dots?\b/, "grid"],
  [/lamp|point|bokeh/, "point"],
  [/glass|white/, "transmission"],
  [/with/, "pair"],
];

/** Reads names as `edges-T2.8.exr`, `50mm-flat-T4-turned.exr`, `grid.exr`, `lamps.exr`, `without.exr` and `with-1-4.exr`. */
export function guessOf(file: string): Guess {
  const name = file
    .split("/")
    .at(-1)!
    .replace(/\.[a-z0-9]+$/i, "");
  const kind = KINDS.find(([pattern]) => pattern.test(name.toLowerCase()))?.[1];
  const stop = /(?:^|[-_ ])[tf]\/?(\d+(?:[.,]\d+)?)/i.exec(name)?.[1];
  const focalLength = /(?:^|[-_ ])(\d+(?:\.\d+)?) ?mm/i.exec(name)?.[1];
  const grade = /with[-_ ](\d+)(?:[-_](\d+))?$/i.exec(name);
  return {
    ...(kind ? { kind } : {}),
    ...(stop ? { stop: Number(stop.replace(",", ".")) } : {}),
    ...(focalLength ? { focalLength: Number(focalLength) } : {}),
    ...(kind === "flat" && /turn|180/i.test(name) ? { second: true } : {}),
    ...(kind === "pair" && !/without/i.test(name) ? { second: true } : {}),
    ...(kind === "transmission" && /glass/i.test(name) && !/without/i.test(name) ? { second: true } : {}),
    ...(grade ? { grade: grade[2] ? `${grade[1]}/${grade[2]}` : grade[1]! } : {}),
  };
}
