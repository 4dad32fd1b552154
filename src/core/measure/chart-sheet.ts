/** Charts to print, to scale, as SVG in millimetres. */

export type SheetKind = "edges" | "grid";

/** Paper sizes, mm, level. */
export const PAPERS = {
  a4: { width: 297, height: 210 },
  a3: { width: 420, height: 297 },
  a2: { width: 594, height: 420 },
} as const;

/** The shorter side of the paper holds so many squares, and so many rows of dots. */
const SQUARES = 3;
const DOTS = 15;
/** A square's side and a dot's diameter, shares of the way from one to the next. */
const SIDE = 0.5;
const DIAMETER = 0.45;
/** Edges lean from the frame's rows and columns by so much, degrees: less has no profile, more no straight crossing. */
const [MIN_SLANT, MAX_SLANT] = [6, 36];
/** Not as black as ink can be, so that a camera's blacks are not clipped. */
const INK = "#1f1f1f";

const degrees = (radians: number) => (radians * 180) / Math.PI;

/** The turn of a square: two of its sides along the radius from the middle where such a slant can be read. */
function turnOf(x: number, y: number): number {
  const turn = ((((degrees(Math.atan2(y, x)) + 45) % 90) + 90) % 90) - 45;
  const size = Math.min(MAX_SLANT, Math.max(MIN_SLANT, Math.abs(turn)));
  return turn < 0 ? -size : size;
}

const number = (value: number) => Number(value.toFixed(3)).toString();

/** Middles of a lattice that fills the paper, mm from its middle; `rows` of them on its shorter side. */
function lattice(width: number, height: number, rows: number): { apart: number; places: [number, number][] } {
  const apart = Math.min(width, height) / rows;
  const [columns, lines] = [width, height].map((side) => Math.floor(side / apart + 1e-6)) as [number, number];
  const places = Array.from({ length: columns * lines }, (_, i): [number, number] => [
    ((i % columns) - (columns - 1) / 2) * apart,
    (Math.floor(i / columns) - (lines - 1) / 2) * apart,
  ]);
  return { apart, places };
}

/** Squares whose sides lie along the radius and across it. */
function squares(width: number, height: number): string {
  const { apart, places } = lattice(width, height, SQUARES);
  const side = apart * SIDE;
  return places
    .map(
      ([x, y]) =>
        `<rect x="${number(-side / 2)}" y="${number(-side / 2)}" width="${number(side)}" height="${number(side)}" transform="translate(${number(x)} ${number(y)}) rotate(${number(turnOf(x, y))})"/>`,
    )
    .join("\n");
}

/** Round dots; those at the paper's edge are left out, for no printer prints there. */
function dots(width: number, height: number): string {
  const { apart, places } = lattice(
    width - Math.min(width, height) / DOTS,
    height - Math.min(width, height) / DOTS,
    DOTS,
  );
  return places
    .map(([x, y]) => `<circle cx="${number(x)}" cy="${number(y)}" r="${number((apart * DIAMETER) / 2)}"/>`)
    .join("\n");
}

/** A chart to print at 100 %, on paper of a size in mm. */
export function chartSheet(kind: SheetKind, { width, height }: { width: number; height: number }): string {
  const ink = kind === "edges" ? squares(width, height) : dots(width, height);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="${-width / 2} ${-height / 2} ${width} ${height}">
<rect x="${-width / 2}" y="${-height / 2}" width="${width}" height="${height}" fill="#fff"/>
<g fill="${INK}">
${ink}
</g>
</svg>
`;
}
