import type { Tile, Wall } from "./axis";

/** A name for a tile's own file, without its ending: row and column from 1, and what stands along the sides there. */
export const tileFileName = ({ across, down }: Wall, { row, column }: Pick<Tile, "row" | "column">): string =>
  [String(row + 1), String(column + 1), down[row], across[column]]
    .filter(Boolean)
    .join(" ")
    .replaceAll(/[^\w .,%×-]+/g, "-");
