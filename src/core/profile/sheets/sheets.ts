/**
 * A profile's tables as sheets of numbers: what is edited in the Cabinet, and what CSV files hold. Columns have their
 * units in their heads; rows are image heights, wavelengths or angles.
 */
import { monotoneCubic } from "../../maths/interpolate";
import type { FilterProfile, LensProfile, Profile } from "../profiles";

export interface Sheet {
  /** What the table is: its name in a profile and what it was measured at, `illumination/50/2`. */
  id: string;
  /** For people. */
  title: string;
  columns: string[];
  rows: number[][];
}

/** A kind of table of a lens or a filter: its sheets, and the profile with one of them in place of the old. */
interface SheetKind<P extends Profile> {
  of(profile: P): Sheet[];
  /** Null where the profile has no such table; what `keys` says is new is added. */
  put(profile: P, keys: string[], sheet: Sheet): P;
}

const HEIGHT = "height (mm)";
const keysOf = (id: string) => id.split("/").slice(1).map(decodeURIComponent);
const idOf = (name: string, ...keys: (string | number)[]) =>
  [name, ...keys.map((key) => encodeURIComponent(key))].join("/");

const column = (rows: number[][], i: number) => rows.map((row) => row[i]!);
/** What is told of a table's origin once it was changed by hand. */
const EDITED = { kind: "computed" as const, how: "changed by hand" };

type Located = { focalLength: number; stop?: number };
/** The tables with one put in the place of those measured at the same focal length and stop. */
function placed<T extends Located>(tables: T[] | undefined, table: T): T[] {
  const others = (tables ?? []).filter(
    ({ focalLength, stop }) => focalLength !== table.focalLength || stop !== table.stop,
  );
  return [...others, table].sort((a, b) => a.focalLength - b.focalLength || (a.stop ?? 0) - (b.stop ?? 0));
}

const frequencyOf = (head: string) => Number(/^(\d+(?:\.\d+)?)/.exec(head)?.[1] ?? NaN);

/** Rows of contrast at other image heights, between those that are there. */
const atHeights = (from: readonly number[], rows: readonly number[][], heights: readonly number[]): number[][] => {
  const curves = rows[0]!.map((_, k) =>
    monotoneCubic(
      from,
      rows.map((row) => row[k]!),
    ),
  );
  return heights.map((height) => curves.map((curve) => curve(height)));
};

/** Contrast at other frequencies, between those that are there; at no frequency it is whole. */
export const atFrequencies = (
  from: readonly number[],
  rows: readonly number[][],
  frequencies: readonly number[],
): number[][] => {
  const [known, lead] = from[0]! > 0 ? [[0, ...from], [1]] : [from, []];
  return rows.map((row) => frequencies.map(monotoneCubic(known, [...lead, ...row])));
};

const contrast = (direction: "sagittal" | "meridional"): SheetKind<LensProfile> => ({
  of: ({ mtf = [] }) =>
    mtf.map((table) => ({
      id: idOf(direction, table.focalLength, table.stop),
      title: `Contrast, ${direction}, ${table.focalLength} mm, T${table.stop}`,
      columns: [HEIGHT, ...table.frequencies.map((f) => `${f} lp/mm`)],
      rows: table.heights.map((height, i) => [height, ...table[direction][i]!]),
    })),
  put(profile, [focal, stop], { columns, rows }) {
    const [focalLength, tStop] = [Number(focal), Number(stop)];
    const before = profile.mtf?.find((one) => one.focalLength === focalLength && one.stop === tStop);
    const heights = column(rows, 0);
    const frequencies = columns.slice(1).map(frequencyOf);
    const values = rows.map((row) => row.slice(1));
    // Both directions go by the same heights and frequencies: the other one is read off at those that are new.
    const other = direction === "sagittal" ? "meridional" : "sagittal";
    const readOff = (table: NonNullable<typeof before>) =>
      atFrequencies(table.frequencies, atHeights(table.heights, table[other], heights), frequencies);
    const table = {
      focalLength,
      stop: tStop,
      heights,
      frequencies,
      sagittal: values,
      meridional: values,
      ...(before ? { [other]: readOff(before) } : {}),
      origin: EDITED,
    };
    return { ...profile, mtf: placed(profile.mtf, table) };
  },
});

const illumination: SheetKind<LensProfile> = {
  of: ({ illumination: tables = [] }) =>
    tables.map(({ focalLength, stop, heights, relative }) => ({
      id: idOf("illumination", focalLength, stop),
      title: `Relative illumination, ${focalLength} mm, T${stop}`,
      columns: [HEIGHT, "relative"],
      rows: heights.map((height, i) => [height, relative[i]!]),
    })),
  put: (profile, [focal, stop], { rows }) => ({
    ...profile,
    illumination: placed(profile.illumination, {
      focalLength: Number(focal),
      stop: Number(stop),
      heights: column(rows, 0),
      relative: column(rows, 1),
      origin: EDITED,
    }),
  }),
};

