/** Letters of the enamel sign as strokes on a 4 by 6 grid, y up; a distance to them is all a painter needs. */
type Stroke = [number, number, number, number];

const LETTERS: Record<string, Stroke[]> = {
  T: [[0, 6, 4, 6], [2, 6, 2, 0]],
  A: [[0, 0, 2, 6], [2, 6, 4, 0], [0.75, 2.1, 3.25, 2.1]],
  R: [[0, 0, 0, 6], [0, 6, 2.8, 6], [2.8, 6, 3.7, 5.2], [3.7, 5.2, 3.7, 4], [3.7, 4, 2.8, 3.1], [2.8, 3.1, 0, 3.1], [1.8, 3.1, 3.9, 0]],
  N: [[0, 0, 0, 6], [0, 6, 4, 0], [4, 0, 4, 6]],
  L: [[0, 6, 0, 0], [0, 0, 3.4, 0]],
  I: [[0.6, 0, 0.6, 6]],
  E: [[0, 0, 0, 6], [0, 6, 3.4, 6], [0, 3.1, 2.8, 3.1], [0, 0, 3.4, 0]],
  " ": [],
};
const ADVANCE: Record<string, number> = { I: 2.6, " ": 3 };
const LETTER_ADVANCE = 5.6;

const advance = (letter: string) => ADVANCE[letter] ?? LETTER_ADVANCE;

export const textWidth = (text: string) => [...text].reduce((sum, letter) => sum + advance(letter), 0) - 1.6;

/** Distance from (x, y) to the text's strokes, in grid units. */
export function textDistance(text: string, x: number, y: number): number {
  let best = Infinity;
  let left = 0;
  for (const letter of text) {
    for (const [x0, y0, x1, y1] of LETTERS[letter] ?? []) {
      const [dx, dy] = [x1 - x0, y1 - y0];
      const t = Math.min(1, Math.max(0, ((x - left - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy)));
      best = Math.min(best, Math.hypot(x - left - x0 - t * dx, y - y0 - t * dy));
    }
    left += advance(letter);
  }
  return best;
}
