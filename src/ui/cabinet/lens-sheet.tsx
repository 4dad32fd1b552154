"use client";
import { useState } from "react";
import { distorted, distortionOf, type DistortionTable } from "@/core/profile/distortion";
import type { LensProfile } from "@/core/profile/profiles";
import { Chart, CHANNELS, type ChartSpec, INKS, laidOver, line } from "./chart";

/** Directions from the axis a distortion is drawn along. */
const DIRECTIONS = [
  ["across", 1, 0],
  ["down", 0, 1],
  ["diagonal", Math.SQRT1_2, Math.SQRT1_2],
] as const;

/** Change of the image height (mm) of an ideal point in a direction, %. */
function displaced(table: DistortionTable, height: number, x: number, y: number): number {
  if (!height) return 0;
  const at = height / table.focalLength;
  return 100 * (Math.hypot(...distorted(distortionOf(table), 1, at * x, at * y)) / at - 1);
}
/** The ink of the i-th curve of a family; the last goes on. */
const at = <T,>(list: T[], i: number) => list[Math.min(i, list.length - 1)]!;

/** The table at a stop, or the nearest there is. */
const nearest = <T extends { stop: number }>(tables: readonly T[], stop: number): T | undefined =>
  tables.toSorted((a, b) => Math.abs(Math.log(a.stop / stop)) - Math.abs(Math.log(b.stop / stop)))[0];

type Mtf = NonNullable<LensProfile["mtf"]>[number];

/** Frequencies whose contrast is drawn over the height, lp/mm: the nearest that were measured. */
const DRAWN = [10, 20, 40];

const contrastCharts = (mtf: Mtf): ChartSpec[] => [
  {
    title: "Contrast by image height",
    note: `T${mtf.stop}; ${DRAWN.join(", ")} lp/mm; dotted meridional`,
    origin: mtf.origin,
    uncertainty: mtf.uncertainty,
    x: { title: "Image height (mm)" },
    y: { title: "Contrast (%)", range: [0, 102] },
    traces: DRAWN.flatMap((f, i) => {
      const column = mtf.frequencies.indexOf(f);
      if (column < 0) return [];
      return (["sagittal", "meridional"] as const).map((direction) =>
        line(
          mtf.heights,
          mtf[direction].map((row) => 100 * row[column]!),
          `${f} lp/mm ${direction}`,
          at(INKS, i),
          direction === "sagittal" ? "solid" : "dot",
        ),
      );
    }),
  },
  {
    title: "Contrast by frequency",
    note: `T${mtf.stop}; centre, half and full field, sagittal`,
    origin: mtf.origin,
    uncertainty: mtf.uncertainty,
    x: { title: "Spatial frequency (lp/mm)" },
    y: { title: "Contrast (%)", range: [0, 102] },
    traces: [...new Set([0, mtf.heights.length >> 1, mtf.heights.length - 1])].map((row, i) =>
      line(
        mtf.frequencies,
        mtf.sagittal[row]!.map((value) => 100 * value),
        `${mtf.heights[row]} mm`,
        at(INKS, i),
      ),
    ),
  },
];

/** Everything that was measured of a lens, as charts; contrast at the stop nearest to the one wanted. */
export function lensCharts(lens: LensProfile, stop: number): ChartSpec[] {
  const mtf = nearest(lens.mtf ?? [], stop);
  const distortion = lens.distortion?.[0];
  const reach = (lens.imageCircle ?? 36) / 2;
  const heights = Array.from({ length: 40 }, (_, i) => (reach * i) / 39);
  const { illumination, transmission } = lens;
  return [
    ...(mtf ? contrastCharts(mtf) : []),
    ...(illumination?.length
      ? [
          {
            title: "Relative illumination",
            note: "each stop measured, widest brightest line",
            origin: illumination[0]!.origin,
            uncertainty: illumination[0]!.uncertainty,
            x: { title: "Image height (mm)" },
            y: { title: "Light against the axis (stops)" },
            traces: illumination.map((table, i) =>
              line(table.heights, table.relative.map(Math.log2), `${lens.name} T${table.stop}`, at(INKS, i)),
            ),
          },
        ]
      : []),
    ...(distortion
      ? [
          {
            title: "Distortion",
            note: `${distortion.focalLength} mm${distortion.model === "anamorphic" ? "; across, down and diagonal, brightest first" : ""}`,
            origin: distortion.origin,
            uncertainty: distortion.uncertainty,
            x: { title: "Image height (mm)" },
            y: { title: "Displacement (% of height)" },
            traces: DIRECTIONS.map(([name, x, y], i) =>
              line(
                heights,
                heights.map((h) => displaced(distortion, h, x, y)),
                name,
                at(INKS, i),
              ),
            ),
          },
        ]
      : []),
    ...(lens.lateralColour ?? []).slice(0, 1).map((table) => ({
      title: "Lateral colour",
      note: "against green",
      origin: table.origin,
      uncertainty: table.uncertainty,
      x: { title: "Image height (mm)" },
      y: { title: "Displacement (µm)" },
      traces: [
        line(table.heights, table.red, "red", CHANNELS.red),
        line(table.heights, table.blue, "blue", CHANNELS.blue),
      ],
    })),
    ...(transmission
      ? [
          {
            title: "Spectral transmission",
            origin: transmission.origin,
            uncertainty: transmission.uncertainty,
            x: { title: "Wavelength (nm)" },
            y: { title: "Transmission (%)", range: [0, 102] as [number, number] },
            traces: [
              line(
                transmission.wavelengths,
                transmission.values.map((value) => 100 * value),
                "transmission",
                INKS[0]!,
              ),
            ],
          },
        ]
      : []),
  ];
}

/** All that was measured of a lens, with others laid over it. */
export function LensSheet({ lens, others = [] }: { lens: LensProfile; others?: readonly LensProfile[] }) {
  const stops = [...new Set((lens.mtf ?? lens.illumination ?? []).map(({ stop }) => stop))];
  const [chosen, setStop] = useState(stops[0] ?? 0);
  const stop = stops.includes(chosen) ? chosen : (stops[0] ?? 0);
  const charts = laidOver(
    lensCharts(lens, stop),
    others.map((other) => lensCharts(other, stop)),
  );
  return (
    <>
      {stops.length > 1 && (
        <div role="group" aria-label="Stop" className="join mb-2">
          {stops.map((value) => (
            <button
              key={value}
              type="button"
              className={`btn btn-xs join-item ${value === stop ? "btn-primary" : ""}`}
              aria-pressed={value === stop}
              onClick={() => setStop(value)}
            >
              T{value}
            </button>
          ))}
        </div>
      )}
      {charts.length === 0 && <p className="text-quiet">Nothing of it is drawn: it has no tables yet.</p>}
      <div className="grid grid-cols-2 gap-3 2xl:grid-cols-3">
        {charts.map((chart) => (
          <Chart key={chart.title} {...chart} />
        ))}
      </div>
    </>
  );
}
