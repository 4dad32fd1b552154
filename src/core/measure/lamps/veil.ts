/** Veiling glare: light of small lamps that lies over the whole of a dark frame. */
import type { Blob } from "../blobs";
import { middleOf, MeasureError, type Plane } from "../plane";
import { streakRows } from "./streak";

export interface Veil {
  /** % of the frame's mean light. */
  fraction: number;
  /** Standard error, %. */
  uncertainty: number;
}

/** The frame is looked at in cells, this many to its height. */
const CELLS = 27;
/** A lamp's surroundings, within so many of its radii and this share of the height, are its own spread. */
const [OWN_RADII, OWN_SHARE] = [4, 0.03];
/** A lamp's light is gathered within so many of its radii and px. */
const [LAMP_RADII, LAMP_PX] = [1.5, 3];
/** A cell with fewer pixels says nothing; and so many of all must say something. */
const FEWEST = 30;
const MIN_CELLS = 0.5;
/** What filling the cells about the lamps from their neighbours leaves of error, as a share. */
const SYSTEMATIC = 0.01;

const radiusOf = ({ area }: Blob) => Math.sqrt(area / Math.PI);

/** Cells of the frame without lamps and lines; null where one holds nothing else. */
function cellsOf({ width, height, data }: Plane, isOthers: (x: number, y: number) => boolean) {
  const side = Math.max(8, Math.round(height / CELLS));
  const [columns, rows] = [Math.floor(width / side), Math.floor(height / side)];
  const cells: ({ value: number; error: number } | null)[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const own: number[] = [];
      for (let y = row * side; y < (row + 1) * side; y++)
        for (let x = column * side; x < (column + 1) * side; x++) if (!isOthers(x, y)) own.push(data[y * width + x]!);
      cells.push(own.length < FEWEST ? null : middleOf(Float64Array.from(own)));
    }
  return { cells, columns, rows };
}

/** A cell that says nothing takes the mean of the nearest ring of cells that say something. */
function filled(cells: readonly ({ value: number } | null)[], columns: number, rows: number): number[] {
  return cells.map((cell, i) => {
    if (cell) return cell.value;
    const [x, y] = [i % columns, Math.floor(i / columns)];
    for (let reach = 1; reach < Math.max(columns, rows); reach++) {
      const ring = cells.filter(
        (other, k) => other && Math.max(Math.abs((k % columns) - x), Math.abs(Math.floor(k / columns) - y)) === reach,
      );
      if (ring.length) return ring.reduce((sum, other) => sum + other!.value, 0) / ring.length;
    }
    return 0;
  });
}

/** The veil of a frame of small lamps. `hasStreak`: their lines are left out. Throws MeasureError. */
export function veilOf(light: Plane, lamps: readonly Blob[], hasStreak: boolean): Veil {
  const { width, height, data } = light;
  const isOthers = (x: number, y: number) =>
    lamps.some(
      (lamp) =>
        (hasStreak && Math.abs(y - lamp.y) <= streakRows(lamp)) ||
        Math.hypot(x - lamp.x, y - lamp.y) < OWN_RADII * radiusOf(lamp) + OWN_SHARE * height,
    );
  const { cells, columns, rows } = cellsOf(light, isOthers);
  const said = cells.filter((cell) => cell !== null);
  if (said.length < MIN_CELLS * cells.length)
    throw new MeasureError(
      "the lamps leave too little of the frame dark to see a veil over it; use fewer or smaller ones",
    );
  const all = filled(cells, columns, rows);
  const veil = all.reduce((sum, value) => sum + value, 0) / all.length;
  const error = Math.sqrt(said.reduce((sum, cell) => sum + cell.error ** 2, 0)) / said.length;
  let lampLight = 0;
  for (const lamp of lamps) {
    const reach = Math.ceil(LAMP_RADII * radiusOf(lamp)) + LAMP_PX;
    const [cx, cy] = [Math.round(lamp.x), Math.round(lamp.y)];
    for (let y = Math.max(0, cy - reach); y <= Math.min(height - 1, cy + reach); y++)
      for (let x = Math.max(0, cx - reach); x <= Math.min(width - 1, cx + reach); x++)
        if (Math.hypot(x - lamp.x, y - lamp.y) <= reach) lampLight += data[y * width + x]! - veil;
  }
  const mean = lampLight / (width * height);
  const fraction = (100 * veil) / mean;
  return { fraction: Math.max(0, fraction), uncertainty: Math.hypot((100 * error) / mean, SYSTEMATIC * fraction) };
}
