/** How a measured profile differs from the one its frames were shot through, quantity by quantity. */
import { distorted, distortionOf } from "../../core/profile/distortion";
import { spreadCurve } from "../../core/profile/filter";
import { contrastOf, distortionAt, illuminationAt, lateralColourAt, type LensProfile } from "../../core/profile/lens";
import type { FilterProfile } from "../../core/profile/profiles";
import { transmissionMatrix } from "../../core/colour/spectrum";
import { monotoneCubic } from "../../core/maths/interpolate";
import { apply } from "../../core/maths/matrix";
import { CAMERA } from "./camera";

/** One quantity: its worst difference, what is asked, and how often twice its uncertainty holds the truth. */
export interface Compared {
  quantity: string;
  unit: string;
  worst: number;
  bar: number;
  /** Share of the places; null where the uncertainty is not said place by place. */
  sure: number | null;
}

/** Places to this share of the half diagonal, and frequencies to this share of Nyquist, are compared. */
const FIELD = 0.9;
const TO_NYQUIST = 0.6;
const NYQUIST = 0.5 / CAMERA.pitch;
const CORNER = Math.hypot(CAMERA.sensor.width, CAMERA.sensor.height) / 2;
const MICROMETRES = 1e-3;

/** Differences with what is said of their uncertainty. */
const summary = (quantity: string, unit: string, bar: number, all: { off: number; sure?: number }[]): Compared => ({
  quantity,
  unit,
  bar,
  worst: Math.max(...all.map(({ off }) => Math.abs(off))),
  sure: all.some(({ sure }) => sure === undefined)
    ? null
    : all.filter(({ off, sure }) => Math.abs(off) <= 2 * sure!).length / all.length,
});

const inField = (height: number) => height <= FIELD * CORNER;
const sureOf = (value: unknown) => (typeof value === "number" ? value : undefined);

function contrastAgainst(measured: LensProfile, truth: LensProfile): Compared {
  const all = (measured.mtf ?? []).flatMap((table) =>
    (["sagittal", "meridional"] as const).flatMap((direction) => {
      const exact = contrastOf(truth, table.focalLength, table.stop, direction)!;
      return table.heights.flatMap((height, row) =>
        !inField(height)
          ? []
          : table.frequencies
              .filter((f) => f > 0 && f <= TO_NYQUIST * NYQUIST)
              .map((f) => ({
                off: table[direction][row]![table.frequencies.indexOf(f)]! - exact(f, height),
                sure: sureOf(table.uncertainty),
              })),
      );
    }),
  );
  return summary("contrast", "", 0.03, all);
}

function distortionAgainst(measured: LensProfile, truth: LensProfile): Compared {
  const squares = measured.distortion!.flatMap((table) => {
    const exact = distortionAt(truth, table.focalLength)!;
    const own = distortionOf(table);
    const steps = Array.from({ length: 25 }, (_, i) => i / 12 - 1);
    return steps.flatMap((x) =>
      steps.map((y) => {
        const at = [
          (x * FIELD * CAMERA.sensor.width) / 2 / table.focalLength,
          (y * FIELD * CAMERA.sensor.height) / 2 / table.focalLength,
        ] as const;
        const [a, b] = [distorted(own, 1, ...at), distorted(exact, 1, ...at)];
        return ((Math.hypot(a[0] - b[0], a[1] - b[1]) * table.focalLength) / CAMERA.pitch) ** 2;
      }),
    );
  });
  const rms = Math.sqrt(squares.reduce((sum, square) => sum + square, 0) / squares.length);
  return summary("distortion, root mean square", "px", 0.15, [{ off: rms }]);
}

function lateralAgainst(measured: LensProfile, truth: LensProfile): Compared {
  const all = measured.lateralColour!.flatMap((table) =>
    (["red", "blue"] as const).flatMap((channel) => {
      const exact = lateralColourAt(truth, table.focalLength, channel)!;
      return table.heights.filter(inField).map((height, i) => ({
        off: ((table[channel][i]! - exact(height)) * MICROMETRES) / CAMERA.pitch,
        sure: (Number(table.uncertainty) * MICROMETRES) / CAMERA.pitch,
      }));
    }),
  );
  return summary("lateral colour", "px", 0.1, all);
}

function illuminationAgainst(measured: LensProfile, truth: LensProfile): Compared {
  const all = measured.illumination!.flatMap((table) => {
    const exact = illuminationAt(truth, table.focalLength, table.stop)!;
    return table.heights
      .filter((height) => height > 0 && inField(height))
      .map((height) => ({
        off: 100 * (table.relative[table.heights.indexOf(height)]! / exact(height) - 1),
        sure: 100 * Number(table.uncertainty),
      }));
  });
  return summary("illumination", "%", 1, all);
}

