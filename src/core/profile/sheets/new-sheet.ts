/** Tables that a lens does not have yet, and frequencies that a table of contrast lacks. */
import { COEFFICIENTS } from "../distortion";
import { atFrequencies, type Sheet, sheetId } from "./sheets";

/** Tables that can be added to a lens, and whether each is of a focal length and of a stop. */
export const ADDABLE = {
  sagittal: { label: "Contrast", isOfFocalLength: true, isOfStop: true },
  illumination: { label: "Relative illumination", isOfFocalLength: true, isOfStop: true },
  distortion: { label: "Distortion", isOfFocalLength: true, isOfStop: false },
  lateralColour: { label: "Lateral colour", isOfFocalLength: true, isOfStop: false },
  transmission: { label: "Spectral transmission", isOfFocalLength: false, isOfStop: false },
} as const;
export type Addable = keyof typeof ADDABLE;

const HEIGHT = "height (mm)";
const FREQUENCIES = [10, 20, 30, 40];
const WAVELENGTHS = [400, 450, 500, 550, 600, 650, 700];

/** A table that does nothing, to be filled. `corner`: the image height that it reaches to, mm. */
export function newSheet(kind: Addable, focalLength: number, stop: number, corner: number): Sheet {
  const heights = [0, corner / 2, corner].map((height) => Number(height.toFixed(2)));
  switch (kind) {
    case "sagittal":
      return {
        id: sheetId(kind, focalLength, stop),
        title: "Contrast",
        columns: [HEIGHT, ...FREQUENCIES.map((f) => `${f} lp/mm`)],
        rows: heights.map((height) => [height, ...FREQUENCIES.map(() => 1)]),
      };
    case "illumination":
      return {
        id: sheetId(kind, focalLength, stop),
        title: "Relative illumination",
        columns: [HEIGHT, "relative"],
        rows: heights.map((height) => [height, 1]),
      };
    case "lateralColour":
      return {
        id: sheetId(kind, focalLength),
        title: "Lateral colour",
        columns: [HEIGHT, "red (µm)", "blue (µm)"],
        rows: heights.map((height) => [height, 0, 0]),
      };
    case "distortion":
      return {
        id: sheetId(kind, focalLength, "radial-tangential"),
        title: "Distortion",
        columns: [...COEFFICIENTS["radial-tangential"]],
        rows: [COEFFICIENTS["radial-tangential"].map(() => 0)],
      };
    case "transmission":
      return {
        id: kind,
        title: "Spectral transmission",
        columns: ["wavelength (nm)", "transmission"],
        rows: WAVELENGTHS.map((nm) => [nm, 1]),
      };
  }
}

const frequencyOf = (head: string) => Number.parseFloat(head);

/** Whether a sheet is of contrast, with a column a frequency. */
export const isContrast = ({ columns }: Sheet) =>
  columns.length > 1 && columns.slice(1).every((c) => / lp\/mm$/.test(c));

/** A sheet of contrast with one frequency (lp/mm) more, read off between its neighbours; the same where it is there. */
export function withFrequency(sheet: Sheet, frequency: number): Sheet {
  const own = sheet.columns.slice(1).map(frequencyOf);
  if (own.includes(frequency)) return sheet;
  const all = [...own, frequency].sort((a, b) => a - b);
  return {
    ...sheet,
    columns: [sheet.columns[0]!, ...all.map((f) => `${f} lp/mm`)],
    rows: sheet.rows.map(([height, ...row]) => [height!, ...atFrequencies(own, [row], all)[0]!]),
  };
}

/** A sheet of contrast without a frequency (lp/mm); the last one stays. */
export function withoutFrequency(sheet: Sheet, frequency: number): Sheet {
  const at = sheet.columns.findIndex((head, i) => i > 0 && frequencyOf(head) === frequency);
  if (at < 0 || sheet.columns.length <= 2) return sheet;
  const rest = <T>(list: readonly T[]) => list.filter((_, i) => i !== at);
  return { ...sheet, columns: rest(sheet.columns), rows: sheet.rows.map(rest) };
}