const lateralColour: SheetKind<LensProfile> = {
  of: ({ lateralColour: tables = [] }) =>
    tables.map(({ focalLength, heights, red, blue }) => ({
      id: idOf("lateralColour", focalLength),
      title: `Lateral colour, ${focalLength} mm`,
      columns: [HEIGHT, "red (µm)", "blue (µm)"],
      rows: heights.map((height, i) => [height, red[i]!, blue[i]!]),
    })),
  put: (profile, [focal], { rows }) => ({
    ...profile,
    lateralColour: placed(profile.lateralColour, {
      focalLength: Number(focal),
      heights: column(rows, 0),
      red: column(rows, 1),
      blue: column(rows, 2),
      origin: EDITED,
    }),
  }),
};

const distortion: SheetKind<LensProfile> = {
  of: ({ distortion: tables = [] }) =>
    tables.map(({ focalLength, model, coefficients }) => ({
      id: idOf("distortion", focalLength, model),
      title: `Distortion, ${focalLength} mm, ${model}`,
      columns: Object.keys(coefficients),
      rows: [Object.values(coefficients)],
    })),
  put: (profile, [focal, model], { columns, rows }) => ({
    ...profile,
    distortion: placed(profile.distortion, {
      focalLength: Number(focal),
      model,
      coefficients: Object.fromEntries(columns.map((name, i) => [name, rows[0]?.[i] ?? 0])),
      origin: EDITED,
    } as NonNullable<LensProfile["distortion"]>[number]),
  }),
};

const transmission: SheetKind<LensProfile> = {
  of: ({ transmission: table }) =>
    table
      ? [
          {
            id: "transmission",
            title: "Spectral transmission",
            columns: ["wavelength (nm)", "transmission"],
            rows: table.wavelengths.map((nm, i) => [nm, table.values[i]!]),
          },
        ]
      : [],
  put: (profile, _, { rows }) => ({
    ...profile,
    transmission: { wavelengths: column(rows, 0), values: column(rows, 1), origin: EDITED },
  }),
};

const GRADE_COLUMNS = ["scatter", "absorption", "transmission (stops)"];
/** A grade that is to be filled: its spread is laid down by a sheet of its own. */
const emptyGrade = (grade: string) => ({
  grade,
  scatter: 0,
  absorption: 0,
  transmissionStops: 0,
  spread: { degrees: [0, 1], red: [1, 0], green: [1, 0], blue: [1, 0] },
});
type Grade = FilterProfile["grades"][number];

function withGrade(profile: FilterProfile, name: string, change: (grade: Grade) => Grade): FilterProfile {
  const found = profile.grades.some(({ grade }) => grade === name);
  const grades = found ? profile.grades : [...profile.grades, emptyGrade(name)];
  return {
    ...profile,
    grades: grades.map((grade) => (grade.grade === name ? { ...change(grade), origin: EDITED } : grade)),
  };
}

const grade: SheetKind<FilterProfile> = {
  of: ({ grades }) =>
    grades.map(({ grade: name, scatter, absorption, transmissionStops }) => ({
      id: idOf("grade", name),
      title: `Grade ${name}`,
      columns: GRADE_COLUMNS,
      rows: [[scatter, absorption, transmissionStops]],
    })),
  put: (profile, [name], { rows: [row] }) =>
    withGrade(profile, name!, (one) => ({
      ...one,
      scatter: row![0]!,
      absorption: row![1]!,
      transmissionStops: row![2]!,
    })),
};

const spread: SheetKind<FilterProfile> = {
  of: ({ grades }) =>
    grades.map(({ grade: name, spread: { degrees, red, green, blue } }) => ({
      id: idOf("spread", name),
      title: `Spread, grade ${name}`,
      columns: ["angle (°)", "red", "green", "blue"],
      rows: degrees.map((angle, i) => [angle, red[i]!, green[i]!, blue[i]!]),
    })),
  put: (profile, [name], { rows }) =>
    withGrade(profile, name!, (one) => ({
      ...one,
      spread: { degrees: column(rows, 0), red: column(rows, 1), green: column(rows, 2), blue: column(rows, 3) },
    })),
};

const LENS_SHEETS: Record<string, SheetKind<LensProfile>> = {
  sagittal: contrast("sagittal"),
  meridional: contrast("meridional"),
  illumination,
  distortion,
  lateralColour,
  transmission,
};
const FILTER_SHEETS: Record<string, SheetKind<FilterProfile>> = { grade, spread };

/** All of a profile's tables. */
export const sheetsOf = (profile: Profile): Sheet[] =>
  profile.format === "pale-halo-lens"
    ? Object.values(LENS_SHEETS).flatMap((kind) => kind.of(profile))
    : Object.values(FILTER_SHEETS).flatMap((kind) => kind.of(profile));

/** Names of the tables that a lens or a filter has. */
export const sheetNames = (format: Profile["format"]): string[] =>
  Object.keys(format === "pale-halo-lens" ? LENS_SHEETS : FILTER_SHEETS);

/**
 * The profile with a sheet in the place of the table it names; whether it holds what a profile may hold is for the
 * profile's schema to say.
 */
export function withSheet(profile: Profile, sheet: Sheet): Profile {
  const name = sheet.id.split("/")[0]!;
  if (profile.format === "pale-halo-lens") return LENS_SHEETS[name]!.put(profile, keysOf(sheet.id), sheet);
  return FILTER_SHEETS[name]!.put(profile, keysOf(sheet.id), sheet);
}

export { idOf as sheetId };
