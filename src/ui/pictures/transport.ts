import { indexOfFrame, type Ranges, countOf } from "@/core/frame/ranges";

/** The frames that are played over and over, first and last; null for the whole shot. */
export type Span = readonly [number, number] | null;

/** Frames a step goes at most when it is asked to go faster again and again. */
const FASTEST = 8;

/**
 * Frames from one picture to the next, asked once more to go forwards (1) or backwards (-1): faster where it already
 * goes that way.
 */
export const faster = (speed: number, way: 1 | -1): number =>
  Math.sign(speed) === way ? way * Math.min(FASTEST, Math.abs(speed) * 2) : way;

/**
 * The places of a span in the shot's frames, first and last; a span that is not there, or reversed, is the whole shot.
 */
export function placesIn(frames: Ranges, span: Span): [number, number] {
  const whole: [number, number] = [0, countOf(frames) - 1];
  if (!span) return whole;
  const [first, last] = span.map((frame) => indexOfFrame(frames, frame)) as [number, number];
  return first >= 0 && last > first ? [first, last] : whole;
}

/**
 * The place that follows one, `speed` further and round within a span; from outside it begins at the end it comes in
 * by.
 */
export function nextIndex(index: number, speed: number, [first, last]: [number, number]): number {
  if (index < first || index > last) return speed < 0 ? last : first;
  const length = last - first + 1;
  return first + ((((index - first + speed) % length) + length) % length);
}
