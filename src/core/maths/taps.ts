/** The weights of one place of an output along one side: of the source's pixels from `first` on. */
interface Taps {
  first: number;
  weights: number[];
}

/**
 * As assembly/resize.ts reads them: how many weights a place has, then the first source pixel and the weights of each.
 * All stay within the source's `from` pixels.
 */
function packed(entries: Taps[], from: number): Float32Array {
  const most = Math.max(1, ...entries.map(({ weights }) => weights.length));
  const table = new Float32Array(1 + entries.length * (most + 1));
  table[0] = most;
  entries.forEach(({ first, weights }, i) => {
    // A place near the end begins earlier, so that its last weights do not reach beyond it.
    const begin = Math.max(0, Math.min(first, from - most));
    table.set([begin, ...new Array<number>(first - begin).fill(0), ...weights], 1 + i * (most + 1));
  });
  return table;
}

/**
 * Weights that change `from` pixels to `to` by area: each is the mean of what lies under it. `end`: where the source
 * ends, in places.
 */
export function areaTaps(from: number, to: number, end = to): Float32Array {
  const scale = from / end;
  const entries = Array.from({ length: to }, (_, i): Taps => {
    const [left, right] = [i * scale, Math.min((i + 1) * scale, from)];
    const first = Math.min(Math.floor(left), from - 1);
    const count = Math.max(1, Math.ceil(right - 1e-9) - first);
    const overlaps = Array.from({ length: count }, (_, k) =>
      Math.max(0, Math.min(right, first + k + 1) - Math.max(left, first + k)),
    );
    const sum = overlaps.reduce((a, b) => a + b, 0);
    return { first, weights: overlaps.map((overlap) => overlap / sum) };
  });
  return packed(entries, from);
}

/** The cubic B-spline at a distance. */
function cubicSpline(distance: number): number {
  const d = Math.abs(distance);
  return d < 1 ? 2 / 3 - d * d + (d * d * d) / 2 : d < 2 ? (2 - d) ** 3 / 6 : 0;
}

/** The place that a mirror on both ends of `length` shows at `i`. */
function mirrored(i: number, length: number): number {
  const within = ((i % (2 * length)) + 2 * length) % (2 * length);
  return within < length ? within : 2 * length - 1 - within;
}

/**
 * Weights that bring few cells to many places smoothly: a cubic B-spline through them, mirrored at the ends. `end` as
 * in `areaTaps`.
 */
export function smoothTaps(from: number, to: number, end = to): Float32Array {
  const entries = Array.from({ length: to }, (_, i): Taps => {
    const position = ((i + 0.5) * from) / end - 0.5;
    const cell = Math.floor(position);
    const near = [-1, 0, 1, 2].map((k) => ({ at: mirrored(cell + k, from), weight: cubicSpline(cell + k - position) }));
    const first = Math.min(...near.map(({ at }) => at));
    const weights = new Array<number>(Math.max(...near.map(({ at }) => at)) - first + 1).fill(0);
    for (const { at, weight } of near) weights[at - first]! += weight;
    return { first, weights };
  });
  return packed(entries, from);
}

/**
 * Weights of places that go on to `size` of them, beginning `before` the first: as a mirror at both ends shows them.
 */
export function extendedTaps(taps: Float32Array, before: number, size: number): Float32Array {
  const step = taps[0]! + 1;
  const count = (taps.length - 1) / step;
  if (before === 0 && size === count) return taps;
  const out = new Float32Array(1 + size * step);
  out[0] = taps[0]!;
  for (let i = 0; i < size; i++) {
    const from = 1 + mirrored(i - before, count) * step;
    out.set(taps.subarray(from, from + step), 1 + i * step);
  }
  return out;
}

/** Weights that take every second place, the first of each two. */
export const everySecond = (from: number): Float32Array =>
  packed(
    Array.from({ length: Math.ceil(from / 2) }, (_, i) => ({ first: 2 * i, weights: [1] })),
    from,
  );

/** Share of a triangle of half the width `half` that lies below `t` from its middle. */
function triangleBelow(t: number, half: number): number {
  const side = Math.max(0, half - Math.abs(t)) ** 2 / (2 * half ** 2);
  return t < 0 ? side : 1 - side;
}

/**
 * Weights for a row of `length` pixels scaled by `factor` about `axis` (px), turned over where it is below 0: of a
 * place's triangle the part over each pixel. Triangles are a whole number of places wide and at least a pixel, so that
 * every pixel counts alike. Black outside.
 */
export function scaledTaps(length: number, factor: number, axis: number): Float32Array {
  const size = Math.abs(factor);
  const half = Math.ceil(Math.max(1, size)) / size;
  const entries = Array.from({ length }, (_, i): Taps => {
    const position = axis + (i - axis) / factor;
    const [low, high] = [
      Math.max(0, Math.ceil(position - half - 0.5)),
      Math.min(length - 1, Math.floor(position + half + 0.5)),
    ];
    const share = (j: number) => triangleBelow(j + 0.5 - position, half) - triangleBelow(j - 0.5 - position, half);
    return {
      first: Math.min(low, length - 1),
      weights: Array.from({ length: Math.max(0, high - low + 1) }, (_, k) => share(low + k)),
    };
  });
  return packed(entries, length);
}
