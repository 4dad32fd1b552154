/** The wall as a page: where each tile and each label stands. Lengths are px of the page. */

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface SheetText {
  text: string;
  /** Where it begins, or, centred, its middle; and its baseline. */
  x: number;
  y: number;
  /** Height of the letters' em. */
  size: number;
  align: "left" | "centre";
  isQuiet: boolean;
  /** It is cut where it would be wider. */
  maxWidth: number;
}

export interface SheetLayout {
  width: number;
  height: number;
  texts: SheetText[];
  /** Row by row. */
  tiles: Box[];
}

/** What the page says beside its tiles. */
export interface SheetWords {
  title: string;
  /** What it is of: shot, frame, size. */
  subtitle: string;
  across: readonly string[];
  down: readonly string[];
  /** What the sides are about; empty where nothing changes along one. */
  acrossTitle: string;
  downTitle: string;
}

/** Neutral, as the application is; and the letters on it. */
export const SHEET_COLOURS = { page: "#1c1c1c", text: "#dedede", quiet: "#9a9a9a" } as const;

const MARGIN = 28;
const GAP = 8;
const TITLE_SIZE = 22;
const TEXT_SIZE = 14;
const HEAD = 76;
const LABEL_HEIGHT = 26;
const LABEL_WIDTH = 148;

/** Lays a page out for tiles of a size. */
export function sheetLayout(words: SheetWords, tile: { width: number; height: number }): SheetLayout {
  const { across, down, title, subtitle, acrossTitle, downTitle } = words;
  const labelled = down.some(Boolean);
  const left = MARGIN + (labelled ? LABEL_WIDTH : 0);
  const top = MARGIN + HEAD + LABEL_HEIGHT;
  const boxAt = (row: number, column: number): Box => ({
    x: left + column * (tile.width + GAP),
    y: top + row * (tile.height + GAP),
    ...tile,
  });
  const width = Math.max(640, left + across.length * (tile.width + GAP) - GAP + MARGIN);
  const height = top + down.length * (tile.height + GAP) - GAP + MARGIN;
  const plain = { size: TEXT_SIZE, align: "left", isQuiet: true, maxWidth: width - 2 * MARGIN } as const;
  const sides = [acrossTitle && `Across: ${acrossTitle}`, downTitle && `down: ${downTitle}`].filter(Boolean).join("; ");
  return {
    width,
    height,
    texts: [
      { ...plain, text: title, x: MARGIN, y: MARGIN + TITLE_SIZE, size: TITLE_SIZE, isQuiet: false },
      { ...plain, text: subtitle, x: MARGIN, y: MARGIN + 46 },
      { ...plain, text: sides, x: MARGIN, y: MARGIN + 66 },
      ...across.map((text, column) => {
        const box = boxAt(0, column);
        const middle = { x: box.x + box.width / 2, y: top - 9 };
        return { ...plain, text, ...middle, align: "centre" as const, isQuiet: false, maxWidth: box.width };
      }),
      ...down.map((text, row) => {
        const box = boxAt(row, 0);
        const y = box.y + box.height / 2 + TEXT_SIZE / 3;
        return { ...plain, text, x: MARGIN, y, isQuiet: false, maxWidth: LABEL_WIDTH - GAP };
      }),
    ].filter(({ text }) => text),
    tiles: down.flatMap((_, row) => across.map((_, column) => boxAt(row, column))),
  };
}
