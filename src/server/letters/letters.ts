/** Words drawn in the application's own letters, which lie beside the program: no machine needs them installed. */
import sharp, { type Sharp } from "sharp";
import { built } from "../../formats/project";

/** A text as Pango's markup has it. */
export const escaped = (text: string): string =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");

/** One line of markup, `size` px high. `isColoured`: in the colours it says, on nothing; else white on black. */
export const drawnLetters = (markup: string, size: number, isColoured = false): Sharp =>
  sharp({
    text: {
      text: markup,
      font: `Archivo ${size}`,
      fontfile: built("fonts/letters.ttf"),
      rgba: isColoured,
      // A point is a pixel then.
      dpi: 72,
    },
  }).png();
