import type { FilterProfile } from "../../core/profile/profiles";
import { ORIGIN, round } from "./model";

const DEGREES = [0, ...Array.from({ length: 31 }, (_, i) => round(0.01 * 10 ** (i / 8.5), 5))];

/** A scatterer's spread: small features throw a wide tail, large ones a narrow core. Angles in degrees. */
const scatterer = (core: number, tail: number, share: number, exponent: number) =>
  DEGREES.map((t) =>
    Number(
      (
        ((1 - share) * Math.exp(-t / core)) / core ** 2 +
        (share * (1 + (t / tail) ** 2) ** (-exponent / 2)) / tail ** 2
      ).toPrecision(5),
    ),
  );

interface GradeModel {
  grade: string;
  scatter: number;
  transmissionStops: number;
  core: number;
  tail: number;
}

const gradesOf = (
  models: GradeModel[],
  absorption: number,
  share: number,
  exponent: number,
  warmth: number,
): FilterProfile["grades"] =>
  models.map(({ grade, scatter, transmissionStops, core, tail }) => ({
    grade,
    scatter,
    absorption,
    transmissionStops,
    spread: {
      degrees: DEGREES,
      red: scatterer(core * (1 + warmth), tail * (1 + warmth), share, exponent),
      green: scatterer(core, tail, share, exponent),
      blue: scatterer(core * (1 - warmth), tail * (1 - 1.6 * warmth), share, exponent),
    },
    origin: ORIGIN,
    uncertainty: 0.03,
  }));

const milkglass: FilterProfile = {
  format: "pale-halo-filter",
  version: 1,
  id: "milkglass",
  name: "Milkglass",
  notes: "White diffusion: a soft core and a long pale tail.",
  grades: gradesOf(
    [
      { grade: "1/8", scatter: 0.1, transmissionStops: -0.05, core: 0.1, tail: 0.5 },
      { grade: "1/4", scatter: 0.18, transmissionStops: -0.1, core: 0.11, tail: 0.55 },
      { grade: "1/2", scatter: 0.29, transmissionStops: -0.17, core: 0.12, tail: 0.6 },
      { grade: "1", scatter: 0.43, transmissionStops: -0.28, core: 0.13, tail: 0.68 },
      { grade: "2", scatter: 0.58, transmissionStops: -0.42, core: 0.15, tail: 0.78 },
    ],
    0,
    0.5,
    3,
    0.02,
  ),
  origin: ORIGIN,
};

const hearth: FilterProfile = {
  format: "pale-halo-filter",
  version: 1,
  id: "hearth",
  name: "Hearth",
  notes: "Warm diffusion: red light travels further than blue.",
  grades: gradesOf(
    [
      { grade: "1/4", scatter: 0.15, transmissionStops: -0.15, core: 0.1, tail: 0.6 },
      { grade: "1/2", scatter: 0.25, transmissionStops: -0.25, core: 0.11, tail: 0.66 },
      { grade: "1", scatter: 0.38, transmissionStops: -0.4, core: 0.12, tail: 0.75 },
    ],
    0.06,
    0.55,
    2.8,
    0.16,
  ),
  origin: ORIGIN,
};

/** Grades of one glass by how dense they are: scatter and loss follow from the density. */
const series = (grades: [string, number][], core: number, tail: number): GradeModel[] =>
  grades.map(([grade, density]) => ({
    grade,
    scatter: round(1 - Math.exp(-density), 3),
    transmissionStops: round(-0.55 * density, 2),
    core: round(core * (1 + 0.3 * density), 4),
    tail: round(tail * (1 + 0.3 * density), 4),
  }));

const filter = (id: string, name: string, notes: string, grades: FilterProfile["grades"]): FilterProfile => ({
  format: "pale-halo-filter",
  version: 1,
  id,
  name,
  notes,
  grades,
  origin: ORIGIN,
});

const sootglass = filter(
  "sootglass",
  "Sootglass",
  "Black diffusion: specks that scatter, and specks that swallow; the blacks stay.",
  gradesOf(
    series(
      [
        ["1/8", 0.09],
        ["1/4", 0.16],
        ["1/2", 0.27],
        ["1", 0.42],
        ["2", 0.66],
      ],
      0.09,
      0.42,
    ),
    0.45,
    0.5,
    3.1,
    0.01,
  ),
);
const lowfog = filter(
  "lowfog",
  "Lowfog",
  "Fog: light spread over tens of degrees.",
  gradesOf(
    series(
      [
        ["1/8", 0.1],
        ["1/4", 0.17],
        ["1/2", 0.28],
        ["1", 0.45],
      ],
      0.6,
      6,
    ),
    0,
    0.85,
    2.5,
    0.03,
  ),
);
const silkmesh = filter(
  "silkmesh",
  "Silkmesh",
  "Silk net: a fine scatter, and a cross from the weave.",
  gradesOf(
    series(
      [
        ["fine", 0.1],
        ["medium", 0.17],
        ["dense", 0.26],
      ],
      0.07,
      0.36,
    ),
    0.3,
    0.45,
    3,
    0.05,
  ),
);
const cross = filter(
  "cross",
  "Cross",
  "Star filter, ruled glass: between its lines a little scatter; its arms are the star's.",
  gradesOf(
    series(
      [
        ["4 points", 0.05],
        ["6 points", 0.06],
        ["8 points", 0.07],
      ],
      0.08,
      0.4,
    ),
    0,
    0.4,
    3,
    0,
  ),
);
const blueline = filter(
  "blueline",
  "Blueline",
  "Streak filter, ruled one way: between its lines a little scatter; its line is the streak's.",
  gradesOf(
    series(
      [
        ["2 mm", 0.06],
        ["3 mm", 0.05],
      ],
      0.08,
      0.4,
    ),
    0,
    0.4,
    3,
    -0.04,
  ),
);

export const demoFilters = (): FilterProfile[] => [milkglass, sootglass, hearth, lowfog, silkmesh, cross, blueline];
