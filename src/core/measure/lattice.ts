import { MeasureError } from "./plane";

interface Place {
  x: number;
  y: number;
}

/** A dot and its column and row on the chart, counted from the dot nearest the picture's middle. */
export interface Indexed<D extends Place> {
  dot: D;
  column: number;
  row: number;
}

/** A neighbour is looked for within this share of the spacing around where it is expected. */
const TOLERANCE = 0.3;
/** Over gaps of this many missing dots. */
const GAP = 2;

/** Starts that are tried, in case one is a blemish, and the share of the dots that is enough. */
const STARTS = 6;
const ENOUGH = 0.6;

const nearest = <D extends Place>(to: Place, among: D[]) =>
  among.reduce((best, dot) =>
    Math.hypot(dot.x - to.x, dot.y - to.y) < Math.hypot(best.x - to.x, best.y - to.y) ? dot : best,
  );

/**
 * Gives each dot of a square grid its column and row, by walking from neighbour to neighbour: bent grids, blemishes and
 * missing dots do no harm.
 */
export function indexLattice<D extends Place>(dots: D[], middle: Place): Indexed<D>[] {
  if (dots.length < 9) throw new MeasureError(`Only ${dots.length} dots were found; a grid needs at least 9`);
  const starts = [...dots]
    .sort((a, b) => Math.hypot(a.x - middle.x, a.y - middle.y) - Math.hypot(b.x - middle.x, b.y - middle.y))
    .slice(0, STARTS);
  let best: Indexed<D>[] = [];
  for (const start of starts) {
    const walked = walk(dots, start);
    if (walked.length > best.length) best = walked;
    if (best.length > ENOUGH * dots.length) break;
  }
  if (best.length < 9) throw new MeasureError("The dots do not form a square grid");
  return best;
}

function walk<D extends Place>(dots: D[], first: D): Indexed<D>[] {
  const others = dots.filter((dot) => dot !== first);
  const one = nearest(first, others);
  const along = { x: one.x - first.x, y: one.y - first.y };
  // The other way of the grid: the nearest dot that lies rather across than along.
  const across = others.filter(
    ({ x, y }) =>
      Math.abs((x - first.x) * along.y - (y - first.y) * along.x) >
      2 * Math.abs((x - first.x) * along.x + (y - first.y) * along.y),
  );
  if (!across.length) return [];
  const two = nearest(first, across);
  const other = { x: two.x - first.x, y: two.y - first.y };
  const [flat, steep] = Math.abs(along.x) > Math.abs(along.y) ? [along, other] : [other, along];
  const forward = (v: Place, way: number): Place => (way < 0 ? { x: -v.x, y: -v.y } : v);
  const [right, down] = [forward(flat, flat.x), forward(steep, steep.y)];

  const cell = Math.min(Math.hypot(right.x, right.y), Math.hypot(down.x, down.y));
  const cells = new Map<string, D[]>();
  const cellOf = (x: number, y: number) => `${Math.floor(x / cell)} ${Math.floor(y / cell)}`;
  for (const dot of dots) cells.set(cellOf(dot.x, dot.y), [...(cells.get(cellOf(dot.x, dot.y)) ?? []), dot]);
  const around = (x: number, y: number, within: number): D | null => {
    let found: D | null = null;
    let least = within;
    for (const dx of [-1, 0, 1])
      for (const dy of [-1, 0, 1])
        for (const dot of cells.get(cellOf(x + dx * cell, y + dy * cell)) ?? []) {
          const distance = Math.hypot(dot.x - x, dot.y - y);
          if (distance < least) [found, least] = [dot, distance];
        }
    return found;
  };

  const placed = new Map<string, Indexed<D>>([["0 0", { dot: first, column: 0, row: 0 }]]);
  const taken = new Set<D>([first]);
  const queue = [{ dot: first, column: 0, row: 0, right, down }];
  while (queue.length) {
    const from = queue.shift()!;
    for (const [di, dj] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const)
      for (let step = 1; step <= GAP; step++) {
        const [column, row] = [from.column + di * step, from.row + dj * step];
        const vector = di ? from.right : from.down;
        const way = (di + dj) * step;
        if (placed.has(`${column} ${row}`)) break;
        const dot = around(
          from.dot.x + vector.x * way,
          from.dot.y + vector.y * way,
          TOLERANCE * Math.hypot(vector.x, vector.y),
        );
        if (!dot) continue;
        if (taken.has(dot)) break;
        taken.add(dot);
        placed.set(`${column} ${row}`, { dot, column, row });
        const measured = { x: (dot.x - from.dot.x) / way, y: (dot.y - from.dot.y) / way };
        queue.push({ dot, column, row, right: di ? measured : from.right, down: di ? from.down : measured });
        break;
      }
  }
  return [...placed.values()];
}
