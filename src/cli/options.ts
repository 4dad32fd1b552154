import { InvalidArgumentError, Option } from "commander";
import { MAX_FRAME, type Ranges, rangesOf } from "../core/frame/ranges";

/** Unusable input or options: exit code 2, one line. */
export class UsageError extends Error {}

export function sizeOption(value: string): { width: number; height: number } {
  const found = /^(\d+)x(\d+)$/.exec(value);
  if (!found) throw new InvalidArgumentError("write a size as WIDTHxHEIGHT in pixels, for example 1920x1080.");
  return { width: Number(found[1]), height: Number(found[2]) };
}

/** Sizes a sensor can have, mm. */
const [MIN_SENSOR, MAX_SENSOR] = [1, 200];

export function sensorOption(value: string): { width: number; height: number } {
  const found = /^(\d+(?:\.\d+)?)x(\d+(?:\.\d+)?)$/.exec(value);
  const [width, height] = [Number(found?.[1]), Number(found?.[2])];
  if (![width, height].every((side) => side >= MIN_SENSOR && side <= MAX_SENSOR))
    throw new InvalidArgumentError("write a sensor as WIDTHxHEIGHT in mm, for example 24.9x14.");
  return { width, height };
}

export function regionOption(value: string): { left: number; top: number; width: number; height: number } {
  const found = /^(\d+),(\d+),(\d+)x(\d+)$/.exec(value);
  if (!found)
    throw new InvalidArgumentError("write a region as LEFT,TOP,WIDTHxHEIGHT in pixels, for example 600,300,80x80.");
  const [left, top, width, height] = found.slice(1).map(Number) as [number, number, number, number];
  return { left, top, width, height };
}

/** How much beyond the frame: a share of its width; all of it is Infinity, none is 0. */
export function overscanOption(value: string): number {
  if (value === "keep") return Infinity;
  if (value === "crop") return 0;
  const found = /^(\d+(?:\.\d+)?)%$/.exec(value);
  if (!found || Number(found[1]) > 100)
    throw new InvalidArgumentError("write keep, crop, or a share of the frame’s width as 5%.");
  return Number(found[1]) / 100;
}

export const numberOption =
  (low: number, high: number, whole = false) =>
  (value: string) => {
    const number = Number(value);
    if (!(number >= low && number <= high) || (whole && !Number.isInteger(number)))
      throw new InvalidArgumentError(`write a ${whole ? "whole " : ""}number from ${low} to ${high}.`);
    return number;
  };

/** Frames a list may name: a day and more at 24 a second. */
export const MAX_FRAMES = 3_000_000;

/** The frames a list names, each once and in order: numbers, runs, and runs by steps, `1-10,20,30-60x5`. */
export function frameListOption(value: string): Ranges {
  const numbers: number[] = [];
  for (const part of value.split(",")) {
    const found = /^(\d+)(?:-(\d+)(?:x(\d+))?)?$/.exec(part.trim());
    const [first, last, step] = [Number(found?.[1]), Number(found?.[2] ?? found?.[1]), Number(found?.[3] ?? 1)];
    if (!found || last < first || step < 1 || last > MAX_FRAME)
      throw new InvalidArgumentError(
        `“${part.trim()}” is none: write frames as 1-24, 1-10,20 or 30-60x5 (every fifth); numbers go to ${MAX_FRAME}.`,
      );
    if (numbers.length + (last - first) / step > MAX_FRAMES)
      throw new InvalidArgumentError(`names frames that are more than one command makes (${MAX_FRAMES}).`);
    for (let frame = first; frame <= last; frame += step) numbers.push(frame);
  }
  return rangesOf([...new Set(numbers)].sort((a, b) => a - b));
}

export function framesOption(value: string): { first: number; last: number } {
  const found = /^(\d+)(?:-(\d+))?$/.exec(value);
  const first = Number(found?.[1]);
  const last = Number(found?.[2] ?? first);
  if (!found || last < first || last > MAX_FRAME)
    throw new InvalidArgumentError(`write frames as FIRST-LAST, for example 1-24; numbers go to ${MAX_FRAME}.`);
  return { first, last };
}

/** An option that takes one of some words, in any case. */
export function choiceOption(flags: string, description: string, words: readonly string[]): Option {
  const option = new Option(flags, description).choices(words);
  return option.argParser((value: string) => {
    const found = words.find((word) => word.toLowerCase() === value.toLowerCase());
    if (found === undefined) throw new InvalidArgumentError(`Allowed choices are ${words.join(", ")}.`);
    return found;
  });
}

export const collect = (value: string, before: string[] = []) => [...before, value];