/** White light through the glass, by channel. */
function transmissionAgainst({ transmission }: LensProfile, truth: LensProfile): Compared {
  const white = (table: NonNullable<LensProfile["transmission"]>) =>
    apply(transmissionMatrix(monotoneCubic(table.wavelengths, table.values)), [1, 1, 1]);
  const [found, exact] = [white(transmission!), white(truth.transmission!)];
  const sure = 100 * Number(transmission!.uncertainty);
  return summary(
    "transmission",
    "%",
    1,
    found.map((value, i) => ({ off: 100 * (value / exact[i]! - 1), sure: sure })),
  );
}
function veilAgainst({ veil }: LensProfile, truth: LensProfile): Compared {
  const exact = truth.veil!.fraction;
  return summary("veil", "% of its value", 5, [
    { off: 100 * (veil!.fraction / exact - 1), sure: (100 * Number(veil!.uncertainty)) / exact },
  ]);
}

function streakAgainst({ streak }: LensProfile, truth: LensProfile): Compared[] {
  const [found, exact] = [streak!, truth.streak!];
  const channels = [0, 1, 2] as const;
  return [
    summary(
      "streak, length",
      "% of its value",
      2,
      channels.map((c) => ({ off: 100 * (found.length[c] / exact.length[c] - 1) })),
    ),
    summary(
      "streak, light",
      "% of its value",
      3,
      channels.map((c) => ({
        off: 100 * ((found.gain * found.tint[c]) / (exact.gain * exact.tint[c]) - 1),
        sure: 100 * Number(found.uncertainty),
      })),
    ),
    summary("streak, thickness", "% of its value", 5, [{ off: 100 * (found.thickness / exact.thickness - 1) }]),
    summary("streak, share in its tail", "", 0.05, [{ off: found.tail - exact.tail }]),
  ];
}

function pupilAgainst({ pupil }: LensProfile, truth: LensProfile): Compared[] {
  const [found, exact] = [pupil!, truth.pupil!];
  // A circle has no blades to count.
  const blades = (one: typeof found) => (one.roundness === 1 ? 0 : one.blades);
  return [
    summary("pupil, blades", "", 0, [{ off: blades(found) - blades(exact) }]),
    summary("pupil, roundness", "", 0.03, [{ off: found.roundness - exact.roundness }]),
    summary(
      "pupil, cat’s eye",
      "",
      0.02,
      exact.catEye!.map((share, i) => ({ off: found.catEye![i]! - share, sure: Number(found.uncertainty) })),
    ),
    summary("pupil, rim", "", 0.02, [{ off: (found.rim ?? 0) - (exact.rim ?? 0) }]),
  ];
}

/** What is measured of a lens against what it is; what was not measured is left out. */
export const lensAgainst = (measured: LensProfile, truth: LensProfile): Compared[] => [
  contrastAgainst(measured, truth),
  distortionAgainst(measured, truth),
  lateralAgainst(measured, truth),
  illuminationAgainst(measured, truth),
  ...(measured.transmission ? [transmissionAgainst(measured, truth)] : []),
  ...(measured.veil ? [veilAgainst(measured, truth)] : []),
  ...(measured.streak ? streakAgainst(measured, truth) : []),
  ...(measured.pupil ? pupilAgainst(measured, truth) : []),
];

/** Light from 2 px to a quarter of the height of what the filter's scene was shot with, degrees. */
const spreadRange = (pitch: number, height: number, focalLength: number) =>
  [2, height / 4].map((px) => (Math.atan((px * pitch) / focalLength) * 180) / Math.PI) as [number, number];

/** `pitch`: mm a pixel of the scene; `height`: px; `focalLength`: mm. */
export function filterAgainst(
  measured: FilterProfile,
  truth: FilterProfile,
  { pitch, height, focalLength }: { pitch: number; height: number; focalLength: number },
): Compared[] {
  const [from, to] = spreadRange(pitch, height, focalLength);
  const pairs = measured.grades.map((own) => [own, truth.grades.find(({ grade }) => grade === own.grade)!] as const);
  const scatter = pairs.map(([own, exact]) => {
    const passed = 1 - exact.scatter * exact.absorption;
    const share = (exact.scatter * (1 - exact.absorption)) / passed;
    return { off: 100 * (own.scatter / share - 1), sure: (100 * Number(own.uncertainty)) / share };
  });
  const through = pairs.map(([own, exact]) => {
    const stops = exact.transmissionStops + Math.log2(1 - exact.scatter * exact.absorption);
    return { off: 100 * (2 ** (own.transmissionStops - stops) - 1) };
  });
  const spread = pairs.flatMap(([own, exact]) =>
    (["red", "green", "blue"] as const).flatMap((channel) => {
      const curve = spreadCurve(exact.spread.degrees, exact.spread[channel]);
      const angles = own.spread.degrees.filter((angle) => angle >= from && angle <= to);
      const off = angles.map((angle) =>
        Math.log10(own.spread[channel][own.spread.degrees.indexOf(angle)]! / curve(angle)),
      );
      // A spread has any scale: the two are laid over one another in the middle of their logarithms.
      const level = off.reduce((sum, value) => sum + value, 0) / off.length;
      return off.map((value) => ({ off: value - level }));
    }),
  );
  return [
    summary("scatter", "% of its value", 5, scatter),
    summary("transmission", "%", 1, through),
    summary("spread", "log10", 0.1, spread),
  ];
}
