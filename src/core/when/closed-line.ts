import { type Keyframes, keyframes } from "./keyframes";

type Point = readonly [number, number];

/** The place in the longer of two lists, one point apart, of the point that the shorter one lacks. */
function extraOf(longer: readonly Point[], shorter: readonly Point[]): number {
  const apart = (without: number) =>
    shorter.reduce((sum, [x, y], i) => {
      const [u, v] = longer[i < without ? i : i + 1]!;
      return sum + (u - x) ** 2 + (v - y) ** 2;
    }, 0);
  const all = longer.map((_, i) => apart(i));
  return all.indexOf(Math.min(...all));
}

/** How far along the side from `a` to `b` a point stands, 0 to 1. */
function alongSide([x, y]: Point, a: Point, b: Point): number {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const length = dx * dx + dy * dy;
  return length ? Math.min(1, Math.max(0, ((x - a[0]) * dx + (y - a[1]) * dy) / length)) : 0.5;
}

/**
 * Keyframes of a closed line that is given one point more, or one less, at a frame: every other keyframe gets a point
 * at the same part of the same side, or loses the same one, so that the line goes on from one to the next.
 */
export function withPointsAlike(keys: Keyframes, frame: number, points: readonly Point[]): Keyframes {
  // What a course of frames and rates says besides does not matter: keyframes alone give the line.
  const before = keyframes.value(keys, 0, { frame, frameRate: 1 }) as unknown as readonly Point[];
  const by = points.length - before.length;
  if (Math.abs(by) !== 1) return keys;
  const at = by > 0 ? extraOf(points, before) : extraOf(before, points);
  const sideOf = (line: readonly Point[]) =>
    [line[(at + line.length - 1) % line.length]!, line[at % line.length]!] as const;
  const share = by > 0 ? alongSide(points[at]!, ...sideOf(before)) : 0;
  const changed = (line: readonly Point[]): [number, number][] => {
    if (by < 0) return line.filter((_, i) => i !== at).map(([x, y]) => [x, y]);
    const [a, b] = sideOf(line);
    const added: Point = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
    return [...line.slice(0, at), added, ...line.slice(at)].map(([x, y]) => [x, y]);
  };
  return keys.map((key) => {
    const line = key.value as unknown as readonly Point[];
    return line.length === before.length ? { ...key, value: changed(line) } : key;
  });
}
