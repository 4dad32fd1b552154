import type { Encoding } from "./encodings";
import { AP1, conversion, type Primaries } from "./primaries";
import { LINEAR } from "./transfer/transfer";

/** Scene-linear light of primaries that a file's header states and no list holds: an encoding whose name says them. */
const PREFIX = "linear-xy:";
const DIGITS = 5;
/** Areas of triangles of primaries below this hold no colours, on the chart of x and y. */
const MIN_AREA = 1e-4;

const pairs = ({ red, green, blue, white }: Primaries) => [...red, ...green, ...blue, ...white];

/**
 * The name of the encoding of eight numbers, x and y of red, green, blue and white; null where they are no primaries.
 */
export function statedName(chromaticities: readonly number[]): string | null {
  const text = chromaticities.map((value) => Number(value.toFixed(DIGITS))).join(",");
  return primariesIn(PREFIX + text) ? PREFIX + text : null;
}

function primariesIn(name: string): Primaries | null {
  if (!name.startsWith(PREFIX)) return null;
  const numbers = name.slice(PREFIX.length).split(",").map(Number);
  if (numbers.length !== 8 || !numbers.every((value) => Math.abs(value) < 3)) return null;
  const [rx, ry, gx, gy, bx, by, wx, wy] = numbers as [number, number, number, number, number, number, number, number];
  const area = Math.abs((gx - rx) * (by - ry) - (bx - rx) * (gy - ry)) / 2;
  const hasHeights = [ry, gy, by, wy].every((y) => Math.abs(y) > MIN_AREA);
  return area > MIN_AREA && hasHeights ? { red: [rx, ry], green: [gx, gy], blue: [bx, by], white: [wx, wy] } : null;
}

/** The encoding that such a name stands for. */
export function statedEncoding(name: string): Encoding | undefined {
  const primaries = primariesIn(name);
  if (!primaries) return undefined;
  return {
    name,
    label: `Scene-linear, primaries of the file’s header (${pairs(primaries).join(", ")})`,
    family: "linear",
    primaries,
    transfer: LINEAR,
    toWorking: conversion(primaries, AP1),
  };
}
